// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {
constexpr double kRoomSmoothS = 45;
}  // namespace

Means::Means(const SeriesView& series) : m_series(series), m_sum(series.size() + 1) {
  for (size_t i = 0; i < series.size(); ++i) m_sum[i + 1] = m_sum[i] + series.v[i];
}

double Means::between(double fromS, double toS) const {
  if (m_series.empty()) return kMissing;
  const auto first = std::lower_bound(m_series.t.begin(), m_series.t.end(), fromS) - m_series.t.begin();
  const auto last = std::upper_bound(m_series.t.begin(), m_series.t.end(), toS) - m_series.t.begin();
  if (last <= first) return interpolate(m_series, (fromS + toS) / 2);
  return (m_sum[static_cast<size_t>(last)] - m_sum[static_cast<size_t>(first)]) / static_cast<double>(last - first);
}

double Means::around(double fromS, double toS, double reachS) const {
  const double middleS = (fromS + toS) / 2;
  const double reach =
      std::min({(toS - fromS) / 2 + reachS, middleS - m_series.t.front(), m_series.t.back() - middleS});
  return between(middleS - std::max(reach, 0.0), middleS + std::max(reach, 0.0));
}

namespace {

// First-order lag of what is constant between its readings.
Series laggedBy(const SeriesView& series, double lagS) {
  Series lagged{{series.t.begin(), series.t.end()}, {series.v.begin(), series.v.end()}};
  for (size_t i = 1; i < lagged.size(); ++i) {
    const double share = -std::expm1(-(lagged.t[i] - lagged.t[i - 1]) / lagS);
    lagged.v[i] = lagged.v[i - 1] + share * (series.v[i] - lagged.v[i - 1]);
  }
  return lagged;
}

}  // namespace

RoomBelow::RoomBelow(const SeriesView& room, double lagS) {
  if (room.empty()) return;
  m_room.emplace(room);
  if (lagS < kRoomSmoothS) return;
  m_lagged = laggedBy(room, lagS);
  m_felt.emplace(m_lagged);
}

double RoomBelow::during(double fromS, double toS) const {
  if (m_felt) return m_felt->between(fromS, toS);
  return m_room ? m_room->around(fromS, toS, kRoomSmoothS) : 0;
}

double RoomBelow::toFollow(double roomC, double timeS) const { return m_felt ? roomC - during(timeS, timeS) : 0; }

}  // namespace ash
