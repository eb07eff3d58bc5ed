// SPDX-License-Identifier: GPL-3.0-or-later
// Knobs from the command line, turned by a run, and put back whatever becomes of it.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "book/book.h"
#include "tests/support/knob_bench.h"

using namespace ash;
using namespace ash::tests;

namespace {

const std::string kRun =
    "run --book b.ashbook --study s --setup x --root root --load integer --threads 1 --interval 0.1 "
    "--unwatched 'a test' --run-id ";

}  // namespace

TEST_CASE("aKnobIsSetOnAStandInMachineAndRestored") {
  const KnobBench bench;
  const double before = *bench.value("cpu.power.limit");
  const Ran set = bench.ashg("set cpu.power.limit 45 --root root");
  INFO(set.err);
  CHECK(set.status == 0);
  CHECK(set.out == "cpu.power.limit: 45 W; `ashg restore` puts it back\n");
  CHECK(bench.comesTo("cpu.power.limit", 45));
  // Its firmware has limits that it does not tell: read back, and said. The exit code says that it is not as asked.
  // On a busy machine it may take longer than it is looked at.
  Ran low;
  Bench::waitUntil(
      [&] {
        low = bench.ashg("set cpu.power.limit 1 --root root");
        return low.status == 1 && low.out.find("asked 1 W, got 3 W") != std::string::npos;
      },
      20);
  INFO(low.out);
  CHECK(low.status == 1);
  CHECK(low.out.find("asked 1 W, got 3 W") != std::string::npos);
  CHECK(bench.ashg("set cpu.power.limit lots --root root").status == 2);
  CHECK(bench.ashg("set nothing 1 --root root").err.find("ashg knobs") != std::string::npos);
  CHECK(bench.ashg("restore --root root").out == "All is as it was before it was turned.\n");
  CHECK(bench.comesTo("cpu.power.limit", before));
  CHECK(bench.ashg("restore --root root").out == "Nothing was turned.\n");
}

TEST_CASE("aRunTurnsItsKnobsTellsThemAndPutsThemBack") {
  const KnobBench bench;
  const double before = *bench.value("cpu.power.limit");
  const Ran ran =
      bench.ashg(kRun + "r1 --phases 'idle 1s, set cpu.power.limit 45, soak 3s, set cpu.power.limit 60, soak 2s'");
  INFO(ran.err);
  REQUIRE(ran.status == 0);
  CHECK(bench.comesTo("cpu.power.limit", before));
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("r1");
  REQUIRE(kept);
  std::vector<std::string> told;
  std::vector<double> setAtS;
  for (const Event& event : kept->facts.events) {
    if (event.kind != EventKind::Setting || !event.extra.contains("knob")) continue;
    told.push_back(event.text);
    setAtS.push_back(event.atS);
  }
  CHECK(told == std::vector<std::string>{"cpu.power.limit: 45 W.", "cpu.power.limit: 60 W."});
  // The limit is a reading, too: it was what was asked from one setting to the next. A sweep of a busy machine reads up
  // to one pass later than its time says.
  constexpr double kOnePassS = 0.7;
  const Channel* limit = kept->log.find("cpu.power.limit");
  REQUIRE(limit != nullptr);
  REQUIRE(kept->facts.phases.size() == 3);
  int told45 = 0;
  int told60 = 0;
  for (size_t i = 0; i < kept->log.timeS.size(); ++i) {
    const double t = kept->log.timeS[i];
    // A busy machine may miss a sweep.
    if (!std::isfinite(limit->values[i])) continue;
    const bool first = t > setAtS[0] + kOnePassS && t < setAtS[1] - kOnePassS;
    const bool second = t > setAtS[1] + kOnePassS;
    told45 += first;
    told60 += second;
    if (first) CHECK(limit->values[i] == 45);
    if (second) CHECK(limit->values[i] == 60);
  }
  CHECK(told45 > 0);
  CHECK(told60 > 0);
  // What cannot be is said before anything begins.
  const Ran refused = bench.ashg(kRun + "r2 --phases 'set cpu.governor sleepy, soak 2s'");
  CHECK(refused.status == 2);
  CHECK(bench.ashg("book info b.ashbook --json").out.find("r2") == std::string::npos);
}

