// SPDX-License-Identifier: GPL-3.0-or-later
// Sound levels of a stream of samples: the equivalent level of each interval and the loudest moment with time weighting
// F (IEC 61672-1:2013), both A-weighted, in dB of a full-scale sine.
#pragma once

#include <cstddef>
#include <span>

#include "model/reading.h"
#include "sound/weighting.h"

namespace ash {

struct SoundLevels {
  double equivalentDb = kMissing;  ///< L_Aeq over the interval (clause 3.12)
  double fastMaxDb = kMissing;     ///< the highest L_AF in it (clauses 3.8 and 5.8: 125 ms)
  bool isClipped = false;          ///< samples stood at full scale: the levels are too low by an unknown amount
  bool isDead = false;             ///< every sample was the same: a microphone that is switched off
};

/// Samples are of −1 to 1. A full-scale sine of 1 kHz is 0 dB.
class LevelMeter {
 public:
  explicit LevelMeter(double rateHz);
  void take(std::span<const float> samples);
  /// The levels of what was taken since the last call. The filters go on.
  SoundLevels finish();

 private:
  void judge(float sample);

  AWeighting m_weighting;
  double m_fastShare;  // of a new square in the average with time weighting F
  double m_fast = 0, m_loudest = 0, m_sum = 0;
  size_t m_count = 0, m_atEdge = 0;
  float m_last = 0;
  bool m_isClipped = false, m_hasMoved = false;
};

}  // namespace ash
