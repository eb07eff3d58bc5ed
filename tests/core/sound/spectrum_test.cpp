// SPDX-License-Identifier: GPL-3.0-or-later
// Third-octave bands and tones of sounds that are known.
#include <catch2/catch.hpp>
#include <cmath>
#include <numeric>

#include "model/sound_level.h"
#include "sound/level_meter.h"
#include "sound/sound_spectrum.h"
#include "sound/weighting.h"
#include "tests/support/sounds.h"

using namespace ash;
using namespace ash::tests;

namespace {

PowerSpectrum spectrumOf(const Samples& samples, double rateHz = 48'000) {
  SpectrumAverage average(rateHz);
  // In pieces of an odd length, as a device gives them.
  const std::span<const float> all(samples);
  for (size_t at = 0; at < all.size(); at += 1777)
    average.take(all.subspan(at, std::min<size_t>(1777, all.size() - at)));
  return average.finish();
}

// ECMA-74, annex D: the critical band around a frequency.
double criticalHz(double hz) { return 25 + 75 * std::pow(1 + 1.4 * std::pow(hz / 1000, 2), 0.69); }

// White noise of −60 dB and a tone that stands so far over its critical band.
Samples whine(double hz, double overDb, double seconds, unsigned seed = 1) {
  const double inBandDb = -60 + 10 * std::log10(criticalHz(hz) / 24'000);
  return noiseOf(-60, seconds, seed) + toneOf(hz, inBandDb + overDb, seconds);
}

}  // namespace

TEST_CASE("theSpectrumHoldsThePowerOfTheSound") {
  // Parseval: all lines together are the mean square.
  for (const double rateHz : {44'100.0, 48'000.0, 96'000.0}) {
    const Samples noise = noiseOf(-20, 4, 3, rateHz);
    const double square =
        std::inner_product(noise.begin(), noise.end(), noise.begin(), 0.0) / static_cast<double>(noise.size());
    const PowerSpectrum spectrum = spectrumOf(noise, rateHz);
    CHECK(std::accumulate(spectrum.power.begin(), spectrum.power.end(), 0.0) == Approx(square).epsilon(0.03));
    CHECK(spectrum.widthHz * static_cast<double>(spectrum.power.size() - 1) == Approx(rateHz / 2));
  }
}

TEST_CASE("aToneStandsInItsBandAndInNoOther") {
  const auto levels = bandLevelsDb(spectrumOf(toneOf(2500, -40, 2)));
  for (size_t band = 0; band < levels.size(); ++band) {
    INFO(kBandsHz[band]);
    if (kBandsHz[band] == 2500)
      CHECK(levels[band] == Approx(-40 + 1.3).margin(0.1));  // A-weighting at 2.5 kHz: IEC 61672-1, table 3
    else
      CHECK_FALSE(levels[band] > -100);
  }
}

TEST_CASE("theBandsOfWhiteNoiseRiseByOneDecibelAndWeigh") {
  // White noise has 10 lg of the band's width: bands are 10^(1/20) to both sides of their middle.
  const auto levels = bandLevelsDb(spectrumOf(noiseOf(-30, 20)));
  for (size_t band = 0; band < levels.size(); ++band) {
    INFO(kBandsHz[band]);
    const double middleHz = 1000 * std::pow(10, (static_cast<double>(band) - 10) / 10);
    const double widthHz = middleHz * (std::pow(10, 0.05) - std::pow(10, -0.05));
    // Few lines lie in the low bands.
    const double margin = 4.34 * 2.5 / std::sqrt(widthHz * 20);
    CHECK(levels[band] ==
          Approx(-30 + 10 * std::log10(widthHz / 24'000) + aWeightingDb(middleHz)).margin(margin + 0.1));
  }
}

TEST_CASE("theBandsAddUpToTheLevel") {
  // Sound that lies within the bands: tones of 200 Hz to 8 kHz.
  const Samples sound = toneOf(200, -30, 4) + toneOf(1000, -40, 4) + toneOf(3000, -45, 4) + toneOf(8000, -42, 4);
  const auto levels = bandLevelsDb(spectrumOf(sound));
  std::vector<double> told;
  for (const double level : levels) {
    if (std::isfinite(level)) told.push_back(level);
  }
  LevelMeter meter(48'000);
  meter.take(sound);
  CHECK(soundSumDba(told) == Approx(meter.finish().equivalentDb).margin(0.3));
}

TEST_CASE("aWhineIsFoundWithItsFrequencyAndHowFarItStandsOut") {
  for (const double hz : {157.0, 430.0, 1210.7, 2350.0, 7013.0}) {
    const double overDb = 8 + 8.33 * std::max(0.0, std::log2(1000 / hz)) + 4;
    const auto tones = prominentTones(spectrumOf(whine(hz, overDb, 4)));
    INFO(hz);
    REQUIRE(tones.size() == 1);
    CHECK(tones[0].hz == Approx(hz).epsilon(0.002).margin(0.5));
    CHECK(tones[0].overDb == Approx(overDb).margin(1.2));
  }
}

TEST_CASE("aToneBelowTheThresholdOfProminenceIsNotNamed") {
  CHECK(prominentTones(spectrumOf(whine(2350, 5, 4))).empty());
  // Below 1 kHz more is asked for: 8 + 8.33 · lb(1000/250) = 24.7 dB.
  CHECK(prominentTones(spectrumOf(whine(250, 20, 4))).empty());
  CHECK(prominentTones(spectrumOf(whine(250, 29, 4))).size() == 1);
}

TEST_CASE("twoTonesOfOneBandDoNotHideEachOther") {
  const auto tones = prominentTones(
      spectrumOf(whine(2000, 16, 4) + toneOf(2090, -60 + 10 * std::log10(criticalHz(2090) / 24'000) + 14, 4)));
  REQUIRE(tones.size() == 2);
  CHECK(tones[0].hz == Approx(2000).margin(1));
  CHECK(tones[1].hz == Approx(2090).margin(1));
  CHECK(tones[0].overDb == Approx(16).margin(1.5));
}

TEST_CASE("noiseAloneHasNoTones") {
  size_t found = 0;
  for (unsigned seed = 1; seed <= 200; ++seed) found += prominentTones(spectrumOf(noiseOf(-50, 1, seed))).size();
  CHECK(found == 0);
}

TEST_CASE("tooLittleSoundHasNoSpectrum") {
  CHECK(spectrumOf(toneOf(1000, -20, 0.1)).power.empty());
  CHECK(prominentTones(spectrumOf({})).empty());
  for (const double level : bandLevelsDb(spectrumOf({}))) CHECK(std::isnan(level));
}
