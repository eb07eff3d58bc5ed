// SPDX-License-Identifier: GPL-3.0-or-later
// What instruments may be off by, for each way that a figure comes from them. Expected values: a stated ±a is a
// rectangle with the standard uncertainty a/√3, two instruments add as the root of their squares (JCGM 100:2008, 4.3.7
// and 5.1.2).
#include "analysis/catalogue/accuracy.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/made_runs.h"

using namespace ash;
using namespace ash::tests;

namespace {

const double kRoot3 = std::sqrt(3.0);

/// Processor at 70 °C in a room of 20 °C, 80 W at the wall; each with an instrument of its own.
struct Measured {
  RunFacts facts;
  Figures figures;

  Measured() {
    AnalyzedRun run;
    addMean(run, "cpu.temp", Quantity::Temperature, 70, 0);
    addMean(run, "board.temp.vrm", Quantity::Temperature, 60, 0);
    addMean(run, "room.temp", Quantity::Temperature, 20, 0);
    addMean(run, "wall.power", Quantity::Power, 80, 0);
    figures = run.figures;
    figures.efficiency.powerRole = "wall.power";
    facts.accuracies["cpu.temp"] = {1, 1, "probe"};
    facts.accuracies["board.temp.vrm"] = {2, 0, "clip"};
    facts.accuracies["room.temp"] = {0.5, 0, "thermometer"};
    facts.accuracies["wall.power"] = {0.8, 1, "meter"};
    facts.accuracies["noise"] = {1.5, 0, "microphone"};
  }
  FigureAccuracy of(const Figure& figure, double value) const { return accuracyOf(facts, figures, figure, value); }
};

}  // namespace

TEST_CASE("aTemperatureIsAsGoodAsItsProbeAtThatReading") {
  const Measured measured;
  CHECK(measured.of("cpu.temp", 70).se == Approx((1 + 0.7) / kRoot3));
  CHECK(measured.of("cpu.peak_c", 90).se == Approx((1 + 0.9) / kRoot3));  // 1 % of the reading itself
  CHECK(measured.of("cpu.temp", 70).instrument == "probe");
  CHECK(measured.of("board.vrm.temp", 60).se == Approx(2 / kRoot3));  // read as board.temp.vrm
}

TEST_CASE("headroomIsWorkedOutFromTheProbesReadingAndOverRoomFromTwoInstruments") {
  const Measured measured;
  CHECK(measured.of("cpu.headroom_k", 25).se == Approx((1 + 0.7) / kRoot3));  // not 1 % of the 25 K
  const FigureAccuracy over = measured.of("cpu.over_ambient_k", 50);
  CHECK(over.se == Approx(std::hypot(1.7, 0.5) / kRoot3));
  CHECK(over.instrument == "probe, thermometer");
}

TEST_CASE("energiesAndWhatIsDividedByThemAreOffByTheShareOfTheirPower") {
  const Measured measured;
  const double share = 0.8 / 80 + 0.01;
  CHECK(measured.of("energy_j", 40'000).se == Approx(share * 40'000 / kRoot3));
  CHECK(measured.of("work_per_joule", 4).se == Approx(share * 4 / kRoot3));
  CHECK(measured.of("score_per_watt", 12).instrument == "meter");
}

TEST_CASE("atRestTheSameInstrumentMeasures") {
  const Measured measured;
  CHECK(measured.of("wall.power", 80).se == Approx(1.6 / kRoot3));
  CHECK(measured.of("idle.wall.power", 40).se == Approx(1.2 / kRoot3));
  CHECK(measured.of("idle.noise", 30).se == Approx(1.5 / kRoot3));
}

TEST_CASE("withoutAnInstrumentOrItsReadingNothingIsMadeUp") {
  Measured measured;
  CHECK(measured.of("gpu.temp", 50).se == 0);
  CHECK(measured.of("price", 27).se == 0);
  measured.figures.efficiency.powerRole = "cpu.power";  // which was not logged
  CHECK(measured.of("energy_j", 40'000).se == 0);
  measured.facts.accuracies.clear();
  CHECK(measured.of("cpu.temp", 70).instrument.empty());
}
