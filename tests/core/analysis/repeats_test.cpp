// SPDX-License-Identifier: GPL-3.0-or-later
// Intervals and verdicts over many simulated studies; Welch's interval against values worked out elsewhere.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/comparison/ladder.h"
#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

const std::string kWatchedFigure = "cpu.over_ambient_k";

Comparison compareValues(const std::vector<std::pair<std::string, std::vector<double>>>& setups,
                         const CompareOptions& options = {}) {
  std::vector<AnalyzedRun> runs;
  for (const auto& [setup, values] : setups) {
    for (const double value : values) runs.push_back(madeRun(setup + std::to_string(runs.size()), setup, value));
  }
  return *compareRuns(runs, options);
}

const MetricRow& rowOf(const Comparison& comparison, size_t i) {
  return comparison.rows.at(i).metrics.at(kWatchedFigure);
}

}  // namespace

TEST_CASE("welchsIntervalsAreThoseOfWorkedExamples") {
  // Samples of the worked examples that are widely printed with Welch's test; limits from an integration of the density
  // of t made for this test, in another language.
  const std::vector<double> a = {27.5, 21.0, 19.0, 23.6, 17.0, 17.9, 16.9, 20.1,
                                 21.9, 22.6, 23.1, 19.6, 19.0, 21.7, 21.4};
  const std::vector<double> b = {27.1, 22.0, 20.8, 23.4, 23.4, 23.5, 25.8, 22.0,
                                 24.8, 20.2, 21.9, 22.1, 22.9, 20.5, 24.4};
  const std::vector<double> c = {17.2, 20.9, 22.6, 18.1, 21.7, 21.4, 23.5, 24.2, 14.7, 21.8};
  const std::vector<double> d = {21.5, 22.8, 21.0, 23.0, 21.6, 23.6, 22.5, 20.7, 23.4, 21.8,
                                 20.7, 21.7, 21.5, 22.5, 23.6, 21.5, 22.5, 23.5, 21.5, 21.8};
  const auto first = compareValues({{"b", b}, {"a", a}});
  CHECK(rowOf(first, 1).difference == Approx(-2.1666667).epsilon(1e-7));
  CHECK(rowOf(first, 1).differenceLow == Approx(-3.98409627).epsilon(1e-7));
  CHECK(rowOf(first, 1).differenceHigh == Approx(-0.34923707).epsilon(1e-7));
  const auto second = compareValues({{"d", d}, {"c", c}});
  CHECK(rowOf(second, 1).differenceLow == Approx(-3.69842133).epsilon(1e-7));
  CHECK(rowOf(second, 1).differenceHigh == Approx(0.64842133).epsilon(1e-7));
  const auto third = compareValues({{"y", {51.2, 50.7, 51.6, 51.0}}, {"x", {57.1, 57.6, 56.9}}});
  CHECK(rowOf(third, 1).differenceLow == Approx(5.33216408).epsilon(1e-7));
  CHECK(rowOf(third, 1).differenceHigh == Approx(6.81783592).epsilon(1e-7));
  // Four setups against one: Dunnett's point for the shares that b has of each variance and 24.99 degrees of freedom,
  // by a plain double sum over 160,000 cells, in another language: 2.6215318.
  const auto many = compareValues({{"b", b}, {"a", a}, {"c", c}, {"d", d}, {"e", {20, 21, 22}}});
  CHECK(rowOf(many, 1).differenceLow == Approx(-4.479971).margin(2e-5));
  CHECK(rowOf(many, 1).differenceHigh == Approx(0.146637).margin(2e-5));
}

