// SPDX-License-Identifier: GPL-3.0-or-later
// Processes that hang, clocks that jump, machines with very many readings, books from strangers.
#include <sqlite3.h>
#include <sys/resource.h>
#include <sys/stat.h>

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <cmath>

#include "book/book.h"
#include "load/activity.h"
#include "model/json.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

const std::vector<std::string> kSoak = {"run",     "--book",     "b.ashbook", "--study",  "s",
                                        "--setup", "x",          "--root",    "root",     "--threads",
                                        "1",       "--interval", "0.1",       "--phases", "soak 60s"};

void plainMachine(const Bench& bench) { bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n"); }

void sql(const Bench& bench, const std::string& statement) {
  sqlite3* database = nullptr;
  REQUIRE(sqlite3_open(bench.path("b.ashbook").c_str(), &database) == SQLITE_OK);
  char* error = nullptr;
  sqlite3_exec(database, statement.c_str(), nullptr, nullptr, &error);
  const std::string told = error == nullptr ? "" : error;
  sqlite3_close(database);
  REQUIRE(told.empty());
}

std::string small() {
  return "run --book b.ashbook --study s --setup mesh --sim larch12 --speed 100000 --phases 'idle 5s, soak 20s' ";
}

RunLog onlyRun(const Bench& bench) {
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto runs = book->runs();
  REQUIRE(runs->size() == 1);
  return *book->readRun(runs->front().info.id);
}

bool hasProblem(const RunLog& run, const std::string& text) {
  for (const Problem& problem : run.log.problems) {
    if (problem.text.find(text) != std::string::npos) return true;
  }
  return false;
}

}  // namespace

TEST_CASE("aLoadEndsWhenItsRecorderStandsStill") {
  const Bench bench;
  plainMachine(bench);
  const pid_t recorder = bench.start(kSoak);
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const int load = activeLoads()[0].pid;
  kill(recorder, SIGSTOP);
  const double stoppedS = monotonicS();
  CHECK(Bench::waitUntil([&] { return !isRunning(load); }, 2));
  INFO("the load was gone after " << monotonicS() - stoppedS << " s");
  CHECK(monotonicS() - stoppedS < 1.5);
  kill(recorder, SIGCONT);
  CHECK(Bench::wait(recorder, 5) == 1);
  const RunLog run = onlyRun(bench);
  CHECK(run.facts.outcome == Outcome::LoadFailed);
  CHECK(run.facts.reason == "The load ended itself: its recorder stood still for 0.6 s.");
}

TEST_CASE("aLoadThatStandsStillIsEndedAndToldOf") {
  const Bench bench;
  plainMachine(bench);
  const pid_t recorder = bench.start(kSoak);
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const int load = activeLoads()[0].pid;
  kill(load, SIGSTOP);
  CHECK(Bench::wait(recorder, 10) == 1);
  CHECK(stateOf({onlyRun(bench).facts.machine["boot_id"], load, 0}) != ProcessState::Alive);
  CHECK(onlyRun(bench).facts.reason == "The load stopped working: it told nothing for 3 s and was ended.");
}

TEST_CASE("aLoadIsTheFirstToGoWhenMemoryRunsOutAndLetsItsRecorderPass") {
  setpriority(PRIO_PROCESS, 0, 3);  // a recorder that somebody was nice with is below others itself
  const Bench bench;
  plainMachine(bench);
  const pid_t recorder = bench.start(kSoak);
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const std::string load = "/proc/" + std::to_string(activeLoads()[0].pid);
  CHECK(Bench::waitUntil([&] { return tests::readFile(load + "/oom_score_adj") == "1000\n"; }, 2));
  // Field 19 of /proc/PID/stat is the nice value, proc(5).
  const auto nice = [](const std::string& process) {
    std::istringstream fields(
        tests::readFile(process + "/stat").substr(tests::readFile(process + "/stat").rfind(')') + 1));
    std::string field;
    for (int i = 3; i <= 19; ++i) fields >> field;
    return std::stoi(field);
  };
  CHECK(nice(load) > nice("/proc/" + std::to_string(recorder)));
  kill(recorder, SIGTERM);
  CHECK(Bench::wait(recorder, 5) == 0);
}

