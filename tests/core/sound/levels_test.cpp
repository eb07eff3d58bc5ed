// SPDX-License-Identifier: GPL-3.0-or-later
// The weighting filter and the level meter against the tables of IEC 61672-1:2013.
#include <array>
#include <catch2/catch.hpp>
#include <cmath>

#include "sound/level_meter.h"
#include "tests/support/sounds.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Table 3: A-weightings at the exact frequencies 1000 · 10^(n/10), n from −20, and the acceptance limits of class 1.
struct TableRow {
  double weightDb, above, below;
};
constexpr double kNoLimit = INFINITY;
constexpr std::array kTable3 = {
    TableRow{-70.4, 3.0, kNoLimit}, TableRow{-63.4, 2.5, kNoLimit}, TableRow{-56.7, 2.0, 4.0},
    TableRow{-50.5, 2.0, 2.0},      TableRow{-44.7, 2.0, 1.5},      TableRow{-39.4, 1.5, 1.5},
    TableRow{-34.6, 1.0, 1.0},      TableRow{-30.2, 1.0, 1.0},      TableRow{-26.2, 1.0, 1.0},
    TableRow{-22.5, 1.0, 1.0},      TableRow{-19.1, 1.0, 1.0},      TableRow{-16.1, 1.0, 1.0},
    TableRow{-13.4, 1.0, 1.0},      TableRow{-10.9, 1.0, 1.0},      TableRow{-8.6, 1.0, 1.0},
    TableRow{-6.6, 1.0, 1.0},       TableRow{-4.8, 1.0, 1.0},       TableRow{-3.2, 1.0, 1.0},
    TableRow{-1.9, 1.0, 1.0},       TableRow{-0.8, 1.0, 1.0},       TableRow{0.0, 0.7, 0.7},
    TableRow{0.6, 1.0, 1.0},        TableRow{1.0, 1.0, 1.0},        TableRow{1.2, 1.0, 1.0},
    TableRow{1.3, 1.0, 1.0},        TableRow{1.2, 1.0, 1.0},        TableRow{1.0, 1.0, 1.0},
    TableRow{0.5, 1.5, 1.5},        TableRow{-0.1, 1.5, 2.0},       TableRow{-1.1, 1.5, 2.5},
    TableRow{-2.5, 2.0, 3.0},       TableRow{-4.3, 2.0, 5.0},       TableRow{-6.6, 2.5, 16.0},
    TableRow{-9.3, 3.0, kNoLimit}};

double frequencyOf(size_t row) { return 1000 * std::pow(10, (static_cast<double>(row) - 20) / 10); }

// What a meter shows of a tone, once its filters have swung in.
double shownDb(double hz, double db, double rateHz = 48'000) {
  LevelMeter meter(rateHz);
  const Samples tone = toneOf(hz, db, 2, rateHz);
  const std::span<const float> all(tone);
  meter.take(all.first(all.size() / 2));
  meter.finish();
  meter.take(all.subspan(all.size() / 2));
  return meter.finish().equivalentDb;
}

}  // namespace

TEST_CASE("theFormulaOfTheWeightingIsTheTable") {
  for (size_t row = 0; row < kTable3.size(); ++row) {
    INFO(frequencyOf(row));
    CHECK(aWeightingDb(frequencyOf(row)) == Approx(kTable3[row].weightDb).margin(0.051));
  }
}

TEST_CASE("theFilterKeepsClassOneAtEveryRateThatIsTaken") {
  const double rateHz = GENERATE(44'100.0, 48'000.0, 96'000.0, 192'000.0);
  const AWeighting filter(rateHz);
  for (size_t row = 0; row < kTable3.size(); ++row) {
    INFO(rateHz << " samples a second, " << frequencyOf(row) << " Hz");
    const double off = filter.gainDb(frequencyOf(row)) - kTable3[row].weightDb;
    CHECK(off <= kTable3[row].above);
    CHECK(off >= -kTable3[row].below);
  }
}

