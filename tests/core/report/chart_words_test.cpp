// SPDX-License-Identifier: GPL-3.0-or-later
// What all charts of a study say in the same words, and which runs they show.
#include "report/charts/chart_words.h"

#include <catch2/catch.hpp>

#include "report/charts/run_figures.h"
#include "report/charts/study_charts.h"
#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Rungs of two ladders of fan duty: A is louder and cooler than B by formula.
StudyReport twoLadders() {
  StudyPlan plan;
  plan.underTest = {"fan_duty"};
  plan.equal = "noise";
  std::vector<Made> all;
  for (const auto& [name, duty, noise, overRoomK] :
       {std::tuple{"A, 30 %", 30.0, 30.0, 60.0}, std::tuple{"A, 60 %", 60.0, 36.0, 50.0},
        std::tuple{"A, 90 %", 90.0, 42.0, 44.0}, std::tuple{"B, 30 %", 30.0, 30.0, 66.0},
        std::tuple{"B, 60 %", 60.0, 36.0, 56.0}, std::tuple{"B, 90 %", 90.0, 42.0, 50.0}})
    all.push_back({name, overRoomK, {{"fan_duty", duty}}, noise});
  return madeStudy(all, plan);
}

}  // namespace

TEST_CASE("theSourceOfAChartSaysHowManyRunsWhenAndWhere") {
  StudyReport report = madeStudy({{"Solid", 50, Json::object(), kMissing, 80, 2}, {"Mesh", 44}}, {});
  const LoadStanding& load = report.loads[0];
  CHECK(chartSource(report, load) ==
        std::string("Made · 3 runs of 2 setups · Ash Gauge, figures by method ") + kFiguresMethod);
  report.summaries[0].info.started = "2026-09-24T10:00:00+02:00";
  report.summaries[1].info.started = "2026-09-22T18:00:00+02:00";
  CHECK(chartSource(report, load).find("2 setups, 2026-09-22 to 2026-09-24 · Ash Gauge") != std::string::npos);
  report.summaries[0].info.bench = {{"kind", kSimulatedBench}};
  CHECK(chartSource(report, load).find(" · partly a simulated bench · ") != std::string::npos);
  for (RunSummary& run : report.summaries) run.info.bench = {{"kind", kSimulatedBench}};
  CHECK(chartSource(report, load).find(" · simulated bench · ") != std::string::npos);
  // One that is void counts for nothing.
  report.summaries[2].info.outcome = Outcome::Void;
  CHECK(chartSource(report, load).find("2 runs of 1 setup,") != std::string::npos);
}

TEST_CASE("chartsOfSeveralLoadsAreNumbered") {
  StudyReport report = madeStudy({{"Solid"}}, {});
  report.loads.push_back(report.loads[0]);
  report.loads[1].load = "Cores + graphics";
  CHECK(chartId(report, report.loads[0], "power") == "power");
  CHECK(chartId(report, report.loads[1], "power") == "power-2");
}

TEST_CASE("aRunThatWasCutShortIsLeftOutWhereAnotherIsWhole") {
  const StudyReport report = madeStudy({{"Solid", 50, Json::object(), kMissing, 80, 3}}, {});
  const auto withOutcomes = [&](const std::vector<Outcome>& outcomes) {
    StudyReport changed = report;
    for (size_t i = 0; i < outcomes.size(); ++i) {
      auto run = std::make_shared<AnalyzedRun>(*changed.runs[i]);
      run->run.facts.outcome = outcomes[i];
      changed.runs[i] = run;
    }
    const auto setups = runsBySetup(changed, changed.loads[0]);
    return setups.empty() ? size_t{0} : setups[0].runs.size();
  };
  CHECK(withOutcomes({Outcome::Completed, Outcome::StoppedByHand, Outcome::Completed}) == 2);
  CHECK(withOutcomes({Outcome::StoppedByHand, Outcome::StoppedByHand, Outcome::RecorderDied}) == 3);
  CHECK(withOutcomes({Outcome::Void, Outcome::Void, Outcome::Void}) == 0);
}

TEST_CASE("aFieldThatWasLevelledIsSaidToBe") {
  const StudyReport report = twoLadders();
  const LoadStanding& load = report.loads[0];
  REQUIRE(load.comparison.equalBy);
  CHECK(levelWords(load.comparison).starts_with(", at equal noise: "));
  const auto chart = rankChart(report, load);
  REQUIRE(chart);
  CHECK(chart->what.find(", at equal noise: ") != std::string::npos);
  const auto& setups = std::get<RankPlot>(chart->plot).setups;
  REQUIRE(setups.size() == 2);
  // B runs 6 K warmer at every noise; what it was run at is no repeat.
  CHECK(setups[1].value - setups[0].value == Approx(6).margin(0.2));
  CHECK(setups[0].repeats.empty());
  CHECK(levelWords(madeStudy({{"Solid"}}, {}).loads[0].comparison).empty());
}

// The rungs themselves are drawn, each ladder by its name.
TEST_CASE("laddersThatWereLevelledAreStillDrawnRungByRung") {
  const StudyReport report = twoLadders();
  const auto chart = ladderChart(report, report.loads[0]);
  REQUIRE(chart);
  const auto& plot = std::get<PlanePlot>(chart->plot);
  CHECK(plot.points.size() == 6);
  REQUIRE(plot.lines.size() == 2);
  CHECK(plot.lines[0].label == "A");
  CHECK(plot.lines[1].label == "B");
  CHECK(plot.lines[0].x == std::vector<double>{30, 60, 90});
  CHECK(chart->finding == "“A, 30 %” and “B, 30 %” are the furthest that hold");
}

TEST_CASE("theLimitOfAFigureIsInItsOwnTerms") {
  const StudyReport report = madeStudy({{"Solid", 50}}, {});
  const AnalyzedRun& run = *report.runs[0];
  CHECK(limitOfMetric(run, "cpu.temp").value_or(0) == 95);
  CHECK(limitOfMetric(run, "cpu.over_ambient_k").value_or(0) == Approx(73).margin(0.1));
  CHECK_FALSE(limitOfMetric(run, "cpu.power"));
  CHECK(figureOfRun(run, "cpu.over_ambient_k") == Approx(50).margin(0.1));
  CHECK(std::isnan(figureOfRun(run, "noise")));
  CHECK_FALSE(wasAtLimit(run, "cpu.temp"));
}