TEST_CASE("intervalsCoverTheTruthAndNothingIsSeldomTakenForSomething") {
  std::mt19937 random(2026);
  std::normal_distribution<double> normal;
  int covered = 0, falseVerdicts = 0, found = 0;
  constexpr int kStudies = 1500;
  for (int study = 0; study < kStudies; ++study) {
    const int repeats = 2 + study % 4;
    const double sdA = 0.2 + 0.2 * (study % 3), sdB = 0.3;
    const auto draw = [&](double mean, double sd) {
      std::vector<double> values;
      for (int i = 0; i < repeats + 1; ++i) values.push_back(mean + sd * normal(random));
      return values;
    };
    const auto known = compareValues({{"reference", draw(50, sdB)}, {"other", draw(47, sdA)}});
    covered += rowOf(known, 1).differenceLow <= -3 && rowOf(known, 1).differenceHigh >= -3;
    found += rowOf(known, 1).verdict == "better";
    const auto none = compareValues({{"reference", draw(50, sdB)}, {"other", draw(50, sdA)}});
    falseVerdicts += rowOf(none, 1).verdict != "within margin";
  }
  INFO("covered " << covered << ", false " << falseVerdicts << ", found " << found << " of " << kStudies);
  CHECK(covered >= 0.92 * kStudies);
  CHECK(covered <= 0.98 * kStudies);
  CHECK(falseVerdicts <= 0.07 * kStudies);
  CHECK(found >= 0.97 * kStudies);
}

TEST_CASE("manySetupsAgainstOneReferenceAreSeldomWrongAltogether") {
  std::mt19937 random(7);
  std::normal_distribution<double> normal;
  int wrong = 0;
  constexpr int kStudies = 600;
  for (int study = 0; study < kStudies; ++study) {
    std::vector<std::pair<std::string, std::vector<double>>> setups;
    for (const char* name : {"reference", "a", "b", "c", "d", "e"}) {
      std::vector<double> values;
      for (int i = 0; i < 4; ++i) values.push_back(50 + 0.4 * normal(random));
      setups.emplace_back(name, values);
    }
    const auto comparison = compareValues(setups);
    bool isWrong = false;
    for (size_t i = 1; i < 6; ++i) isWrong |= rowOf(comparison, i).verdict != "within margin";
    wrong += isWrong;
  }
  INFO(wrong << " of " << kStudies);
  CHECK(wrong <= 0.07 * kStudies);
}

TEST_CASE("singleRunsTakeTheStatedRepeatability") {
  CompareOptions options;
  const auto bare = compareValues({{"a", {50}}, {"b", {49.2}}});
  // Repeats are taken to agree within 1 K: 0.8 K apart shows nothing, 1.2 K does.
  CHECK(rowOf(bare, 1).verdict == "within margin");
  CHECK(rowOf(bare, 1).isAssumed);
  CHECK(rowOf(bare, 1).reason == "One run each, assuming that repeats agree within 1 K.");
  CHECK(rowOf(bare, 1).differenceLow == Approx(-1.8).epsilon(1e-4));
  CHECK(rowOf(bare, 1).differenceHigh == Approx(0.2).epsilon(1e-4));
  CHECK(rowOf(compareValues({{"a", {50}}, {"b", {48.8}}}), 1).verdict == "better");
  options.temperatureRepeatability = 0.5;
  const auto stated = compareValues({{"a", {50}}, {"b", {49.2}}}, options);
  CHECK(rowOf(stated, 1).verdict == "within margin");
  CHECK_FALSE(rowOf(stated, 1).isAssumed);
  // 1.96·0.5·√2.
  CHECK(rowOf(stated, 1).differenceHigh == Approx(-0.8 + 1.959964 * 0.5 * std::sqrt(2)).epsilon(1e-5));
  options.temperatureMargin = 0.3;
  CHECK(rowOf(compareValues({{"a", {50}}, {"b", {49.2}}}, options), 1).verdict == "too few repeats");
}

TEST_CASE("howManyRepeatsWouldDoIsWorkedOut") {
  CompareOptions options;
  options.temperatureMargin = 0.5;
  const MetricRow row = rowOf(compareValues({{"a", {50, 50.6}}, {"b", {50.2, 49.8}}}, options), 1);
  CHECK(row.verdict == "too few repeats");
  // sd √((0.18 + 0.08)/2) = 0.361; t(2n−2)·0.361·√(2/n) < 0.5 first at n = 6: 2.228·0.361·0.577 = 0.464.
  CHECK(row.reason == "6 repeats of each would do.");
}