TEST_CASE("tonesAreShownAsTheTableWeighsThem") {
  // The filter that runs, not the formula of its gain. Tones that fit the interval a whole number of times.
  for (const auto& [hz, weightDb] :
       {std::pair(100.0, -19.1), {500.0, -3.2}, {1000.0, 0.0}, {4000.0, 1.0}, {8000.0, -1.1}}) {
    INFO(hz);
    CHECK(shownDb(hz, -30) == Approx(-30 + weightDb).margin(0.25));
  }
}

TEST_CASE("theMeterIsLinearOverItsRange") {
  // A tone of 1 kHz, 0 to 100 dB below full scale: IEC 61672-1, 5.6, allows class 1 0.8 dB.
  for (double db = 0; db >= -100; db -= 20) CHECK(shownDb(1000, db * 0.999) == Approx(db * 0.999).margin(0.05));
}

TEST_CASE("shortBurstsAnswerAsTheTableOfTimeWeightingF") {
  // Table 4: the loudest moment of a 4 kHz burst against the steady tone; class 1 allows ±0.5 dB from 0.25 s down to
  // 50 ms, +1.0/−1.5 at 5 ms, +1.0/−3.0 at 1 ms.
  struct Burst {
    double milliseconds, responseDb, above, below;
  };
  for (const Burst& burst :
       {Burst{1000, 0.0, 0.5, 0.5}, Burst{500, -0.1, 0.5, 0.5}, Burst{200, -1.0, 0.5, 0.5}, Burst{100, -2.6, 1.0, 1.0},
        Burst{50, -4.8, 1.0, 1.0}, Burst{20, -8.3, 1.0, 1.0}, Burst{10, -11.1, 1.0, 1.0}, Burst{5, -14.1, 1.0, 1.5},
        Burst{2, -18.0, 1.0, 1.5}, Burst{1, -21.0, 1.0, 2.0}}) {
    INFO(burst.milliseconds << " ms");
    LevelMeter steady(48'000), meter(48'000);
    steady.take(toneOf(4000, -20, 2));
    meter.take(joined(toneOf(4000, -20, burst.milliseconds / 1000), Samples(48'000)));
    const double off = meter.finish().fastMaxDb - steady.finish().fastMaxDb - burst.responseDb;
    CHECK(off <= burst.above);
    CHECK(off >= -burst.below);
  }
}

TEST_CASE("theEquivalentLevelIsThatOfTheEnergy") {
  // Half the time 20 dB louder: 10·lg((1 + 0.01) / 2) over the louder one.
  LevelMeter meter(48'000);
  meter.take(joined(toneOf(1000, -20, 2), toneOf(1000, -40, 2)));
  CHECK(meter.finish().equivalentDb == Approx(-20 + 10 * std::log10(1.01 / 2)).margin(0.02));
}

TEST_CASE("anIntervalBeginsAnew") {
  LevelMeter meter(48'000);
  meter.take(toneOf(1000, -10, 1));
  meter.finish();
  meter.take(toneOf(1000, -30, 1));
  // The time weighting still falls from what was before, by 4.34 dB in 125 ms; the mean does not.
  const SoundLevels second = meter.finish();
  CHECK(second.equivalentDb == Approx(-30).margin(0.1));
  CHECK(second.fastMaxDb == Approx(-10).margin(0.5));
}

TEST_CASE("clippedSoundAndADeadMicrophoneAreTold") {
  const auto levelsOf = [](const Samples& samples) {
    LevelMeter meter(48'000);
    meter.take(samples);
    return meter.finish();
  };
  Samples loud = toneOf(1000, 6, 1);
  for (float& sample : loud) sample = std::clamp(sample, -1.0F, 32767.0F / 32768);
  CHECK(levelsOf(loud).isClipped);
  CHECK_FALSE(levelsOf(toneOf(1000, -0.1, 1)).isClipped);
  Samples oneKnock = toneOf(1000, -40, 1);
  oneKnock[1000] = 1;
  CHECK_FALSE(levelsOf(oneKnock).isClipped);
  const SoundLevels dead = levelsOf(Samples(48'000, 0.01F));
  CHECK(dead.isDead);
  CHECK(std::isnan(dead.equivalentDb));
  CHECK(std::isnan(levelsOf({}).equivalentDb));
  CHECK_FALSE(levelsOf(noiseOf(-100, 1)).isDead);
}