TEST_CASE("killedRecordersLeaveNoKnobTurned") {
  const KnobBench bench;
  const double before = *bench.value("cpu.power.limit");
  std::mt19937 random(11);
  for (int round = 0; round < 6; ++round) {
    INFO("round " << round);
    const pid_t recorder =
        bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--root", "root", "--load",
                     "integer", "--threads", "1", "--interval", "0.1", "--unwatched", "a test", "--phases",
                     "set cpu.power.limit 45, idle 300ms, 20 x (set cpu.power.limit 50, idle 100ms, set "
                     "cpu.power.limit 55, idle 100ms)"});
    std::this_thread::sleep_for(std::chrono::milliseconds(200 + random() % 1500));
    kill(recorder, SIGKILL);
    Bench::wait(recorder, 5);
    CHECK(bench.ashg("restore --root root").status == 0);
    CHECK(bench.comesTo("cpu.power.limit", before));
  }
  // The next run does the same by itself, and says so.
  const pid_t recorder = bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--root", "root",
                                      "--unwatched", "a test", "--phases", "set cpu.power.limit 40, idle 1min"});
  REQUIRE(bench.comesTo("cpu.power.limit", 40));
  kill(recorder, SIGKILL);
  Bench::wait(recorder, 5);
  const Ran next = bench.ashg(kRun + "r9 --phases 'idle 1s'");
  CHECK(next.err.find("What an earlier run had left turned was put back: cpu.power.limit.") != std::string::npos);
  CHECK(bench.comesTo("cpu.power.limit", before));
  // What a person has set is followed, and stays.
  CHECK(bench.ashg("set cpu.power.limit 40 --root root").status == 0);
  CHECK(bench.ashg(kRun + "r10 --phases 'idle 500ms, set cpu.power.limit 50, idle 500ms'").status == 0);
  CHECK(bench.comesTo("cpu.power.limit", 40));
  CHECK(bench.ashg("restore --root root").status == 0);
  CHECK(bench.comesTo("cpu.power.limit", before));
}

// Each of them is looked at for 0.3 s; a load that hears nothing for 0.6 s ends itself.
TEST_CASE("severalKnobsTurnedUnderLoadLeaveTheLoadAlone") {
  const KnobBench bench;
  const Ran ran =
      bench.ashg(kRun +
                 "r1 --phases 'soak 2s, set cpu.power.limit 50, set cpu.clock.most 3000, set cpu.power.limit "
                 "45, set cpu.clock.most 2500, soak 2s'");
  INFO(ran.err);
  CHECK(ran.status == 0);
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->run("r1");
  REQUIRE(kept);
  CHECK(kept->info.outcome == Outcome::Completed);
}

TEST_CASE("fansGoBackByThemselvesWhenARunGetsTooHot") {
  const Bench bench;
  setenv("XDG_STATE_HOME", bench.path("state").c_str(), 1);
  const std::string chip = "root/sys/class/hwmon/hwmon0/";
  for (const auto& [name, text] :
       {std::pair("name", "k10temp"), std::pair("temp1_input", "45000"), std::pair("temp1_label", "Tctl"),
        std::pair("temp1_crit", "100000"), std::pair("fan1_input", "900"), std::pair("pwm1", "150"),
        std::pair("pwm1_enable", "2")})
    bench.write(chip + name, std::string(text) + "\n");
  const auto stands = [&](const std::string& file) {
    std::string text = readFile(bench.path(chip + file));
    while (text.ends_with('\n')) text.pop_back();
    return text;
  };
  const Json all = Json::parse(bench.ashg("knobs --root root --json").out);
  std::string duty;
  for (const Json& knob : all["knobs"]) {
    if (knob["id"].get<std::string>().ends_with(".duty")) duty = knob["id"];
  }
  REQUIRE_FALSE(duty.empty());
  const pid_t recorder = bench.start(
      {"run",    "--book",      "b.ashbook", "--study",  "s",         "--setup",  "x",
       "--root", "root",        "--load",    "integer",  "--threads", "1",        "--interval",
       "0.1",    "--unwatched", "a test",    "--run-id", "hot",       "--phases", "set " + duty + " 20, idle 1min"});
  REQUIRE(Bench::waitUntil([&] { return stands("pwm1_enable") == "1" && stands("pwm1") == "51"; }, 20));
  bench.write(chip + "temp1_input", "96500\n");
  // While the run goes on.
  CHECK(Bench::waitUntil([&] { return stands("pwm1_enable") == "2"; }, 10));
  CHECK(bench.ashg("stop hot").status == 0);
  Bench::wait(recorder, 10);
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("hot");
  REQUIRE(kept);
  const auto& problems = kept->log.problems;
  CHECK(std::any_of(problems.begin(), problems.end(), [](const Problem& one) {
    return one.text.starts_with("Fans went back to what drives them: ") &&
           one.text.find("3.5 K below its critical limit") != std::string::npos;
  }));
}

