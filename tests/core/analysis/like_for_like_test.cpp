// SPDX-License-Identifier: GPL-3.0-or-later
// Every like-for-like check: when it speaks, how severe it is, what it does to the verdict, and when it keeps silent.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>

#include "analysis/analyze.h"
#include "tests/support/known_logs.h"
#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

const std::string kOverRoom = "cpu.over_ambient_k";

/// Two runs that are alike but for their temperature, to be changed one thing at a time.
struct Two {
  AnalyzedRun a = madeRun("a", "a", 50), b = madeRun("b", "b", 45);

  Comparison compared() const { return *compareRuns(std::vector<AnalyzedRun>{a, b}, {}); }
  /// Severity by what it is about; empty where nothing was found.
  std::map<std::string, std::string> severities() const {
    std::map<std::string, std::string> found;
    const Comparison comparison = compared();
    for (const ComparisonCheck& check : comparison.checks) found[codeOf(check)] = wordsOf(check.severity);
    return found;
  }
  Verdict verdict() const { return compared().rows[1].metrics.at(kOverRoom).verdict; }
  void condition(const std::string& field, const Json& first, const Json& second) {
    a.run.facts.conditions[field] = first;
    b.run.facts.conditions[field] = second;
  }
};

using Found = std::map<std::string, std::string>;

void addRoom(AnalyzedRun& run, double celsius) { addMean(run, "room.temp", Quantity::Temperature, celsius, 0.01); }

}  // namespace

TEST_CASE("anotherLoadIsNoFairFieldUnlessItIsTheQuestion") {
  Two two;
  two.a.run.facts.load = "vector";
  two.b.run.facts.load = "memory";
  CHECK(two.severities() == Found{{"load", "block"}});
  CHECK(two.verdict() == "not comparable");
  two.a.run.facts.underTest = {"load"};
  CHECK(two.severities().empty());
  CHECK(two.verdict() == "better");
  two.a.run.facts.underTest.clear();
  two.b.run.facts.load.clear();  // not told is not another
  CHECK(two.severities().empty());
}

TEST_CASE("aSettingThatDiffersBlocksWhereItIsStatedTwiceAndWasNotTheQuestion") {
  Two two;
  two.condition("power_limit_w", 88, 65);
  // Nobody said what was under test: this may be it.
  CHECK(two.severities().at("power_limit_w") == "info");
  CHECK(two.verdict() == "better");
  two.a.run.facts.underTest = {"cooler"};
  CHECK(two.severities().at("power_limit_w") == "block");
  CHECK(two.verdict() == "not comparable");
  two.b.run.facts.conditions.erase("power_limit_w");
  CHECK(two.severities().at("power_limit_w") == "warn");
  CHECK(two.verdict() == "better");
  two.a.run.facts.underTest = {"power_limit_w"};
  CHECK_FALSE(two.severities().contains("power_limit_w"));
}

TEST_CASE("whatOnlyDescribesASetupMakesItNotUnequal") {
  Two two;
  two.a.run.facts.underTest = {"cooler"};
  two.condition("price", 20, 40);
  two.condition("note", "first", "second");
  CHECK(two.severities().empty());
  const Comparison comparison = two.compared();
  CHECK(comparison.whatDiffers.size() == 2);
  two.condition("panel", "solid", "mesh");
  CHECK(two.severities().at("panel") == "warn");
}

TEST_CASE("roomsApartAreToldAndARoomThatIsMissingBlocksTemperaturesOnly") {
  Two two;
  addRoom(two.a, 22);
  addRoom(two.b, 22.9);
  CHECK(two.severities().empty());
  two.b.figures.channels.back().window.mean = 23.2;
  CHECK(two.severities() == Found{{"room", "warn"}});
  CHECK(two.verdict() == "better");
  two.b.figures.channels.pop_back();
  addMean(two.a, "wall.power", Quantity::Power, 150, 0.1);
  addMean(two.b, "wall.power", Quantity::Power, 160, 0.1);
  CHECK(two.severities() == Found{{"room", "block"}});
  CHECK(two.verdict() == "not comparable");
  CHECK(two.compared().rows[1].metrics.at("wall.power").verdict == "higher");
  // A stated room is a room.
  two.b.run.facts.conditions["room_c"] = 22.2;
  CHECK(two.severities().empty());
}

TEST_CASE("twoMachinesAreToldAndTheirSettingsAreTheirOwn") {
  Two two;
  two.a.run.facts.machine = {{"name", "larch"}, {"settings", {{"governor", "performance"}}}};
  two.b.run.facts.machine = {{"name", "larch"}, {"settings", {{"governor", "powersave"}}}};
  CHECK(two.severities() == Found{{"governor", "warn"}});
  two.b.run.facts.machine["name"] = "birch";
  CHECK(two.severities() == Found{{"machine", "warn"}});
  two.b.run.facts.underTest = {"machine"};
  CHECK(two.severities().empty());
  CHECK(two.compared().whatDiffers.at(0).field == "machine");
}

TEST_CASE("aLowerClockIsNoCoolerWin") {
  Two two;
  addMean(two.a, "cpu.clock", Quantity::Clock, 4600, 1);
  addMean(two.b, "cpu.clock", Quantity::Clock, 4520, 1);
  CHECK(two.severities().empty());  // 1.7 %
  two.b.figures.channels.back().window.mean = 4400;
  CHECK(two.severities() == Found{{"cpu.clock", "warn"}});
  const std::string text = two.compared().checks.at(0).text;
  CHECK(text.find("4600 MHz and 4400 MHz") != std::string::npos);
}

