// SPDX-License-Identifier: GPL-3.0-or-later
// Setups of other studies and books beside a study: found, worked out anew, held against its reference, never ranked.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "book/run_import.h"
#include "book/run_places.h"
#include "report/page_blocks.h"
#include "report/study/study_report.h"
#include "tests/support/made_reading.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct MadeRun {
  std::string study, setup, load = "vector";
  double overRoomK = 40;
  Json bench = Json::object();
  std::string phases = "idle 1min, soak 15min, cool 1min";
};

// A run in a room of 22 °C that warms up to so many kelvin over it; its id.
std::string addRun(const std::string& path, const MadeRun& made) {
  REQUIRE(Book::openOrCreate(path));
  RunInfo info;
  info.study = made.study;
  info.setup = made.setup;
  info.load = made.load;
  info.bench = made.bench;
  info.procedure = *parsePhases(made.phases);
  auto run = RunImport::begin(
      path, info, {{"made", {readingCalled("cpu.temp"), readingCalled("cpu.power"), readingCalled("room.temp")}, 0}});
  REQUIRE(run);
  bool isKept = true;
  for (int t = 0; t < 1200; ++t) {
    const bool isLoaded = t >= 120;
    const double over = isLoaded ? made.overRoomK * (1 - std::exp(-(t - 120) / 60.0)) : 0;
    isKept &= run->addSweep(0, t, {22 + over + 0.05 * (t % 3), isLoaded ? 88.0 : 9.0, 22}).operator bool();
  }
  REQUIRE(isKept);
  REQUIRE(run->finish(info.started, 1, Outcome::TakenIn));
  return info.id;
}

void alsoShow(const std::string& path, const std::string& study, const AlsoShown& also) {
  auto book = Book::open(path, BookAccess::ReadWrite);
  Study before = *book->study(study), after = before;
  StudyPlan plan = planFromJson(after.plan);
  plan.alsoShown.push_back(also);
  after.plan = planToJson(plan);
  REQUIRE(book->putStudy(before, after));
}

StudyReport reportOf(const std::string& path, const std::string& study) {
  auto report = gatherStudy(*Book::open(path, BookAccess::ReadOnly), study);
  REQUIRE(report);
  return std::move(*report);
}

}  // namespace

TEST_CASE("aSetupOfAnotherStudyStandsBesideAndIsNotRanked") {
  const TempFolder folder;
  const std::string book = folder.path("b.ashbook");
  addRun(book, {.study = "panels", .setup = "Solid", .overRoomK = 50});
  addRun(book, {.study = "panels", .setup = "Mesh", .overRoomK = 40});
  addRun(book, {.study = "coolers", .setup = "Mesh", .overRoomK = 30});
  addRun(book, {.study = "coolers", .setup = "Mesh", .overRoomK = 30.5});
  addRun(book, {.study = "coolers", .setup = "Mesh", .load = "graphics", .overRoomK = 20});
  alsoShow(book, "panels", {"", "coolers", "Mesh", ""});
  const StudyReport report = reportOf(book, "panels");
  REQUIRE(report.loads.size() == 1);
  CHECK(report.loads[0].comparison.rows.size() == 2);
  REQUIRE(report.earlier.size() == 1);
  CHECK(report.earlier[0].label == "Mesh of coolers");
  CHECK(report.earlier[0].runs.size() == 3);
  REQUIRE(report.loads[0].earlier.size() == 1);
  const EarlierRow& earlier = report.loads[0].earlier[0];
  CHECK(earlier.row.repeats == 2);  // those under this load
  const MetricRow& figure = earlier.row.metrics.at("cpu.over_ambient_k");
  CHECK(figure.value == Approx(30.25).margin(0.2));
  CHECK(figure.difference == Approx(30.25 - 50).margin(0.3));
  CHECK(earlier.isLikeForLike());
  const std::string page = htmlPage(report);
  CHECK(page.find("Beside earlier work") != std::string::npos);
  CHECK(page.find("Mesh of coolers") != std::string::npos);
}

