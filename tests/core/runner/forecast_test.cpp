// SPDX-License-Identifier: GPL-3.0-or-later
// What a live forecast promises, held against simulated benches whose end is known.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "analysis/analyze.h"
#include "runner/earlier_runs.h"
#include "runner/settling_watch.h"
#include "sim/bench.h"
#include "tests/support/recording.h"

using namespace ash;

namespace {

struct Share {
  int right = 0, asked = 0;
  void add(bool isRight) {
    ++asked;
    right += isRight;
  }
  double percent() const { return 100.0 * right / std::max(1, asked); }
};

}  // namespace

TEST_CASE("onSimulatedBenchesTheForecastIsWithinItsIntervalAtEveryQuarter") {
  Share held;
  double error = 0;
  for (const auto& [name, setup, lengthS] :
       {std::tuple{"larch12", "mesh", 1500.0}, {"larch12", "solid", 1500.0}, {"wren", "", 5400.0}}) {
    auto spec = *sim::loadBench(name, setup);
    spec.room.driftK = 0;
    sim::Bench ahead(spec, 1);
    ahead.setLoad("vector", 1);
    ahead.advanceTo(20 * lengthS);
    for (unsigned seed = 1; seed <= 4; ++seed) {
      sim::Bench bench(spec, seed);
      bench.setLoad("vector", 1);
      SettlingWatch watch(SettlingWatch::Settings{spec.sensors.at(0).step, {}, 25, 0});
      int quarter = 1;
      for (double t = 0.5; quarter <= 3; t += 0.5) {
        bench.advanceTo(t);
        watch.take({t, bench.sense(0), bench.roomC(), bench.powerW(0)});
        if (t < quarter * lengthS / 4 + 1) continue;
        ++quarter;
        const double endsC = ahead.nodeC(0) - ahead.roomC() + bench.roomC();
        held.add(watch.verdict().forecastLow - 0.1 <= endsC && endsC <= watch.verdict().forecastHigh + 0.1);
        error += std::abs(watch.verdict().forecast - endsC);
      }
    }
  }
  INFO(held.right << " of " << held.asked << ", mean error " << error / held.asked << " K");
  CHECK(held.percent() >= 90);
  CHECK(error / held.asked < 2);
}

TEST_CASE("thePathOfAForecastNarrowsAndKeepsTheTruth") {
  auto spec = *sim::loadBench("larch12", "mesh");
  spec.room.driftK = 0;
  sim::Bench ahead(spec, 1), bench(spec, 7);
  ahead.setLoad("vector", 1);
  ahead.advanceTo(4 * 3600);
  bench.setLoad("vector", 1);
  const double endsC = ahead.nodeC(0);
  SettlingWatch watch(SettlingWatch::Settings{spec.sensors.at(0).step, {}, 5, 0});
  Share held;
  std::vector<double> widths, moves;
  double last = kMissing;
  for (double t = 0.5; t <= 1800; t += 0.5) {
    bench.advanceTo(t);
    watch.take({t, bench.sense(0), bench.roomC(), bench.powerW(0)});
    if (t < 120 || std::fmod(t, 30) != 0) continue;
    const SettlingVerdict& now = watch.verdict();
    held.add(now.forecastLow - 0.1 <= endsC && endsC <= now.forecastHigh + 0.1);
    widths.push_back(now.forecastHigh - now.forecastLow);
    if (t > 900) moves.push_back(std::abs(now.forecast - last));
    last = now.forecast;
  }
  CHECK(held.percent() >= 85);
  const auto third = static_cast<std::ptrdiff_t>(widths.size() / 3);
  CHECK(medianOf({widths.end() - third, widths.end()}) < 0.5 * medianOf({widths.begin(), widths.begin() + third}));
  CHECK(*std::max_element(moves.begin(), moves.end()) < 0.3);
}

TEST_CASE("anEarlierRunOfTheSetupSetsTheLeastTimeOfTheNext") {
  const tests::Place place;
  auto first = tests::larch("mesh", 1);
  const RunResult earlier = tests::record(tests::plan(place, "idle 1min, soak 40min"), first);
  const Figures figures = analyzeRun(tests::readBack(place, earlier.runId));
  const SettlingVerdict& verdict = *figures.channel("cpu.temp")->settled;
  REQUIRE(verdict.isSettled);
  const auto book = Book::open(place.book(), BookAccess::ReadOnly);
  RunInfo next = book->runs()->front().info;
  next.id = "next";
  CHECK(leastSoakS(*book, next) == Approx(0.6 * (verdict.atS - figures.load->startS)));
  next.setup = "another";
  CHECK(leastSoakS(*book, next) == 0);
  // The watch keeps to it.
  SettlingWatch watch(SettlingWatch::Settings{0, {}, 1, 400});
  for (double t = 0; t < 390; t += 1) watch.take({t, 60 - 30 * std::exp(-t / 20) + 0.05 * std::sin(7 * t)});
  CHECK_FALSE(watch.verdict().isSettled);
  for (double t = 390; t < 440; t += 1) watch.take({t, 60 + 0.05 * std::sin(7 * t)});
  CHECK(watch.hasSettled());
}