TEST_CASE("aBoundOnTheOtherSideOfNothingDecidesNothing") {
  std::vector<AnalyzedRun> runs = {madeRun("a", "free", 80), madeRun("b", "pinned", 73), madeRun("c", "hot", 88)};
  for (const size_t i : {1, 2}) {
    Throttling held;
    held.device = "cpu";
    held.intervals.push_back({{0, 100}, Cause::Thermal, false, 300, 0.07});
    runs[i].figures.throttling.push_back(held);
    runs[i].figures.window = Window{{0, 100}, "measure phase"};
  }
  const auto comparison = *compareRuns(runs, {});
  const MetricRow& lower = rowOf(comparison, 1);
  CHECK(lower.bound == "at least");
  CHECK(lower.verdict == "not comparable");
  CHECK(lower.reason.find("decides nothing") != std::string::npos);
  const MetricRow& higher = rowOf(comparison, 2);
  CHECK(higher.bound == "at least");
  CHECK(higher.verdict == "worse");
}

TEST_CASE("aRepeatThatLiesApartIsPointedAt") {
  const auto odd = compareValues({{"a", {50, 50.2, 49.9}}, {"b", {47.1, 46.9, 50.6}}});
  int told = 0;
  for (const ComparisonCheck& check : odd.checks) {
    if (codeOf(check) != "repeat") continue;
    ++told;
    CHECK(check.between.front() == "b5");
    CHECK(check.text.find("b5 of b is 3.6 K warmer than the other 2 repeats: check its mount and airflow") == 0);
  }
  CHECK(told == 1);
  // Ordinary scatter is none.
  std::mt19937 random(4);
  std::normal_distribution<double> normal;
  int wrongly = 0;
  for (int study = 0; study < 200; ++study) {
    std::vector<double> values;
    for (int i = 0; i < 4; ++i) values.push_back(50 + 0.3 * normal(random));
    const Comparison comparison = compareValues({{"a", values}});
    for (const ComparisonCheck& check : comparison.checks) wrongly += codeOf(check) == "repeat";
  }
  CHECK(wrongly <= 6);
}

TEST_CASE("theWorstSideEffectOnADeviceNobodyAskedForIsTold") {
  std::vector<AnalyzedRun> runs;
  for (int i = 0; i < 6; ++i) {
    AnalyzedRun run = madeRun("r" + std::to_string(i), i < 3 ? "fan" : "silent", (i < 3 ? 50 : 48) + 0.1 * (i % 3));
    addOverRoom(run, "board.temp.vrm", (i < 3 ? 40 : 52) + 0.2 * (i % 3));
    addOverRoom(run, "storage.temp", (i < 3 ? 30 : 34) + 0.2 * (i % 3));
    runs.push_back(run);
  }
  const auto comparison = *compareRuns(runs, {});
  const auto check = std::find_if(comparison.checks.begin(), comparison.checks.end(),
                                  [](const ComparisonCheck& one) { return codeOf(one) == "side_effect"; });
  REQUIRE(check != comparison.checks.end());
  CHECK(check->text == "VRM runs 12.0 K warmer with silent than with fan, though it was not what was asked: say so.");
}

