// SPDX-License-Identifier: GPL-3.0-or-later
// The A-weighting of sound by frequency, as a formula and as a filter.
#pragma once

#include <array>

namespace ash {

/// What A-weighting does to a tone of this frequency (Hz), in dB: IEC 61672-1:2013, annex E, formula (E.6). 0 at 1 kHz.
double aWeightingDb(double hz);

/// The same as a filter over samples of one rate. Zeros and the low poles by the bilinear transform; the two poles at
/// 12.2 kHz by sections whose gain is right at 0 and at a third of the rate, which keeps class 1 of IEC 61672-1 up to
/// 20 kHz from 44.1 kHz on (the bilinear transform would not).
class AWeighting {
 public:
  explicit AWeighting(double rateHz);
  double operator()(double sample);
  /// The filter's own gain at a frequency, in dB.
  double gainDb(double hz) const;

 private:
  // y = b0·x + b1·x' − a1·y'
  struct Section {
    double b0, b1, a1;
    double x = 0, y = 0;
  };
  static Section highPass(double poleHz, double rateHz);
  static Section lowPass(double poleHz, double rateHz);

  double m_rateHz;
  std::array<Section, 6> m_sections;
};

}  // namespace ash