TEST_CASE("aBooksProcedureIsConfirmedWhateverItsName") {
  const KnobBench bench;
  // A stranger's "air" goes before the one that ships, and turns something.
  CHECK(bench.ashg("procedure put air 'set cpu.power.limit 20, soak 2s' --book b.ashbook").status == 0);
  setenv("XDG_CONFIG_HOME", bench.path("stranger").c_str(), 1);
  const Ran refused = bench.ashg(kRun + "r1 --procedure air");
  unsetenv("XDG_CONFIG_HOME");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("nobody has confirmed") != std::string::npos);
}

TEST_CASE("aBookFromElsewhereTurnsNothingUnasked") {
  const KnobBench bench;
  CHECK(bench.ashg("procedure put turns 'set cpu.power.limit 20, soak 2s' --book b.ashbook").status == 0);
  // Who typed it has seen it; somebody else has not.
  CHECK(bench.ashg(kRun + "r0 --procedure turns").status == 0);
  setenv("XDG_CONFIG_HOME", bench.path("stranger").c_str(), 1);
  const Ran refused = bench.ashg(kRun + "r1 --procedure turns");
  unsetenv("XDG_CONFIG_HOME");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("nobody has confirmed") != std::string::npos);
  CHECK(refused.err.find("set cpu.power.limit 20") != std::string::npos);
}

TEST_CASE("aSimulatedBenchHasKnobsThatAct") {
  const Bench bench;
  const Json all = Json::parse(bench.ashg("knobs --sim larch12 --json").out);
  std::set<std::string> ids;
  for (const Json& knob : all["knobs"]) ids.insert(knob["id"]);
  CHECK(ids.contains("cpu.power.limit"));
  CHECK(ids.contains("cpu.clock.most"));
  CHECK(ids.contains("fan.cpu.duty"));
  REQUIRE(
      bench
          .ashg(
              "run --book b.ashbook --study s --setup solid --sim larch12 --speed 1e5 --run-id r1 --phases 'idle 30s, "
              "set cpu.power.limit 40, soak 5min, set cpu.power.limit 70, soak 5min'")
          .status == 0);
  const auto kept = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly)->readRun("r1");
  REQUIRE(kept);
  const Channel* power = kept->log.find("cpu.power");
  REQUIRE(power != nullptr);
  const auto meanBetween = [&](double fromS, double toS) {
    double sum = 0;
    int count = 0;
    for (size_t i = 0; i < kept->log.timeS.size(); ++i) {
      if (kept->log.timeS[i] < fromS || kept->log.timeS[i] >= toS || std::isnan(power->values[i])) continue;
      sum += power->values[i];
      ++count;
    }
    return sum / count;
  };
  CHECK(meanBetween(200, 330) == Approx(40).margin(1.5));
  CHECK(meanBetween(500, 630) == Approx(70).margin(2));
  CHECK(
      bench
          .ashg(
              "run --book b.ashbook --study s --setup solid --sim larch12 --phases 'set cpu.power.limit 4000, soak 5s'")
          .err.find("goes from") != std::string::npos);
}