TEST_CASE("whatIsNotLikeForLikeIsSaidOfEarlierWork") {
  const TempFolder folder;
  const std::string book = folder.path("b.ashbook");
  addRun(book, {.study = "panels", .setup = "Solid", .bench = {{"kind", "machine"}}});
  addRun(book, {.study = "old", .setup = "Simulated", .bench = {{"kind", kSimulatedBench}, {"name", "larch12"}}});
  addRun(
      book,
      {.study = "old", .setup = "Short", .bench = {{"kind", "machine"}}, .phases = "idle 1min, soak 5min, cool 1min"});
  alsoShow(book, "panels", {"", "old", "Simulated", ""});
  alsoShow(book, "panels", {"", "old", "Short", ""});
  const StudyReport report = reportOf(book, "panels");
  REQUIRE(report.loads[0].earlier.size() == 2);
  const auto hasCheck = [](const EarlierRow& row, CheckKind kind) {
    return std::any_of(row.checks.begin(), row.checks.end(),
                       [&](const ComparisonCheck& check) { return check.kind == kind; });
  };
  CHECK(hasCheck(report.loads[0].earlier[0], CheckKind::Bench));
  CHECK_FALSE(report.loads[0].earlier[0].isLikeForLike());
  CHECK_FALSE(hasCheck(report.loads[0].earlier[0], CheckKind::Procedure));
  CHECK(hasCheck(report.loads[0].earlier[1], CheckKind::Procedure));
  CHECK_FALSE(hasCheck(report.loads[0].earlier[1], CheckKind::Bench));
}

TEST_CASE("aBookThatWasMovedIsKnownAgainByItsRun") {
  const TempFolder folder;
  const std::string book = folder.path("b.ashbook"), other = folder.path("last-year.ashbook");
  addRun(book, {.study = "panels", .setup = "Solid", .overRoomK = 50});
  const std::string run = addRun(other, {.study = "old", .setup = "Copper", .overRoomK = 44});
  addRun(folder.path("a-third.ashbook"), {.study = "old", .setup = "Copper", .overRoomK = 10});
  alsoShow(book, "panels", {"last-year.ashbook", "old", "Copper", run});
  CHECK(reportOf(book, "panels").earlier[0].label == "Copper of old, last-year");
  CHECK(reportOf(book, "panels").earlier[0].runs.size() == 1);
  std::filesystem::rename(other, folder.path("2025.ashbook"));
  const StudyReport moved = reportOf(book, "panels");
  REQUIRE(moved.earlier[0].runs.size() == 1);
  CHECK(moved.loads[0].earlier[0].row.metrics.at("cpu.over_ambient_k").value == Approx(44).margin(0.3));
  // Another book that has taken its name is not taken for it.
  addRun(other, {.study = "old", .setup = "Copper", .overRoomK = 12});
  CHECK(reportOf(book, "panels").loads[0].earlier[0].row.metrics.at("cpu.over_ambient_k").value ==
        Approx(44).margin(0.3));
  std::filesystem::remove(other);
  std::filesystem::remove(folder.path("2025.ashbook"));
  const StudyReport gone = reportOf(book, "panels");
  CHECK(gone.earlier[0].runs.empty());
  CHECK(gone.earlier[0].problem.find("last-year.ashbook") != std::string::npos);
  CHECK(gone.loads[0].earlier.empty());
  CHECK(htmlPage(gone).find(gone.earlier[0].problem.substr(0, 20)) != std::string::npos);
}

TEST_CASE("runsAreNamedByIdOrByStudyAndSetup") {
  const TempFolder folder;
  const std::string path = folder.path("b.ashbook");
  const std::string first = addRun(path, {.study = "a/b", .setup = "c"}),
                    second = addRun(path, {.study = "a/b", .setup = "c"});
  const std::string voided = addRun(path, {.study = "a/b", .setup = "c"});
  auto book = Book::open(path, BookAccess::ReadWrite);
  REQUIRE(book->voidRun(voided, "left a cable in the fan"));
  CHECK(runsNamed(*book, first)->front().info.id == first);
  CHECK(runsNamed(*book, voided)->size() == 1);  // asked for by name
  const auto both = runsNamed(*book, "a/b/c");
  REQUIRE(both);
  CHECK(both->size() == 2);
  const auto none = runsNamed(*book, "a/c");
  REQUIRE_FALSE(none);
  CHECK(none.error().message.find("\"a/b/c\"") != std::string::npos);
  CHECK(splitRunPlace("x y.ashbook#a/b").book == "x y.ashbook");
  CHECK(splitRunPlace("x y.ashbook#a/b").what == "a/b");
  CHECK(splitRunPlace("r#1").book.empty());
}
