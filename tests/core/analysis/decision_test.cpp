// SPDX-License-Identifier: GPL-3.0-or-later
// Studies that run until decided: looks that together are as sure as one, and what a study costs before its first run.
#include "analysis/decision/decision.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/decision/sequential.h"
#include "analysis/decision/study_cost.h"
#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

const Figure& overRoom() {
  static const Figure figure("cpu.over_ambient_k");
  return figure;
}

std::vector<const AnalyzedRun*> pointersOf(const std::vector<AnalyzedRun>& runs) {
  std::vector<const AnalyzedRun*> all;
  for (const AnalyzedRun& run : runs) all.push_back(&run);
  return all;
}

struct Trial {
  double difference = 0, sd = 0.4;
  int setups = 1, mostRounds = 6;
  double marginK = 0;
};

struct CarriedOut {
  int rounds = 0;           // of the setup that took longest
  bool areAllHeld = true;   // every interval at the end holds the true difference
  bool isAnyWrong = false;  // a verdict that is none
  bool areAllTold = true;
};

CompareOptions optionsOf(const Trial& trial) {
  StudyPlan plan;
  plan.isUntilDecided = true;
  plan.repeats = trial.mostRounds;
  if (trial.marginK > 0) plan.marginK = trial.marginK;
  CompareOptions options = compareOptionsOf(plan, size_t(trial.setups) + 1);
  options.metrics = {overRoom()};
  return options;
}

// A study carried out as the queue does it: round after round until nothing is open.
CarriedOut carryOut(const Trial& trial, CompareOptions options, std::mt19937_64& random) {
  std::normal_distribution<double> scatter(0, trial.sd);
  std::vector<AnalyzedRun> runs;
  std::vector<SetupDecision> decisions;
  CarriedOut told;
  for (int round = 1; round <= trial.mostRounds; ++round) {
    for (int setup = 0; setup <= trial.setups; ++setup) {
      const std::string name = "s" + std::to_string(setup);
      const auto known = std::find_if(decisions.begin(), decisions.end(),
                                      [&](const SetupDecision& decision) { return decision.setup == name; });
      if (known != decisions.end() && !known->isOpen) continue;
      runs.push_back(madeRun(name + std::to_string(round), name, 50 + setup * trial.difference + scatter(random)));
    }
    options.reference = runs.front().run.name;
    decisions = decisionsOf(pointersOf(runs), options, overRoom(), trial.mostRounds);
    told.rounds = round;
    if (std::none_of(decisions.begin(), decisions.end(), [](const SetupDecision& one) { return one.isOpen; })) break;
  }
  const Comparison comparison = *compareRuns(runs, options);
  for (int setup = 1; setup <= trial.setups; ++setup) {
    const double truth = setup * trial.difference;
    const MetricRow& row = comparison.rows[size_t(setup)].metrics.at(overRoom());
    told.areAllHeld &= row.differenceLow <= truth && truth <= row.differenceHigh;
    const SetupDecision& decision = decisions[size_t(setup - 1)];
    const bool saysMore = decision.verdict == Verdict::Worse, saysLess = decision.verdict == Verdict::Better;
    const bool saysSame = decision.verdict == Verdict::WithinMargin && trial.marginK > 0;
    told.isAnyWrong |= (saysMore && truth <= 0) || (saysLess && truth >= 0) || (saysSame && truth > trial.marginK);
    told.areAllTold &= saysMore || saysLess || saysSame;
  }
  return told;
}

struct Shares {
  double held = 0, wrong = 0, told = 0, rounds = 0;
};

Shares manyStudies(const Trial& trial, int studies, std::mt19937_64& random) {
  Shares shares;
  const CompareOptions options = optionsOf(trial);
  for (int i = 0; i < studies; ++i) {
    const CarriedOut study = carryOut(trial, options, random);
    shares.held += study.areAllHeld;
    shares.wrong += study.isAnyWrong;
    shares.told += study.areAllTold;
    shares.rounds += study.rounds;
  }
  for (double* share : {&shares.held, &shares.wrong, &shares.told, &shares.rounds}) *share /= studies;
  return shares;
}

}  // namespace

