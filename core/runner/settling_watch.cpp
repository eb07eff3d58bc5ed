// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/settling_watch.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {
constexpr double kFitEveryS = 5;
constexpr double kFitEveryShare = 0.015;  // of the time under load: a long soak does not change quickly
constexpr double kTrendShare = 0.2;
constexpr double kTrendLeastS = 30;
constexpr double kClearShare = 0.7;

// Every second reading of the older half goes: a week of soaking must not fill the memory.
void thin(Series& series) {
  Series kept;
  const size_t half = series.size() / 2;
  for (size_t i = 0; i < series.size(); ++i) {
    if (i < half && i % 2 == 1) continue;
    kept.t.push_back(series.t[i]);
    kept.v.push_back(series.v[i]);
  }
  series = std::move(kept);
}
}  // namespace

void SettlingWatch::restart() {
  m_watched = {};
  m_room = {};
  m_verdict = {};
  m_lastFitS = kMissing;
  m_positiveInARow = 0;
}

void SettlingWatch::take(double timeS, double watchedC, double roomC) {
  if (std::isfinite(roomC)) {
    m_room.t.push_back(timeS);
    m_room.v.push_back(roomC);
  }
  if (!std::isfinite(watchedC)) return;
  m_watched.t.push_back(timeS);
  m_watched.v.push_back(watchedC);
  if (m_watched.size() > kMostReadings) thin(m_watched);
  if (m_room.size() > kMostReadings) thin(m_room);
  const double underLoadS = timeS - m_watched.t.front();
  if (std::isnan(m_lastFitS)) m_lastFitS = timeS;
  if (timeS - m_lastFitS < std::max(kFitEveryS, kFitEveryShare * underLoadS)) return;
  m_lastFitS = timeS;
  m_verdict = judgeSettling(m_watched, m_room, m_step, std::max(kTrendLeastS, kTrendShare * underLoadS));
  const bool isLongEnough = underLoadS >= 2 * kTrendLeastS;
  // Asked again and again, a fit says yes by luck sooner or later; so the live verdict wants more than the final one.
  const bool isClear =
      m_verdict.isSettled && m_verdict.worstRemainingK < kClearShare * std::max(kSettledWithinK, m_step);
  m_positiveInARow = isClear && isLongEnough ? m_positiveInARow + 1 : 0;
  ++m_fitCount;
}

}  // namespace ash
