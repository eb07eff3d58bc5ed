// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound/level_meter.h"

#include <algorithm>
#include <cmath>

#include "sound/full_scale.h"

namespace ash {
namespace {

constexpr double kFastS = 0.125;
constexpr float kEdge = 1 - 1.5F / 32768;  // the last steps of 16 bits
constexpr size_t kClippedInARow = 2;

}  // namespace

LevelMeter::LevelMeter(double rateHz) : m_weighting(rateHz), m_fastShare(1 - std::exp(-1 / (rateHz * kFastS))) {}

void LevelMeter::judge(float sample) {
  m_atEdge = std::abs(sample) >= kEdge ? m_atEdge + 1 : 0;
  m_isClipped = m_isClipped || m_atEdge >= kClippedInARow;
  m_hasMoved = m_hasMoved || (m_count > 0 && sample != m_last);
  m_last = sample;
}

void LevelMeter::take(std::span<const float> samples) {
  for (const float sample : samples) {
    judge(sample);
    const double weighted = m_weighting(sample);
    const double square = weighted * weighted;
    m_fast += m_fastShare * (square - m_fast);
    m_loudest = std::max(m_loudest, m_fast);
    m_sum += square;
    ++m_count;
  }
}

SoundLevels LevelMeter::finish() {
  SoundLevels levels;
  levels.isClipped = m_isClipped;
  levels.isDead = m_count > 1 && !m_hasMoved;
  if (m_count > 0 && !levels.isDead) {
    levels.equivalentDb = fullScaleDb(m_sum / static_cast<double>(m_count));
    levels.fastMaxDb = fullScaleDb(m_loudest);
  }
  m_sum = 0;
  m_count = 0;
  m_loudest = m_fast;
  m_isClipped = m_hasMoved = false;
  return levels;
}

}  // namespace ash