TEST_CASE("unfairFieldsAreNamed") {
  AnalyzedRun a = madeRun("a", "a", 50), b = madeRun("b", "b", 48);
  const auto checksOf = [&] {
    std::map<std::string, std::string> severities;
    const std::vector<AnalyzedRun> both = {a, b};
    const auto comparison = compareRuns(both, {});
    for (const ComparisonCheck& check : comparison->checks) severities[codeOf(check)] = wordsOf(check.severity);
    return severities;
  };
  CHECK(checksOf().empty());
  addFan(a, 1200);
  addFan(b, 900);
  CHECK(checksOf().at("fan.cpu") == "warn");
  a.run.facts.underTest = {"fan_duty"};
  CHECK_FALSE(checksOf().contains("fan.cpu"));
  a.run.facts.machine = {{"name", "larch"}, {"kernel", "6.1"}, {"firmware", "1.20"}};
  b.run.facts.machine = {{"name", "larch"}, {"kernel", "6.5"}, {"firmware", "1.20"}};
  CHECK(checksOf().at("kernel") == "warn");
  CHECK_FALSE(checksOf().contains("firmware"));
  a.figures.efficiency.powerRole = "wall.power";
  b.figures.efficiency.powerRole = "cpu.power";
  CHECK(checksOf().at("power_role") == "block");
  a.figures.load = TimeSpan{0, 600};
  b.figures.load = TimeSpan{0, 1800};
  CHECK(checksOf().at("duration") == "info");
  b.figures.problems.push_back({ProblemKind::BackgroundLoad, "cpu.load", 0, 60, ""});
  CHECK(checksOf().at("background_load") == "warn");
  a.run.facts.underTest = {"cooler"};
  a.run.facts.conditions = {{"cooler", "Teasel"}, {"paste", "grey"}};
  b.run.facts.conditions = {{"cooler", "Plover"}, {"paste", "white"}};
  CHECK(checksOf().at("several_changes") == "warn");
}

TEST_CASE("energyIsNeverSetAgainstEnergyOfAnotherRole") {
  AnalyzedRun a = madeRun("a", "a", 50), b = madeRun("b", "b", 48);
  a.figures.efficiency.powerRole = "wall.power";
  b.figures.efficiency.powerRole = "cpu.power";
  a.figures.efficiency.workPerJoule = 1;
  b.figures.efficiency.workPerJoule = 2;
  const auto comparison = *compareRuns(std::vector<AnalyzedRun>{a, b}, {});
  CHECK(comparison.rows[1].metrics.at("work_per_joule").verdict == "not comparable");
  CHECK(comparison.rows[1].metrics.at(kWatchedFigure).verdict == "better");
}

TEST_CASE("oneRunBesideRepeatsScattersAsTheyDo") {
  const auto comparison = compareValues({{"a", {50, 50.2, 49.8}}, {"b", {48}}});
  CHECK_FALSE(rowOf(comparison, 1).isAssumed);
  CHECK(rowOf(comparison, 1).reason.empty());
  CHECK(rowOf(comparison, 1).verdict == "better");
}

TEST_CASE("noFigureOfOneRunIsComparedAsIfItWereExact") {
  const auto with = [](const std::string& name, double share, double joules, double mhz) {
    AnalyzedRun run = madeRun(name, name, 50);
    Throttling slowed;
    slowed.device = "cpu";
    slowed.share = slowed.shareThermal = share;
    run.figures.throttling.push_back(slowed);
    run.figures.load = TimeSpan{0, 1000};
    run.figures.efficiency.powerRole = "cpu.power";
    Energy energy;
    energy.channel = "cpu.power";
    energy.loadJ = joules;
    run.figures.energy.push_back(energy);
    addMean(run, "cpu.clock", Quantity::Clock, mhz, 0);
    run.run.facts.conditions["price"] = 50 + joules / 1e5;
    return run;
  };
  const auto comparison = *compareRuns({with("a", 0.10, 60000, 4000), with("b", 0.11, 60900, 4030)}, {});
  const auto& metrics = comparison.rows[1].metrics;
  // Two points, 2 %, 1 %: none of these differences reaches beyond.
  for (const char* name : {"cpu.throttled_share", "energy_j", "cpu.clock"}) {
    INFO(name);
    CHECK(metrics.at(name).verdict == "within margin");
    CHECK(metrics.at(name).isAssumed);
  }
  CHECK(metrics.at("cpu.throttled_share").reason == "One run each, assuming that repeats agree within 2 points.");
  CHECK(metrics.at("energy_j").reason == "One run each, assuming that repeats agree within 2 %.");
  // 1 % of 4000 and of 4030 MHz, each over 1.96·√2 as a standard deviation.
  CHECK(metrics.at("cpu.clock").differenceHigh == Approx(30 + std::hypot(40.0, 40.3) / std::sqrt(2)).epsilon(1e-4));
  // What is stated is exact.
  CHECK(metrics.at("price").verdict == "worse");
  CHECK_FALSE(metrics.at("price").isAssumed);
  // Nobody is slowed for less than none of the time, or for more than all of it.
  const auto ends = *compareRuns({with("a", 0, 60000, 4000), with("b", 1, 60000, 4000)}, {});
  CHECK(ends.rows[0].metrics.at("cpu.throttled_share").ciLow == 0);
  CHECK(ends.rows[1].metrics.at("cpu.throttled_share").ciHigh == 1);
  const auto apart = *compareRuns({with("a", 0.10, 60000, 4000), with("b", 0.14, 63000, 4100)}, {});
  for (const char* name : {"cpu.throttled_share", "energy_j"}) CHECK(apart.rows[1].metrics.at(name).verdict == "worse");
  CHECK(apart.rows[1].metrics.at("cpu.clock").verdict == "better");
}