TEST_CASE("aSecondRecorderOnAMachineIsRefusedUnlessTold") {
  const Bench bench;
  plainMachine(bench);
  const pid_t recorder = bench.start(kSoak);
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const std::string second = "run --book c.ashbook --study s --setup y --root root --threads 1 --phases 'idle 300ms'";
  const Ran refused = bench.ashg(second);
  CHECK(refused.status == 3);
  CHECK(refused.err.find("ashg: Another recording (of s / x, process " + std::to_string(recorder) +
                         ") is at work on this machine") == 0);
  CHECK_FALSE(std::filesystem::exists(bench.path("c.ashbook")));
  CHECK(bench.ashg(second + " --beside-others").status == 0);
  // Another machine (here: another tree) is free, and this one is when the recorder is gone, however it went.
  bench.write("other/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
  CHECK(bench.ashg("run --book c.ashbook --study s --setup z --root other --phases 'idle 300ms'").status == 0);
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 5);
  CHECK(bench.ashg(second).status == 0);
}

TEST_CASE("fourRecordersMakeOneBookAndWriteIntoIt") {
  const Bench bench;
  std::vector<pid_t> recorders;
  for (const char* setup : {"solid", "mesh", "filter", "none"}) {
    recorders.push_back(bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", setup, "--sim", "larch12",
                                     "--speed", "60", "--phases", "idle 30s, soak 2min"}));
  }
  for (const pid_t recorder : recorders) CHECK(Bench::wait(recorder, 60) == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  CHECK(book->check()->empty());
  const auto runs = book->runs();
  REQUIRE(runs->size() == 4);
  for (const RunSummary& run : *runs) {
    CHECK(run.info.outcome == Outcome::Completed);
    CHECK(run.sampleCount == 300);
  }
}

