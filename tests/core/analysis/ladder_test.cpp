// SPDX-License-Identifier: GPL-3.0-or-later
// Equal noise, power and fan speed: read off between measured settings, never beyond them.
#include "analysis/comparison/ladder.h"
#include "model/sound_level.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/made_runs.h"
#include "tests/support/words.h"

using namespace ash;
using namespace ash::tests;

namespace {

AnalyzedRun rung(const std::string& setup, double duty, double noiseDba, double overRoomK) {
  AnalyzedRun run = madeRun(setup + std::to_string(int(duty)), setup, overRoomK);
  run.run.facts.conditions = {{"cooler", setup.substr(0, setup.find(','))}, {"fan_duty", duty}};
  run.run.facts.underTest = {"cooler", "fan_duty"};
  Event noise;
  noise.kind = EventKind::Reading;
  noise.role = "noise";
  noise.value = noiseDba;
  run.run.facts.events.push_back(noise);
  return run;
}

// Two coolers by laws: kelvin over noise.
double teasel(double dba) { return 70 - 0.8 * (dba - 25); }
double plover(double dba) { return 78 - 1.1 * (dba - 25); }

std::vector<AnalyzedRun> bothLadders(bool inNames) {
  std::vector<AnalyzedRun> runs;
  for (const double duty : {30.0, 50.0, 70.0, 90.0}) {
    const double dba = 25 + (duty - 30) / 4;
    const std::string tail = inNames ? ", " + std::to_string(int(duty)) + " %" : "";
    runs.push_back(rung("Teasel" + tail, duty, dba + 1, teasel(dba + 1)));
    runs.push_back(rung("Plover" + tail, duty, dba + 3, plover(dba + 3)));
  }
  return runs;
}

}  // namespace

TEST_CASE("aMonotoneCurvePassesThroughItsPointsAndNeverOvershoots") {
  const MonotoneCurve curve({0, 1, 2, 3, 10}, {0, 0, 1, 5, 5.5});
  for (const auto& [x, y] : {std::pair{0.0, 0.0}, {1.0, 0.0}, {2.0, 1.0}, {3.0, 5.0}, {10.0, 5.5}})
    CHECK(curve.at(x) == Approx(y));
  double before = -1e-12;
  for (double x = 0; x <= 10; x += 0.01) {
    CHECK(curve.at(x) >= before - 1e-12);
    before = curve.at(x);
  }
  CHECK(std::isnan(curve.at(-0.01)));
  CHECK(std::isnan(curve.at(10.01)));
  // A straight line stays one.
  const MonotoneCurve line({1, 4, 9}, {2, 8, 18});
  CHECK(line.at(6.5) == Approx(13));
}

TEST_CASE("whatIsReadOffCarriesTheUncertaintyOfItsRungs") {
  // Half way between two rungs of a line y = 2x: half of each y, −2 of half of each x, and what the shape may be
  // between.
  const ReadOff read = readOff({{1, 2, 0.01, 0.04, 3}, {3, 6, 0.01, 0.04, 3}}, 2, "noise", "dBA");
  CHECK(read.value == Approx(4));
  CHECK(read.variance == Approx(0.25 * 0.04 * 2 + 4 * 0.25 * 0.01 * 2 + 0.65 * 16 / 48).epsilon(0.01));
  CHECK(readOff({{1, 2, 0, 0, 1}}, 1, "noise", "dBA").reason ==
        "a ladder of at least two settings with noise is needed");
  CHECK(readOff({{30, 2, 0, 0, 1}, {40, 1, 0, 0, 1}}, 25, "Noise", "dBA").reason == "its floor is 30 dBA");
  CHECK(readOff({{30, 2, 0, 0, 1}, {40, 1, 0, 0, 1}}, 45, "Noise", "dBA").reason ==
        "it was measured up to 40 dBA only");
}

