// SPDX-License-Identifier: GPL-3.0-or-later
// The power goes between any two writes: what was synced is there, what is there is right.
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "book/book.h"
#include "book/run_writer.h"
#include "tests/support/recording_disk.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using tests::CutDrive;
using tests::RecordingDisk;
using tests::TempFolder;

namespace {

constexpr int kColumns = 40;

double valueAt(int sweep, int column) { return 40 + 0.001 * sweep + column; }

/// So many sweeps had been promised to be on the drive when so many steps had been done.
struct Promise {
  size_t steps;
  int sweeps;
};

SourceInfo source() {
  SourceInfo info;
  info.id = "a";
  for (int c = 0; c < kColumns; ++c) {
    Reading reading;
    reading.id = "r" + std::to_string(c);
    reading.name = reading.id;
    reading.unit = "°C";
    info.readings.push_back(reading);
  }
  return info;
}

// Records sweeps in commits of eight, every tenth of them synced, long enough for blocks to be joined and the log to be
// copied into the book.
std::vector<Promise> recordOn(RecordingDisk& disk, const std::string& path, int sweeps) {
  RunInfo info;
  info.study = "s";
  info.setup = "mesh";
  info.load = "vector";
  info.intervalS = 0.1;
  auto writer = RunWriter::begin(path, info, {source()});
  REQUIRE(writer);
  writer->beginPhase(PhaseKind::Soak, 0);
  std::vector<Promise> promises = {{disk.stepCount(), 0}};
  for (int sweep = 0; sweep < sweeps; ++sweep) {
    std::vector<double> values;
    for (int c = 0; c < kColumns; ++c) values.push_back(valueAt(sweep, c));
    writer->addSweep(0, 0.1 * sweep, values);
    if (sweep % 8 != 7) continue;
    const bool isSynced = sweep % 80 == 79;
    // By turns with the commit and after it: both must hold.
    const bool withCommit = sweep % 160 == 79;
    REQUIRE(writer->commit(isSynced && withCommit));
    if (isSynced && !withCommit) REQUIRE(writer->syncLog());
    if (isSynced) promises.push_back({disk.stepCount(), sweep + 1});
  }
  REQUIRE(writer->finish(Outcome::Completed, ""));
  promises.push_back({disk.stepCount(), sweeps});
  return promises;
}

void checkWhatIsLeft(const std::string& path, int promised, bool mustBeClosed) {
  auto book = Book::open(path, BookAccess::ReadWrite);
  REQUIRE(book);
  const auto faults = book->check();
  REQUIRE(faults);
  for (const std::string& fault : *faults) FAIL(fault);
  const auto runs = book->runs();
  REQUIRE(runs->size() == 1);
  if (mustBeClosed) CHECK(runs->front().info.outcome == Outcome::Completed);
  const auto run = book->readRun(runs->front().info.id);
  const auto sweeps = static_cast<int>(run->log.timeS.size());
  CHECK(sweeps >= promised);
  // What came later may be lost, but nothing in the middle, and no value is another one.
  bool isRight = true;
  for (int sweep = 0; sweep < sweeps; ++sweep) {
    const auto row = static_cast<size_t>(sweep);
    isRight &= std::abs(run->log.timeS[row] - 0.1 * sweep) < 1e-9;
    for (int c = 0; c < kColumns; ++c)
      isRight &= run->log.channels[static_cast<size_t>(c)].values[row] == valueAt(sweep, c);
  }
  CHECK(isRight);
}

}  // namespace

