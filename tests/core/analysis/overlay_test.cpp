// SPDX-License-Identifier: GPL-3.0-or-later
// Runs laid over each other, against values known by formula.
#include "analysis/comparison/overlay.h"
#include "analysis/analyze.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/known_logs.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun warmRun(double riseK, double noiseK = 0, double roomKPerS = 0) {
  WarmUp warm;
  warm.riseK = riseK;
  warm.tauS = 40;
  warm.noiseK = noiseK;
  LogMaker maker(720, 1);
  maker.add("cpu.temp", warm.function())
      .add("room.temp", [roomKPerS](double t) { return 20.0 + roomKPerS * t; })
      .add("cpu.clock", [](double) { return 4000.0; })
      .add("cpu.power", [](double t) { return t < 60 ? 10.0 : 80.0; });
  maker.phase(PhaseKind::Idle, 0, 60).phase(PhaseKind::Soak, 60, 500).phase(PhaseKind::Measure, 500, 720);
  maker.run.facts.limits["cpu.temp"]["throttle"] = 95;
  maker.run.facts.started = "2026-09-24T10:00:00+02:00";
  AnalyzedRun run{maker.run, {}};
  run.figures = analyzeRun(run.run);
  return run;
}

double at(const Series& series, double t) { return interpolate(series, t); }

}  // namespace

TEST_CASE("timesOfTheDayAreReadWithTheirOffset") {
  CHECK(epochOf("1970-01-01T00:00:00+00:00") == 0);
  CHECK(epochOf("2026-09-24T10:00:00+02:00") == epochOf("2026-09-24T08:00:00+00:00"));
  CHECK(epochOf("2026-09-24T10:00:00+02:00") - epochOf("2026-09-24T09:59:00+02:00") == 60);
  CHECK(std::isnan(epochOf("yesterday")));
}

TEST_CASE("runsAreAlignedByLoadStartByTheClockOrWhereTheySettled") {
  const AnalyzedRun run = warmRun(50, 0.1);
  REQUIRE(run.figures.channel("cpu.temp")->settled->isSettled);
  CHECK(zeroOf(run, Align::LoadStart) == 60);
  const double epoch = epochOf(run.run.facts.started) - 100;  // another run began 100 s before
  CHECK(zeroOf(run, Align::ClockTime, epoch) == -100);
  CHECK(zeroOf(run, Align::Settled) == run.figures.channel("cpu.temp")->settled->atS);
  const Series series = tracedSeries(run, "cpu.temp", Align::LoadStart, Scale::Celsius, 0);
  CHECK(series.t.front() == -60);
  CHECK(at(series, 40) == Approx(22 + 12 + 50 * (1 - std::exp(-1.0))).margin(0.5));
}

TEST_CASE("aTemperatureIsShownOverRoomOrAsWhatIsLeft") {
  const AnalyzedRun run = warmRun(50, 0, 1.0 / 720);
  const Series celsius = tracedSeries(run, "cpu.temp", Align::LoadStart, Scale::Celsius, 0);
  const Series over = tracedSeries(run, "cpu.temp", Align::LoadStart, Scale::OverRoom, 0);
  const Series left = tracedSeries(run, "cpu.temp", Align::LoadStart, Scale::Headroom, 0);
  CHECK(at(celsius, 300) - at(over, 300) == Approx(20.5).margin(1e-9));  // the room at 360 s
  CHECK(at(celsius, 300) + at(left, 300) == Approx(95));
  // What is no temperature stays what it is; what has no limit has no headroom.
  CHECK(at(tracedSeries(run, "cpu.clock", Align::LoadStart, Scale::Headroom, 0), 300) == 4000);
  CHECK(tracedSeries(run, "cpu.energy", Align::LoadStart, Scale::Celsius, 0).empty());
}

TEST_CASE("smoothingKeepsAStraightLineAndHalvesASpike") {
  Series line;
  for (int i = 0; i <= 100; ++i) {
    line.t.push_back(i);
    line.v.push_back(3.0 * i);
  }
  const Series smooth = smoothed(line, 10);
  for (size_t i = 10; i < 90; ++i) CHECK(smooth.v[i] == Approx(line.v[i]));
  line.v[50] += 11;
  CHECK(smoothed(line, 10).v[50] == Approx(150 + 1.0));  // 11 over the 11 readings of 10 s
  CHECK(smoothed(line, 0).v == line.v);
}

TEST_CASE("repeatsBecomeABandWhereAllOfThemAre") {
  const Series a{{0, 10, 20}, {1, 1, 1}}, b{{5, 25}, {3, 3}};
  const Band band = bandOf({a, b});
  REQUIRE(band.t.size() == 3);  // as fine as the finest
  CHECK(band.t.front() == 5);
  CHECK(band.t.back() == 20);
  for (size_t i = 0; i < 3; ++i) {
    CHECK(band.mean[i] == 2);
    CHECK(band.low[i] == 1);
    CHECK(band.high[i] == 3);
  }
  CHECK(bandOf({a, {{30, 40}, {1, 1}}}).t.empty());
  CHECK(bandOf({}).t.empty());
}

