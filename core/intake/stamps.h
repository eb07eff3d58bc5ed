// SPDX-License-Identifier: GPL-3.0-or-later
// Stamps of a foreign log as seconds that never go back.
#pragma once

#include <fmt/format.h>

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "exchange/time_axis.h"
#include "intake/log_plan.h"

namespace ash {

/// Places the time cells of one row after the other; `plan` must outlive it.
class Stamps {
 public:
  Stamps(const LogPlan& plan, char decimal)
      : m_plan(plan), m_axis(plan.timePattern ? 1 : plan.timeFactor, decimal == ',') {}

  std::optional<double> place(const std::vector<std::string_view>& cells) {
    if (m_plan.timeCells.size() == 1 && !m_plan.timePattern) return m_axis.place(cells[m_plan.timeCells[0]]);
    m_text.clear();
    for (const size_t cell : m_plan.timeCells) {
      if (!m_text.empty()) m_text += ' ';
      m_text += cells[cell];
    }
    if (!m_plan.timePattern) return m_axis.place(m_text);
    const auto seconds = m_plan.timePattern->read(m_text);
    return seconds ? std::optional(onwards(*seconds)) : std::nullopt;
  }

  bool isDayOrderOpen() const { return !m_plan.timePattern && m_axis.isDayOrderOpen(); }
  bool isInUtc() const { return m_plan.isEpoch || (!m_plan.timePattern && m_axis.first() && m_axis.first()->hasZone); }
  bool hasDate() const {
    if (m_plan.timePattern) return m_plan.timePattern->hasDate();
    return m_plan.isEpoch || (m_axis.first() && m_axis.first()->kind == TimeCell::Kind::Date);
  }
  /// Seconds as they stand, from wherever they count.
  bool countsSeconds() const {
    return !m_plan.timePattern && !m_plan.isEpoch && m_axis.first() && m_axis.first()->kind == TimeCell::Kind::Seconds;
  }
  /// What a date that came later has shown: the first stamp lies so many seconds after where it was placed.
  double originTurnedS() const { return m_axis.originTurnedS(); }
  size_t backward() const { return m_backward + m_axis.backward().size(); }
  std::string format() const {
    if (m_plan.timePattern) return m_plan.timePattern->text();
    if (m_plan.isEpochMs) return "epoch-ms";
    if (m_plan.isEpoch) return "epoch";
    const auto first = m_axis.first();
    if (!first || first->kind == TimeCell::Kind::Seconds)
      return m_plan.timeFactor == 1 ? "s" : fmt::format("{:g} s", m_plan.timeFactor);
    return first->kind == TimeCell::Kind::Date ? "date and time" : "time of day";
  }

 private:
  double onwards(double raw) {
    constexpr double kDayS = 86'400;
    if (m_hasAny && !m_plan.timePattern->hasDate() && raw < m_lastRaw - kDayS / 2)
      m_shiftS += kDayS, m_lastRaw -= kDayS;
    if (m_hasAny && raw < m_lastRaw) {
      m_shiftS = m_last - raw;
      ++m_backward;
    }
    m_hasAny = true;
    m_lastRaw = raw;
    return m_last = raw + m_shiftS;
  }

  const LogPlan& m_plan;
  TimeAxis m_axis;
  std::string m_text;
  bool m_hasAny = false;
  double m_lastRaw = 0, m_last = 0, m_shiftS = 0;
  size_t m_backward = 0;
};

}  // namespace ash
