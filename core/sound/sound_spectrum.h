// SPDX-License-Identifier: GPL-3.0-or-later
// The mean spectrum of an interval of sound, its third-octave bands and the tones that stand out of it.
#pragma once

#include <array>
#include <cstddef>
#include <span>
#include <vector>

#include "model/reading.h"

namespace ash {

/// Nominal mid-frequencies of third-octave bands (IEC 61260-1:2014, annex E), those that ISO 7779 asks for.
inline constexpr std::array kBandsHz = {100,  125,  160,  200,  250,  315,  400,  500,  630,  800,  1000,
                                        1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300, 8000, 10000};

/// A tone that stands out, by the tone-to-noise ratio of ECMA-74, annex D.
struct Tone {
  double hz = kMissing;
  double overDb = kMissing;  ///< its power over that of the noise in its critical band
};

/// Mean square by frequency.
struct PowerSpectrum {
  std::vector<double> power;  ///< mean square in each line; line k is at k · widthHz
  double widthHz = 0;
};

/// Averages windowed transforms (Welch's method, Hann windows that overlap by half) of about a third of a second.
class SpectrumAverage {
 public:
  explicit SpectrumAverage(double rateHz);
  /// Samples of −1 to 1.
  void take(std::span<const float> samples);
  /// The mean since the last call; empty when not even one window was full.
  PowerSpectrum finish();

 private:
  void addWindow();

  double m_rateHz;
  size_t m_length;
  std::vector<float> m_window, m_waiting;
  std::vector<double> m_sum;
  size_t m_windows = 0;
};

/// The A-weighted level of each of kBandsHz, in dB of a full-scale sine; bands are cut at their edges
/// (IEC 61260-1, base ten), so they add up to the level between them. Missing where the spectrum does not reach.
std::array<double, kBandsHz.size()> bandLevelsDb(const PowerSpectrum& spectrum);

/// Tones between 89 Hz and 11.2 kHz whose tone-to-noise ratio is prominent (ECMA-74, D.7: 8 dB from 1 kHz on, more
/// below), the most prominent first.
std::vector<Tone> prominentTones(const PowerSpectrum& spectrum);

}  // namespace ash
