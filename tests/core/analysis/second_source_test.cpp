// SPDX-License-Identifier: GPL-3.0-or-later
// Two meters of one thing: told when they part, chosen by who measures, and in the interval.
#include <catch2/catch.hpp>
#include <cmath>

#include "analysis/analyze.h"
#include "analysis/catalogue/accuracy.h"
#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

RunLog twoMeters(double firstW, double secondW) {
  LogMaker maker(900, 1);
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 600).phase(PhaseKind::Measure, 600, 900);
  maker.add("cpu.temp", WarmUp().function());
  maker.add("wall.power", [&](double t) { return t < 60 ? 50 : firstW; });
  maker.add("wall2.power", [&](double t) { return t < 60 ? 50 : secondW; });
  return maker.run;
}

std::vector<std::string> disagreements(const RunLog& run) {
  std::vector<std::string> texts;
  for (const Problem& problem : analyzeRun(run).problems) {
    if (problem.kind == ProblemKind::SourcesDisagree) texts.push_back(problem.channel + ": " + problem.text);
  }
  return texts;
}

}  // namespace

TEST_CASE("twoMetersThatPartByThreePercentAreTold") {
  CHECK(disagreements(twoMeters(200, 206)) ==
        std::vector<std::string>{"wall2.power: wall.power says 200.0 W and wall2.power 206.0, too far apart for one "
                                 "thing: say on Readings which one is quoted."});
  CHECK(disagreements(twoMeters(200, 203)).empty());
}

TEST_CASE("whatBothMayBeOffByIsNoDisagreement") {
  RunLog run = twoMeters(200, 206);
  run.facts.accuracies["wall.power"] = {1, 1, "a"};   // ±3 W at 200 W
  run.facts.accuracies["wall2.power"] = {0, 2, "b"};  // ±4.1 W
  CHECK(disagreements(run).empty());
  run.facts.accuracies["wall2.power"] = {0, 1, "b"};  // ±2.1 W, together 5.1
  CHECK(disagreements(run).size() == 1);
}

TEST_CASE("metersAtTwoPlacesMeasureTwoThings") {
  RunLog run = twoMeters(200, 260);
  run.facts.places = {{"wall.power", "whole machine"}, {"wall2.power", "before the UPS"}};
  CHECK(disagreements(run).empty());
  run.facts.places["wall2.power"] = "whole machine";
  CHECK(disagreements(run).size() == 1);
}

TEST_CASE("theIntervalReachesToWhatTheOtherMeterSays") {
  RunLog run = twoMeters(200, 206);
  run.facts.accuracies["wall.power"] = {0, 0.5, "a"};
  const Figures figures = analyzeRun(run);
  const FigureAccuracy accuracy = accuracyOf(run.facts, figures, FigureId::WallPower, 200);
  // JCGM 100:2008, 4.3.7: rectangles of ±1 W as stated and ±6 W as the other says.
  CHECK(accuracy.se == Approx(std::hypot(1, 6) / std::sqrt(3.0)));
  CHECK(1.96 * accuracy.se > 6);
}