TEST_CASE("theWallClockMayGoBackAnHour") {
  const Bench bench;
  plainMachine(bench);
  const Ran ran = bench.ashg(
      "run --book b.ashbook --study s --setup x --root root --threads 1 --interval 0.1 --phases 'idle 1s, soak 3s'",
      std::string("LD_PRELOAD=") + CLOCK_SHIFT + " ASH_CLOCK_SHIFT='realtime -3600 1'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const RunLog run = onlyRun(bench);
  CHECK(run.log.timeS.back() == Approx(3.9).margin(0.2));
  CHECK_FALSE(hasProblem(run, "slept"));
  CHECK(bench.ashg("book check b.ashbook").out == "sound\n");
}

TEST_CASE("tenMinutesOfSleepAreAGapAndNoLoad") {
  const Bench bench;
  plainMachine(bench);
  const double startS = monotonicS();
  const Ran ran =
      bench.ashg("run --book b.ashbook --study s --setup x --root root --threads 1 --interval 0.1 --phases 'soak 4s'",
                 std::string("LD_PRELOAD=") + CLOCK_SHIFT + " ASH_CLOCK_SHIFT='boottime 600 2'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  CHECK(monotonicS() - startS > 3.5);  // the soak had its four seconds awake
  const RunLog run = onlyRun(bench);
  CHECK(run.log.timeS.back() == Approx(603.9).margin(0.3));
  CHECK(hasProblem(run, "The machine slept for 10 min; nothing was recorded meanwhile."));
}

TEST_CASE("twoThousandReadingsTenTimesASecond") {
  const Bench bench;
  plainMachine(bench);
  for (int chip = 0; chip < 40; ++chip) {
    const std::string at = "root/sys/class/hwmon/hwmon" + std::to_string(chip) + "/";
    bench.write(at + "name", "board\n");
    for (int n = 1; n <= 50; ++n)
      bench.write(at + "temp" + std::to_string(n) + "_input", std::to_string(20000 + 100 * n + chip) + "\n");
  }
  const Ran ran =
      bench.ashg("run --book b.ashbook --study s --setup x --root root --threads 1 --interval 0.1 --phases 'soak 3s'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  const RunLog run = onlyRun(bench);
  CHECK(run.log.channels.size() > 2000);
  CHECK_FALSE(hasProblem(run, "lost"));
  // 30 beats of 2,000 readings; a busy machine misses some, and a chip that it holds up goes on at its own beat. But a
  // row has a chip whole or not at all: which chip a value is of stands in its last two digits.
  long long values = 0, torn = 0;
  for (size_t row = 0; row < run.log.timeS.size(); ++row) {
    std::array<int, 40> ofChip{};
    for (const Channel& channel : run.log.channels) {
      const double value = channel.values[row];
      if (channel.quantity != Quantity::Temperature || std::isnan(value)) continue;
      ++ofChip.at(static_cast<size_t>(std::lround(value * 1000) % 100));
      ++values;
    }
    torn += std::count_if(ofChip.begin(), ofChip.end(), [](int count) { return count != 0 && count != 50; });
  }
  CHECK(torn == 0);
  CHECK(values >= 2000 * 5);
  for (size_t i = 1; i < run.log.timeS.size(); ++i) CHECK(run.log.timeS[i] > run.log.timeS[i - 1]);
}

TEST_CASE("aBookOfANewerVersionIsReadAndNotWritten") {
  const Bench bench;
  REQUIRE(bench.ashg(small()).status == 0);
  sql(bench, "PRAGMA user_version = 7");
  const Ran info = bench.ashg("book info b.ashbook");
  CHECK(info.status == 0);
  CHECK(info.err ==
        "b.ashbook was written by a newer version (format 7, this one knows 3): it is opened for reading only.\n");
  CHECK(info.out.find("mesh") != std::string::npos);
  const Ran written = bench.ashg(small());
  CHECK(written.status == 2);
  CHECK(written.err.find("Use that version to write into it.") != std::string::npos);
  const auto forWork = Book::openForWork(bench.path("b.ashbook"));
  REQUIRE(forWork);
  CHECK_FALSE(forWork->canWrite());
  CHECK(forWork->notice().find("written by a newer version") != std::string::npos);
}

TEST_CASE("aStrangersBookRunsNothing") {
  const Bench bench;
  REQUIRE(bench.ashg(small()).status == 0);
  // A trigger would run at the next event; a view would run whenever it is read.
  sql(bench, "CREATE TRIGGER t AFTER INSERT ON event BEGIN DELETE FROM run; END");
  const Ran info = bench.ashg("book info b.ashbook");
  CHECK(info.status == 2);
  CHECK(info.err == "ashg: b.ashbook has a part that this program never makes, so it is not opened.\n");
  CHECK(bench.ashg(small()).status == 2);
  sql(bench, "DROP TRIGGER t; CREATE VIEW v AS SELECT 1");
  CHECK(bench.ashg("book check b.ashbook").status == 2);
}

TEST_CASE("namesFromAStrangerReachNoPathAndNoTerminal") {
  const Bench bench;
  REQUIRE(bench.ashg(small()).status == 0);
  sql(bench, "UPDATE study SET name = 'a' || char(27) || ']0;owned' || char(7) || 'b'");
  sql(bench, "UPDATE run SET outcome = 'running', recorder_boot = 'x', id = '../../../tmp/evil'");
  sql(bench, "UPDATE block SET run = '../../../tmp/evil'; UPDATE event SET run = '../../../tmp/evil'");
  const Ran info = bench.ashg("book info b.ashbook");
  CHECK(info.status == 0);
  CHECK(info.out.find('\x1b') == std::string::npos);
  CHECK(info.out.find("a ]0;owned b") != std::string::npos);
  CHECK(bench.ashg("stop ../../../tmp/evil").status == 2);
  CHECK(bench.ashg("book recover b.ashbook").status == 0);
  CHECK(bench.ashg("run --run-id ../x --book c.ashbook --study s --setup x --sim larch12").status == 2);
}

TEST_CASE("whatIsNoFileIsNoBook") {
  const Bench bench;
  for (const char* path : {"/dev/null", "/dev/zero", "/dev", "run"}) {
    INFO(path);
    const Ran ran = bench.ashg(std::string("book info ") + path);
    CHECK(ran.status == 2);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  }
  REQUIRE(mkfifo(bench.path("pipe").c_str(), 0600) == 0);
  CHECK(bench.ashg("book info pipe").err == "ashg: pipe is no file, and so no book.\n");
}

TEST_CASE("aDamagedBookIsSavedBesideItself") {
  const Bench bench;
  REQUIRE(bench.ashg(small()).status == 0);
  {
    std::fstream file(bench.path("b.ashbook"), std::ios::in | std::ios::out | std::ios::binary);
    file.seekp(100);
    file << std::string(2000, '\x55');
  }
  const std::string before = tests::readFile(bench.path("b.ashbook"));
  const Ran recovered = bench.ashg("book recover b.ashbook");
  INFO(recovered.out << recovered.err);
  CHECK(recovered.status == 0);
  CHECK(recovered.out.find("b.ashbook is damaged. What can be read of it is in b-saved.ashbook: 1 studies, 1 setups, 1 "
                           "loads, 1 runs") == 0);
  CHECK(bench.ashg("book check b-saved.ashbook").out == "sound\n");
  CHECK(tests::readFile(bench.path("b.ashbook")) == before);
}

TEST_CASE("recoverShowsTheLastMinuteOfAKilledRun") {
  const Bench bench;
  const pid_t recorder = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "mesh", "--sim",
                                      "larch12", "--speed", "100", "--phases", "idle 10s, soak 1h"});
  REQUIRE(Bench::waitUntil(
      [&] {
        const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
        if (!book) return false;
        const auto runs = book->runs();
        return runs && !runs->empty() && runs->front().lastSampleS > 90;
      },
      20));
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 5);
  const Ran told = bench.ashg("book recover b.ashbook --json");
  CHECK(told.status == 0);
  const Json closed = Json::parse(told.out)["closed"][0];
  CHECK(closed["outcome"] == "recorder died");
  CHECK(closed["reason"].get<std::string>().find("The recorder (process " + std::to_string(recorder) +
                                                 ") was killed") == 0);
  const Json& times = closed["last_minute"]["time_s"];
  CHECK(times.back().get<double>() == Approx(closed["last_sample_s"].get<double>()));
  CHECK(times.back().get<double>() - times.front().get<double>() <= 60);
  CHECK(times.size() > 100);
  CHECK(closed["last_minute"]["readings"]["cpu.temp"].size() == times.size());
  const Ran again = bench.ashg("book recover b.ashbook");
  CHECK(again.err == "No run was interrupted.\n");
}