TEST_CASE("aPowerCutTakesNothingThatWasSynced") {
  const TempFolder folder;
  std::vector<Promise> promises;
  std::vector<tests::DiskStep> steps;
  { REQUIRE(Book::create(folder.path("b.ashbook"))->ensurePlace("s", {"mesh"}, {"vector"})); }
  const std::string before = tests::readFile(folder.path("b.ashbook"));
  {
    RecordingDisk disk;
    promises = recordOn(disk, folder.path("b.ashbook"), 5000);
    steps = disk.steps();
  }
  size_t syncs = 0, bookWrites = 0;
  for (const tests::DiskStep& step : steps) {
    syncs += step.kind == tests::DiskStep::Kind::Sync;
    bookWrites += step.kind == tests::DiskStep::Kind::Write && step.file.ends_with(".ashbook");
  }
  CHECK(syncs > 60);
  CHECK(bookWrites > 500);  // the log was copied into the book while it was written

  std::mt19937 random(11);
  std::vector<size_t> cuts;
  for (int i = 0; i < 120; ++i) cuts.push_back(promises[0].steps + random() % (steps.size() - promises[0].steps));
  for (size_t i = 0; i < promises.size(); i += 7) cuts.push_back(promises[i].steps);
  cuts.push_back(steps.size());
  std::sort(cuts.begin(), cuts.end());

  CutDrive drive(steps, {{folder.path("b.ashbook"), before}});
  for (const size_t cut : cuts) {
    const TempFolder after;
    drive.cutAt(cut, after.path(), random);
    int promised = 0;
    for (const Promise& promise : promises) {
      if (promise.steps <= cut) promised = promise.sweeps;
    }
    INFO("cut after step " << cut << " of " << steps.size() << ", " << promised << " sweeps promised");
    checkWhatIsLeft(after.path("b.ashbook"), promised, cut >= promises.back().steps);
  }
}

TEST_CASE("aBookIsThereWholeOrNotAtAll") {
  const TempFolder folder;
  {
    // The drive fails somewhere while the book is made: nothing of it is left behind.
    for (const long long spaceB : {0LL, 5'000LL, 40'000LL, 90'000LL}) {
      RecordingDisk disk;
      disk.spaceB = spaceB;
      INFO(spaceB);
      CHECK_FALSE(Book::create(folder.path("b.ashbook")));
      CHECK(std::filesystem::is_empty(folder.path()));
    }
  }
  // An empty file of that name is no book yet, and becomes one.
  folder.write("b.ashbook", "");
  REQUIRE(Book::openOrCreate(folder.path("b.ashbook")));
  CHECK(Book::open(folder.path("b.ashbook"), BookAccess::ReadOnly)->check()->empty());
  CHECK_FALSE(Book::create(folder.path("b.ashbook")));
}

TEST_CASE("aVoidThatWasSaidSurvivesThePowerCut") {
  const TempFolder folder;
  const std::string path = folder.path("b.ashbook");
  REQUIRE(Book::create(path)->ensurePlace("s", {"mesh"}, {"vector"}));
  RunInfo info;
  info.study = "s";
  info.setup = "mesh";
  info.load = "vector";
  {
    auto writer = RunWriter::begin(path, info, {source()});
    REQUIRE(writer->finish(Outcome::Completed, ""));
  }
  const std::string before = tests::readFile(path);
  std::vector<tests::DiskStep> steps;
  size_t saidAt = 0, takenBackAt = 0;
  {
    RecordingDisk disk;
    auto book = Book::open(path, BookAccess::ReadWrite);
    REQUIRE(book->voidRun(info.id, "cable"));
    saidAt = disk.stepCount();
    REQUIRE(book->restoreRun(info.id));
    takenBackAt = disk.stepCount();
    steps = disk.steps();
  }
  std::mt19937 random(5);
  CutDrive drive(steps, {{path, before}});
  for (const auto& [cut, outcome] : {std::pair{saidAt, Outcome::Void}, std::pair{takenBackAt, Outcome::Completed}}) {
    for (int round = 0; round < 20; ++round) {
      const TempFolder after;
      drive.cutAt(cut, after.path(), random);
      auto book = Book::open(after.path("b.ashbook"), BookAccess::ReadWrite);
      REQUIRE(book);
      CHECK(book->run(info.id)->info.outcome == outcome);
    }
  }
}