TEST_CASE("aSoakEndsWhenItHasSettledAndTheAnalysisOfTheRunAgrees") {
  // A fanless shell with a sensor of whole kelvins: settled long after its least time, or its time is up.
  auto spec = *sim::loadBench("wren", "");
  sim::Bench ahead(spec, 1);
  ahead.setLoad("vector", 1);
  ahead.advanceTo(12 * 3600);
  const double overRoomK = ahead.nodeC(static_cast<size_t>(spec.devices[0].node)) - ahead.roomC();
  const tests::Place place;
  for (const auto& [phases, isByItself] : {std::pair{"idle 5min, soak settled 5min..150min, measure 10min", true},
                                           {"idle 5min, soak settled 5min..20min, measure 5min", false}}) {
    SimRunBench bench({spec, "wren", 3}, 1e6);
    const RunLog log = tests::readBack(place, tests::record(tests::plan(place, phases), bench).runId);
    const PhaseSpan soak = log.facts.phases.at(1);
    sim::Bench again(spec, 3);
    again.advanceTo(soak.startS);
    again.setLoad("vector", 1);
    again.advanceTo(soak.endS);
    const double missingK = overRoomK + again.roomC() - again.nodeC(static_cast<size_t>(spec.devices[0].node));
    std::string end;
    for (const Event& event : log.facts.events) {
      if (event.text.starts_with("Soak ended: ")) end = event.text;
    }
    INFO(phases << ": " << end << " after " << soak.endS - soak.startS << " s, " << missingK << " K missing");
    const Figures figures = analyzeRun(log);
    CHECK(figures.channel("cpu.temp")->settled->isSettled == isByItself);
    if (isByItself) {
      CHECK(end == "Soak ended: settled.");
      CHECK(std::abs(missingK) < 0.8);
    } else {
      double told = kMissing;
      REQUIRE(std::sscanf(end.c_str(), "Soak ended: its most time was up, %lf K short of where it settles.", &told) ==
              1);
      CHECK(told == Approx(missingK).margin(3));
    }
  }
}

TEST_CASE("whatASoakIsShortOfIsSaidInKelvin") {
  CHECK(shortOfSettledWords(2.34) == "2.3 K short of where it settles");
  CHECK(shortOfSettledWords(-1.26) == "1.3 K above where it settles");
  CHECK(shortOfSettledWords(0.04) == "within 0.1 K of where it settles");
  CHECK(shortOfSettledWords(kMissing) == "how far from where it settles cannot be told");
  SettlingVerdict verdict;
  CHECK(shortOfSettledWords(verdict) == "how far from where it settles cannot be told");
  verdict.remainingK = 1.04;
  CHECK(shortOfSettledWords(verdict) == "1.0 K short of where it settles");
  verdict.remainingK = 0;
  verdict.isGoverned = true;
  CHECK(shortOfSettledWords(verdict) == "held at its limit");
  verdict.held = {{"cpu.power", 52.3, 51.9, 52.7, 1.43}};
  CHECK(shortOfSettledWords(verdict) == "held at its limit, with 1.4 % more than it will hold");
  verdict.isSettled = true;
  CHECK(shortOfSettledWords(verdict) == "held at its limit");
}

TEST_CASE("aSoakAtTheLimitEndsWhenWhatIsDeliveredHasSettled") {
  // 72 K over room on 0.45 + 0.55 K/W: 72 W for ever, more while the sink is cold; τ = 400·0.45.
  const double endW = 72, startW = 110, tauS = 180;
  SettlingWatch watch({1, 95.0, 5, 0, {"cpu.power"}});
  watch.beginLoad();
  std::mt19937 random(4);
  std::normal_distribution<double> normal;
  double endedS = kMissing;
  for (double t = 0; t < 3600 && std::isnan(endedS); t += 1) {
    const double watts = endW + (startW - endW) * std::exp(-t / tauS) + 0.4 * normal(random);
    watch.take({t, 95, 23, watts, {watts}});
    if (t > 120 && t < 400) {
      CHECK_FALSE(watch.hasSettled());
      CHECK(watch.settlesAtS() > t);
    }
    if (watch.hasSettled()) endedS = t;
  }
  // Half a percent is left after τ·ln(52.8/0.5) = 839 s; the recorder wants some more to be sure.
  CHECK(endedS > 800);
  CHECK(endedS < 1300);
  CHECK(heldWords(watch.verdict().held).substr(0, 2) == "72");
}