TEST_CASE("severalLooksSpendTheErrorOfOne") {
  // Two-sided points of evenly spaced looks at 5 %, as tables of this spending function print them.
  const std::vector<std::vector<double>> kTables = {{2.9626, 1.9686},
                                                    {3.7103, 2.5114, 1.9930},
                                                    {4.3326, 2.9631, 2.3590, 2.0141},
                                                    {4.8769, 3.3569, 2.6803, 2.2898, 2.0310}};
  for (const auto& table : kTables) {
    std::vector<double> shares;
    for (size_t k = 1; k <= table.size(); ++k) shares.push_back(double(k) / double(table.size()));
    const std::vector<double> points = sequentialPoints(shares);
    for (size_t k = 0; k < table.size(); ++k) CHECK(points[k] == Approx(table[k]).margin(2e-4));
  }
  // A single look is the usual interval.
  CHECK(sequentialPoints({1}).front() == Approx(1.959964).margin(1e-4));
  CHECK(confidenceByRounds(2) == std::vector<double>(3, confidenceByRounds(2).back()));
  CHECK(confidenceByRounds(2).back() == Approx(0.95).margin(1e-5));
}

TEST_CASE("unevenLooksAreWrongInFiveOfAHundredWalks") {
  const std::vector<double> shares = {0.2, 0.35, 0.8, 1};
  const std::vector<double> points = sequentialPoints(shares);
  std::mt19937_64 random(15);
  std::normal_distribution<double> normal;
  constexpr int kWalks = 100000;
  int beyond = 0;
  for (int i = 0; i < kWalks; ++i) {
    double place = 0, last = 0;
    bool isBeyond = false;
    for (size_t k = 0; k < shares.size(); ++k) {
      place += std::sqrt(shares[k] - last) * normal(random);
      last = shares[k];
      isBeyond |= std::abs(place) > points[k] * std::sqrt(last);
    }
    beyond += isBeyond;
  }
  CHECK(double(beyond) / kWalks == Approx(0.05).margin(4 * std::sqrt(0.05 * 0.95 / kWalks)));
}

TEST_CASE("studiesUntilDecidedAreWrongNoMoreOftenThanOthers") {
  std::mt19937_64 random(2028);
  for (const Trial& trial : {Trial{0, 0.4, 1, 6}, Trial{0, 0.4, 3, 5}, Trial{0.5, 0.4, 1, 6}, Trial{0.8, 0.4, 2, 8}}) {
    const Shares shares = manyStudies(trial, 500, random);
    CAPTURE(trial.difference, trial.setups, trial.mostRounds, shares.held, shares.wrong, shares.rounds);
    CHECK(shares.wrong <= 0.065);
    CHECK(shares.held >= 0.93);
    CHECK(shares.rounds <= trial.mostRounds);
  }
}

TEST_CASE("aClearDifferenceIsDecidedEarlyAndASmallOneGoesToTheEnd") {
  std::mt19937_64 random(5);
  const Shares clear = manyStudies({3, 0.3, 1, 6}, 200, random), none = manyStudies({0, 0.3, 1, 6}, 200, random);
  CAPTURE(clear.rounds, none.rounds, clear.told);
  CHECK(clear.told == 1);
  CHECK(clear.rounds < 3.6);
  CHECK(none.rounds > 5.8);
  // With a margin that matters, no difference is a result, too.
  const Shares same = manyStudies({0, 0.3, 1, 6, 1.5}, 200, random);
  CAPTURE(same.rounds, same.told);
  CHECK(same.told > 0.98);
  CHECK(same.wrong == 0);
  CHECK(same.rounds < 5);
}