TEST_CASE("windowsThatWereChosenInTwoWaysAreTold") {
  Two two;
  two.a.figures.window = Window{{100, 400}, "measure phase"};
  two.b.figures.window = Window{{100, 400}, "measure phase"};
  CHECK(two.severities().empty());
  two.b.figures.window->reason = "last part of load";
  CHECK(two.severities() == Found{{"window", "info"}});
}

TEST_CASE("whatHappenedInOneRunOnlyIsToldOfThatRun") {
  for (const auto& [kind, severity] :
       {std::pair{"background_load", "warn"}, std::pair{"started_warm", "warn"}, std::pair{"room_moved", "info"}}) {
    Two two;
    two.b.figures.problems.push_back({ProblemKind::fromText(kind), "", 0, 10, ""});
    CHECK(two.severities() == Found{{kind, severity}});
    CHECK(two.compared().checks.at(0).text.find("b") != std::string::npos);
    // In both it is the same for both.
    two.a.figures.problems.push_back({ProblemKind::fromText(kind), "", 0, 10, ""});
    CHECK(two.severities().empty());
  }
}

TEST_CASE("aFirstMountThatIsHardlyBetterIsToBeMountedAgain") {
  const auto withResistance = [](const std::string& name, const std::string& setup, double kelvinPerWatt) {
    AnalyzedRun run = madeRun(name, setup, 100 * kelvinPerWatt);
    Heat heat;
    heat.device = "cpu";
    heat.resistance = Estimate{kelvinPerWatt, 0.99 * kelvinPerWatt, 1.01 * kelvinPerWatt};
    run.figures.heat.push_back(heat);
    run.run.facts.underTest = {"cooler"};
    return run;
  };
  const auto told = [&](double kelvinPerWatt, int mounts, std::optional<int> price = 60) {
    std::vector<AnalyzedRun> runs = {withResistance("old", "old", 0.5)};
    runs.front().run.facts.conditions["price"] = 40;
    for (int i = 0; i < mounts; ++i) {
      runs.push_back(withResistance("new" + std::to_string(i), "new", kelvinPerWatt + 0.001 * i));
      if (price) runs.back().run.facts.conditions["price"] = *price;
    }
    const Comparison comparison = *compareRuns(runs, {});
    for (const ComparisonCheck& check : comparison.checks) {
      if (codeOf(check) == "first_mount") return check.text;
    }
    return std::string();
  };
  CHECK(told(0.49, 1).find("new is barely better than old after one mount") == 0);
  CHECK(told(0.505, 1).find("new is no better than old after one mount") == 0);
  CHECK(told(0.45, 1).empty());
  CHECK(told(0.55, 1).empty());  // clearly worse is worse, and no bad mount
  CHECK(told(0.49, 2).empty());  // mounted twice: it is what it is
  // Who does not cost more was not meant to be better.
  CHECK(told(0.49, 1, 30).empty());
  CHECK(told(0.49, 1, {}).empty());
}

TEST_CASE("aResistanceThatMovesInsideARunIsPointedAt") {
  const auto withRise = [](double riseK) {
    LogMaker maker(1200, 1);
    maker
        .add("cpu.temp",
             [=](double t) { return t < 60 ? 30.0 : 72 - 42 * std::exp(-(t - 60) / 40) + (t > 900 ? riseK : 0); })
        .add("room.temp", [](double) { return 22.0; })
        .add("cpu.power", [](double t) { return t < 60 ? 10.0 : 100.0; });
    maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 600).phase(PhaseKind::Measure, 600, 1200);
    AnalyzedRun run{maker.run, {}};
    run.figures = analyzeRun(run.run);
    // Whatever the fit says of a step: here it is the resistance that is asked about.
    for (ChannelFigures& channel : run.figures.channels) {
      if (channel.settled) channel.settled->isSettled = true;
    }
    const Comparison comparison = *compareRuns(std::vector<AnalyzedRun>{run}, {});
    for (const ComparisonCheck& check : comparison.checks) {
      if (codeOf(check) == "resistance") return check.text;
    }
    return std::string();
  };
  // 0.50 K/W; 4 % of it are 2 K.
  CHECK(withRise(1.5).empty());
  CHECK(withRise(4).find("rose by 8 %") != std::string::npos);
  CHECK(withRise(-4).find("fell by 8 %") != std::string::npos);
}

TEST_CASE("aRemountThatLiesApartIsToldAsOne") {
  std::vector<AnalyzedRun> runs = {madeRun("r0", "r", 50)};
  for (int i = 0; i < 3; ++i) {
    runs.push_back(madeRun("a" + std::to_string(i), "a", i == 2 ? 46.0 : 40 + 0.2 * i));
    runs.back().run.facts.conditions["mount"] = i == 2 ? 2 : 1;
  }
  const Comparison comparison = *compareRuns(runs, {});
  const auto check = std::find_if(comparison.checks.begin(), comparison.checks.end(),
                                  [](const ComparisonCheck& one) { return codeOf(one) == "remount"; });
  REQUIRE(check != comparison.checks.end());
  CHECK(check->between.front() == "a2");
  CHECK(check->text.find("after it was mounted anew") != std::string::npos);
}

TEST_CASE("aPumpIsNamedByItselfAndNotAsAFan") {
  Two two;
  addMean(two.a, "pump", Quantity::FanSpeed, 2400, 1);
  addMean(two.b, "pump", Quantity::FanSpeed, 1800, 1);
  const Comparison comparison = two.compared();
  REQUIRE(comparison.checks.size() == 1);
  CHECK(codeOf(comparison.checks[0]) == "pump");
  CHECK(titleOf(comparison.checks[0]) == "Pump differs");
}