TEST_CASE("theSettingThatMeetsAPowerLiesBetweenMeasuredOnes") {
  // Limit set against power drawn.
  const std::vector<Rung> rungs = {{45, 44, 0, 0, 1}, {65, 64, 0, 0, 1}, {105, 104, 0, 0, 1}};
  CHECK(settingThatMeets(rungs, 84, "W").value == Approx(85));
  const ReadOff below = settingThatMeets({{160, 150, 0, 0, 1}, {120, 137, 0, 0, 1}}, 100, "W");
  CHECK(std::isnan(below.value));
  CHECK(below.reason == "its floor is 137 W");
}

TEST_CASE("coolersAreComparedAtEqualNoise") {
  for (const bool inNames : {false, true}) {
    CompareOptions options;
    options.equal = *parseEqualBy("noise=35");
    const auto comparison = *compareRuns(bothLadders(inNames), options);
    CHECK(comparison.equalBy == "noise");
    REQUIRE(comparison.rows.size() == 2);
    CHECK(comparison.rows[0].setup == "Teasel");
    CHECK(comparison.rows[0].metrics.at("cpu.over_ambient_k").value == Approx(teasel(35)));
    const MetricRow& other = comparison.rows[1].metrics.at("cpu.over_ambient_k");
    CHECK(other.value == Approx(plover(35)));
    CHECK(other.difference == Approx(plover(35) - teasel(35)));
    CHECK(other.verdict == "worse");
    // 35 dBA lies at 25 + (duty − 30)/4 + 1 for the one and + 3 for the other.
    CHECK(comparison.rows[0].levelField == "fan_duty");
    CHECK(comparison.rows[0].levelSetting == Approx(66));
    CHECK(comparison.rows[1].levelSetting == Approx(58));
  }
}

TEST_CASE("beyondWhatWasMeasuredNothingIsCompared") {
  CompareOptions options;
  options.equal = *parseEqualBy("noise=27");  // the Plover starts at 28 dBA
  const auto comparison = *compareRuns(bothLadders(false), options);
  const MetricRow& other = comparison.rows[1].metrics.at("cpu.over_ambient_k");
  CHECK(std::isnan(other.value));
  CHECK(other.verdict == "not comparable");
  CHECK(other.reason == "Plover was not measured at 27 dBA: its floor is 28 dBA.");
  // Without a level the middle of what both were measured at: 28 to 41 dBA.
  options.equal = *parseEqualBy("noise");
  CHECK((*compareRuns(bothLadders(false), options)).equalAt == Approx(34.5));
}

TEST_CASE("whatCannotBeLevelledIsRefused") {
  CHECK_FALSE(parseEqualBy("loudness"));
  CHECK_FALSE(parseEqualBy("noise=loud"));
  CHECK_FALSE(parseEqualBy("none=3"));
  CHECK(parseEqualBy("none")->what == EqualBy::What::None);
  CompareOptions options;
  options.equal = *parseEqualBy("fan=1000");
  const auto comparison = *compareRuns(bothLadders(false), options);
  CHECK(std::any_of(comparison.checks.begin(), comparison.checks.end(), [](const ComparisonCheck& check) {
    return codeOf(check) == "equal" && check.severity == "block";
  }));
}

TEST_CASE("soundAddsUpByEnergyAndFallsWithDistance") {
  CHECK(soundSumDba({40, 40}) == Approx(43.0103));
  CHECK(soundSumDba({40, 30}) == Approx(40.4139));
  CHECK(std::isnan(soundSumDba({})));
  CHECK(soundAtDistanceDba(38.5, 0.5, 1) == Approx(38.5 - 6.0206));
  CHECK(std::isnan(soundAtDistanceDba(38.5, 0, 1)));
}

TEST_CASE("aYearCostsItsHoursAndTariff") {
  const YearlyUse use = yearlyUse(100, 4, 0.3);
  CHECK(use.kiloWattHours == Approx(146.1));
  CHECK(use.cost == Approx(43.83));
}
