// SPDX-License-Identifier: GPL-3.0-or-later
// The planes of a window: clock against temperature, power against clock, how long each clock was held.
#include "report/charts/window_charts.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Two clocks in turn, the lower one for a quarter of each minute.
double sawClock(double t) { return std::fmod(t, 60) < 15 ? 3000 : 3600; }

AnalyzedRun runWithClock(const char* setup, double overRoomK) {
  return madeRunOf(
      {.setup = setup, .overRoomK = overRoomK, .more = [](LogMaker& maker) { maker.add("cpu.clock", sawClock); }}, 0);
}

const PlanePlot& windowPlane(const std::optional<Chart>& chart) { return std::get<PlanePlot>(chart->plot); }

}  // namespace

TEST_CASE("theShareOfEachClockIsThatOfTheTime") {
  const AnalyzedRun run = runWithClock("Mesh", 50);
  const auto chart = windowClockShares({{&run, "Mesh", 2, {600, 900}}});
  REQUIRE(chart);
  const PlotLine& line = windowPlane(chart).lines.front();
  CHECK(line.setupIndex == 2);
  double sum = 0, low = 0;
  for (size_t i = 0; i < line.x.size(); ++i) {
    sum += line.y[i];
    if (line.x[i] <= 3000 && line.y[i] > 0) low += line.y[i];
  }
  CHECK(sum == Approx(100));
  CHECK(low == Approx(25).margin(0.4));
  CHECK(line.y.front() == 0);
  CHECK(line.y.back() == 0);
  CHECK(chart->spoken.find("Mesh most often 3600 to 3650") != std::string::npos);
}

TEST_CASE("aStretchThatIsMissingIsNotGivenToTheReadingBeforeIt") {
  // 1, 1, 1, then half a minute nothing, then 2 for as long as 1 was there.
  Series series;
  for (const double t : {0.0, 1.0, 2.0, 33.0, 34.0, 35.0}) {
    series.t.push_back(t);
    series.v.push_back(t < 10 ? 1.5 : 2.5);
  }
  const ShareBins bins = sharesOfTime(series, 1);
  REQUIRE(bins.from == std::vector<double>{1, 2});
  // 1 + 1 + 3 s against 1 + 1 + 1 s.
  CHECK(bins.percent[0] == Approx(62.5));
  CHECK(bins.percent[1] == Approx(37.5));
}

TEST_CASE("binsBeginAtAMultipleAlsoBelowZero") {
  Series series;
  series.t = {0, 1, 2};
  series.v = {-0.5, 0.5, 0.5};
  const ShareBins bins = sharesOfTime(series, 1);
  CHECK(bins.from == std::vector<double>{-1, 0});
  CHECK(bins.percent[1] == Approx(200.0 / 3));
  CHECK(sharesOfTime({}, 1).from.empty());
  CHECK(sharesOfTime(series, 0).from.empty());
  CHECK(sharesOfTime(series, INFINITY).from.empty());
  // Far up, one more is no other number: what a log of nonsense tells ends all the same.
  Series far;
  far.t = {0, 1, 2};
  far.v = {1e300, 1e300, 1e300};
  REQUIRE(sharesOfTime(far, 50).from.size() == 1);
  CHECK(sharesOfTime(far, 50).percent[0] == Approx(100));
  series.v = {0, 1e12, 5};
  CHECK(sharesOfTime(series, 1).from.empty());
}

TEST_CASE("aTrailHasTheMeansOfItsWindowOnly") {
  const AnalyzedRun run = runWithClock("Mesh", 50);
  const auto chart = windowClockHeat({{&run, "Mesh", 0, {840, 900}}});
  REQUIRE(chart);
  const PlotLine& trail = windowPlane(chart).lines.front();
  CHECK(trail.stroke == PlotLine::Stroke::Trail);
  // Settled at 22 + 50 °C; before it the way up had all temperatures from 30 on.
  for (const double celsius : trail.x) CHECK(celsius == Approx(72).margin(0.5));
  CHECK(meanOf(trail.y) == Approx(3450).margin(20));
  CHECK(chart->spoken.find("Mesh on average 34") != std::string::npos);
}

TEST_CASE("powerStandsOverClock") {
  const AnalyzedRun one = runWithClock("Mesh", 50), other = runWithClock("Solid", 60);
  const auto chart = windowPowerClock({{&one, "Mesh", 0, {600, 900}}, {&other, "Solid", 1, {600, 900}}});
  REQUIRE(chart);
  REQUIRE(windowPlane(chart).lines.size() == 2);
  for (const double watts : windowPlane(chart).lines[1].y) CHECK(watts == Approx(80));
  CHECK(windowPlane(chart).x.title.find("MHz") != std::string::npos);
}

TEST_CASE("withoutAClockThereIsNoPlane") {
  const AnalyzedRun run = madeRunOf({.setup = "Mesh"}, 0);
  const std::vector<ShownWindow> shown = {{&run, "Mesh", 0, {600, 900}}};
  CHECK_FALSE(windowClockHeat(shown));
  CHECK_FALSE(windowPowerClock(shown));
  CHECK_FALSE(windowClockShares(shown));
  CHECK_FALSE(windowClockShares({}));
}

TEST_CASE("whereAnotherDeviceWorkedItIsLeftOutAndNamed") {
  const AnalyzedRun one = runWithClock("Mesh", 50);
  AnalyzedRun other = runWithClock("Card", 60);
  other.figures.worked = DeviceKind::Gpu;
  const auto chart = windowClockHeat({{&one, "Mesh", 0, {600, 900}}, {&other, "Card", 1, {600, 900}}});
  REQUIRE(chart);
  CHECK(windowPlane(chart).lines.size() == 1);
  CHECK(chart->what.find("without Card") != std::string::npos);
}