TEST_CASE("aDayAndAHalfOfSoakingTakesNoMoreMemoryThanHalfADay") {
  const Bench bench;
  const pid_t recorder = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "mesh", "--sim",
                                      "larch12", "--speed", "24000", "--interval", "1", "--phases", "soak 48h"});
  const auto lastSampleS = [&] {
    const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
    const auto runs = book ? book->runs() : Result<std::vector<RunSummary>>(book.error());
    return runs && !runs->empty() ? runs->front().lastSampleS : 0;
  };
  // Resident pages, the second number of /proc/PID/statm, proc(5).
  const auto residentMb = [&] {
    std::istringstream fields(tests::readFile("/proc/" + std::to_string(recorder) + "/statm"));
    double size = 0, resident = 0;
    fields >> size >> resident;
    return resident * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1e6;
  };
  REQUIRE(Bench::waitUntil([&] { return lastSampleS() > 14 * 3600; }, 120));
  const double earlyMb = residentMb();
  REQUIRE(Bench::waitUntil([&] { return lastSampleS() > 36 * 3600; }, 150));
  const double lateMb = residentMb();
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 5);
  INFO(earlyMb << " MB after 14 hours, " << lateMb << " MB after 36");
  CHECK(earlyMb > 1);
  // 22 hours more are 79,200 samples of 20 readings: 13 MB if they were kept.
  CHECK(lateMb - earlyMb < 6);
}