TEST_CASE("aCopyOfARunIsNoRepeat") {
  const auto logged = [](const std::string& name, double overRoomK, double noise) {
    AnalyzedRun run = madeRun(name, "one", overRoomK);
    run.run.log.timeS = {0, 1, 2};
    Channel channel;
    channel.name = "cpu.temp";
    channel.values = {70, 71 + noise, kMissing};
    run.run.log.channels.push_back(channel);
    return run;
  };
  const auto comparison = *compareRuns({logged("a", 50, 0), logged("copy", 50, 0), logged("b", 50.4, 0.3)}, {});
  CHECK(comparison.rows.at(0).repeats == 2);
  REQUIRE(comparison.checks.size() >= 1);
  CHECK(comparison.checks[0].between == std::vector<std::string>{"a", "copy"});
  CHECK(comparison.checks[0].text.find("copy has the same samples as a") == 0);
}

TEST_CASE("energyIsComparedWhereTheSameWasDone") {
  const auto ran = [](const std::string& name, double lengthS, double watts) {
    AnalyzedRun run = madeRun(name, name, 50);
    run.figures.intervalS = 1;
    run.figures.load = TimeSpan{100, 100 + lengthS};
    run.figures.efficiency.powerRole = "wall.power";
    Energy energy;
    energy.channel = "wall.power";
    energy.loadJ = watts * lengthS;
    run.figures.energy.push_back(energy);
    return run;
  };
  const auto energyRow = [](const std::vector<AnalyzedRun>& runs) {
    return compareRuns(runs, {})->rows.at(1).metrics.at("energy_j");
  };
  // The shorter soak took less and is no better for it.
  const MetricRow shorter = energyRow({ran("a", 2400, 60), ran("b", 1800, 66)});
  CHECK(shorter.verdict == "not comparable");
  INFO(shorter.reason);
  CHECK(shorter.reason.find("66.0\u202FW and 60.0\u202FW") != std::string::npos);
  CHECK(energyRow({ran("a", 2400, 60), ran("b", 2390, 66)}).verdict == "worse");
  std::vector<AnalyzedRun> task = {ran("a", 2400, 60), ran("b", 1800, 66)};
  for (AnalyzedRun& run : task) run.run.facts.work = RunFacts::Work{1, "frame", run.figures.load->lengthS()};
  CHECK(energyRow(task).verdict == "better");
  task[1].run.facts.work->units = 2;
  CHECK(energyRow(task).verdict == "not comparable");
  std::vector<AnalyzedRun> passes = {ran("a", 2400, 60), ran("b", 1800, 66)};
  for (AnalyzedRun& run : passes) run.run.facts.passes.resize(20);
  CHECK(energyRow(passes).verdict == "better");
  passes[1].run.facts.passes.resize(15);
  CHECK(energyRow(passes).verdict == "not comparable");
}