TEST_CASE("aSpikeOfOneRepeatIsInTheBandWhereverItStands") {
  Series a, b;
  for (int i = 0; i < 400; ++i) {
    a.t.push_back(i);
    a.v.push_back(50);
    b.t.push_back(i + 0.37);
    b.v.push_back(i == 211 ? 90 : 50);
  }
  for (const size_t points : {20, 137, 1000}) {
    const Band band = bandOf({a, b}, points);
    INFO(points);
    CHECK(*std::max_element(band.high.begin(), band.high.end()) == 90);
    CHECK(*std::min_element(band.low.begin(), band.low.end()) == 50);
  }
}

TEST_CASE("oneRunIsTakenAwayFromAnotherWhereBothAre") {
  const Series difference = differenceOf(Series{{0, 10, 20}, {5, 6, 7}}, Series{{10, 30}, {2, 4}});
  CHECK(difference.t == std::vector<double>{10, 20});
  CHECK(difference.v == std::vector<double>{4, 4});
  CHECK(differenceOf(Series{{0}, {1}}, Series{}).empty());
}

TEST_CASE("figuresOfTheDefaultWindowAreThoseOfTheAnalysis") {
  const AnalyzedRun run = warmRun(50, 0.1);
  const auto window = windowOfRun(run, {}, Align::LoadStart);
  REQUIRE(window);
  CHECK(window->startS == 500);
  const WindowFigures figures = figuresIn(run, *window);
  const ChannelFigures& analysis = *run.figures.channel("cpu.temp");
  CHECK(figures.overRoomK == Approx(*analysis.overAmbientK).epsilon(1e-12));
  CHECK(figures.overRoomSe == Approx(analysis.overAmbientSeK).epsilon(1e-12));
  CHECK(figures.clockMhz == 4000);
  CHECK(figures.powerW == 80);
  CHECK_FALSE(figures.isAtLimit);
  CHECK(std::isnan(figures.noiseDba));
}

TEST_CASE("aWindowOfOnesOwnIsCutToTheRun") {
  const AnalyzedRun run = warmRun(50, 0.1);
  const WindowChoice own{WindowChoice::Kind::Own, 100, 200};
  const auto window = windowOfRun(run, own, Align::LoadStart);
  REQUIRE(window);
  CHECK(window->startS == 160);
  CHECK(window->endS == 260);
  CHECK_FALSE(windowOfRun(run, {WindowChoice::Kind::Own, 5000, 6000}, Align::LoadStart));
  CHECK(windowOfRun(run, {WindowChoice::Kind::Own, 100, 6000}, Align::LoadStart)->endS == 719);
  const auto settled = windowOfRun(run, {WindowChoice::Kind::FromSettled, 0, 0}, Align::LoadStart);
  REQUIRE(settled);
  CHECK(settled->endS == run.figures.load->endS);
}

TEST_CASE("repeatsInAWindowAreAveragedAndTheirIntervalIsThatOfEveryComparison") {
  const auto figures = [](double overRoomK, double se, double highestC, double noiseDba) {
    WindowFigures one;
    one.overRoomK = overRoomK;
    one.overRoomSe = se;
    one.highestC = highestC;
    one.noiseDba = noiseDba;
    one.slowedShare = 0.1;
    return one;
  };
  // Three repeats that scatter: Student's t of two degrees of freedom, 4.3027 (tables), times sd / sqrt(3).
  const auto three = averaged({figures(40, 0.05, 65, 38), figures(42, 0.05, 71, kMissing), figures(41, 0.05, 66, 40)});
  CHECK(three.mean.overRoomK == Approx(41));
  CHECK(three.mean.highestC == 71);
  CHECK(three.mean.noiseDba == Approx(39));  // the mean of those that have it
  CHECK(three.mean.slowedShare == Approx(0.1));
  CHECK(three.overRoomHalfK == Approx(4.3027 * 1.0 / std::sqrt(3)).epsilon(1e-4));
  // Repeats that agree better than each can be told are no surer than that: 1.96 times 0.6 / sqrt(2).
  const auto alike = averaged({figures(40, 0.6, 65, 38), figures(40, 0.6, 65, 38)});
  CHECK(alike.overRoomHalfK == Approx(1.95996 * 0.6 / std::sqrt(2)).epsilon(1e-4));
  // One alone is as sure as itself; none says nothing.
  CHECK(averaged({figures(40, 0.5, 65, 38)}).overRoomHalfK == Approx(1.95996 * 0.5).epsilon(1e-4));
  CHECK(std::isnan(averaged({}).overRoomHalfK));
  CHECK(std::isnan(averaged({figures(kMissing, kMissing, 65, 38)}).mean.overRoomK));
  CHECK(std::isnan(averaged({figures(kMissing, kMissing, 65, 38)}).overRoomHalfK));
}