TEST_CASE("whatWasDecidedStaysSoWhileOthersGoOn") {
  std::vector<AnalyzedRun> runs;
  const std::vector<double> ofReference = {50.0, 50.3, 49.8, 50.1}, ofClear = {40.1, 39.8, 40.0},
                            ofNear = {50.2, 49.9, 50.4, 49.7};
  for (size_t i = 0; i < 4; ++i) {
    runs.push_back(madeRun("r" + std::to_string(i), "r", ofReference[i]));
    if (i < 3) runs.push_back(madeRun("c" + std::to_string(i), "c", ofClear[i]));
    runs.push_back(madeRun("n" + std::to_string(i), "n", ofNear[i]));
  }
  StudyPlan plan;
  plan.isUntilDecided = true;
  plan.repeats = 6;
  CompareOptions options = compareOptionsOf(plan, 3);
  options.reference = "r0";
  const auto decisions = decisionsOf(pointersOf(runs), options, overRoom(), plan.repeats);
  REQUIRE(decisions.size() == 2);
  CHECK(decisions[0].setup == "c");
  CHECK_FALSE(decisions[0].isOpen);
  CHECK(decisions[0].rounds <= 3);
  CHECK(decisions[0].verdict == Verdict::Better);
  CHECK(decisions[1].isOpen);
  Study study;
  for (const char* name : {"r", "c", "n"}) study.setups.push_back({name, {}, {}});
  CHECK(decidedCells(study, "r", "all", decisions) == std::vector<DecidedCell>{{"c", "all"}});
  const std::vector<PlannedRun> left =
      withoutDecided({{"n", "all", 5}, {"c", "all", 4}, {"r", "all", 5}, {"c", "other", 1}}, {{"c", "all"}});
  REQUIRE(left.size() == 3);
  CHECK(left[0].setup == "n");
  CHECK(left[1].setup == "r");
  CHECK(left[2].load == "other");
}

TEST_CASE("whatCannotBeComparedGoesOnToTheLastRound") {
  std::vector<AnalyzedRun> runs;
  for (int i = 0; i < 3; ++i) {
    for (const char* setup : {"r", "c"}) {
      runs.push_back(madeRun(setup + std::to_string(i), setup, (*setup == 'r' ? 50 : 40) + 0.1 * i));
      runs.back().run.facts.underTest = {"cooler"};
      runs.back().run.facts.conditions["power_limit_w"] = *setup == 'r' ? 88 : 65;
    }
  }
  StudyPlan plan;
  plan.isUntilDecided = true;
  plan.repeats = 4;
  CompareOptions options = compareOptionsOf(plan, 2);
  options.reference = "r0";
  const auto decisions = decisionsOf(pointersOf(runs), options, overRoom(), plan.repeats);
  REQUIRE(decisions.size() == 1);
  CHECK(decisions[0].verdict == Verdict::NotComparable);
  CHECK(decisions[0].isOpen);
}

TEST_CASE("theRepeatsThatADifferenceTakesAreThoseOfTheTables") {
  // Two groups, two-sided 5 %: n for 90 % power by the non-central t of any table of sample sizes.
  CHECK(repeatsToTell(1, 1) == 23);
  CHECK(repeatsToTell(0.5, 1) == 86);
  CHECK(repeatsToTell(2, 1) == 7);
  CHECK(powerOf(1, 20) == Approx(0.8689528).margin(1e-5));
  CHECK(differenceTold(23, 1) == Approx(1).margin(0.03));
  CHECK(differenceTold(23, 1) <= 1);
  CHECK(std::isnan(differenceTold(1, 1)));
  CHECK(repeatsToTell(0.01, 1) == 0);
  // More setups against one reference take more.
  CHECK(repeatsToTell(1, 1, 4) > 23);
}

TEST_CASE("theScatterOfEarlierRunsIsThatOfTheirGroups") {
  std::vector<AnalyzedRun> runs;
  for (const auto& [setup, value] :
       {std::pair{"a", 50.0}, {"a", 50.6}, {"b", 40.0}, {"b", 40.3}, {"b", 40.6}, {"c", 1.0}})
    runs.push_back(madeRun(setup + std::to_string(runs.size()), setup, value));
  const auto all = pointersOf(runs);
  const RepeatScatter scatter = scatterOf({{all[0], all[1]}, {all[2], all[3], all[4]}, {all[5]}}, overRoom());
  // Squares about the means: 0.18 of one degree and 0.18 of two.
  CHECK(scatter.sd == Approx(std::sqrt(0.36 / 3)));
  CHECK(scatter.degrees == 3);
  CHECK(scatter.runs == 5);
  CHECK(std::isnan(scatterOf({{all[5]}}, overRoom()).sd));
  // ISO 5725-6: two repeats within 1 K of each other in 95 of 100 cases.
  CHECK(assumedSdOf(overRoom()) == Approx(1 / (1.96 * std::sqrt(2.0))));
}
