// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/time_axis.h"

#include <algorithm>
#include <cmath>

#include "exchange/csv_cells.h"

namespace ash {
namespace {

constexpr double kDayS = 86400;
constexpr double kFarS = 20 * kDayS;  // a day of difference that is read as a month of difference

}  // namespace

std::optional<TimeCell> TimeAxis::read(std::string_view cell) const {
  double value = 0;
  if (readPlainNumber(cell.data(), cell.data() + cell.size(), m_hasDecimalComma ? ',' : '.', value))
    return TimeCell{value, TimeCell::Kind::Seconds, false};
  return readTimeCell(cell, m_hasDecimalComma, m_order);
}

// 03/04 and then 04/04: a log goes on after a day, not after a month. Reads both stamps in the other order where that
// brings them together.
double TimeAxis::swapOrder(std::string_view cell, double seconds) {
  double nearestS = std::abs(seconds - m_lastRaw), beforeS = m_lastRaw;
  for (const DayOrder other : kDayOrders) {
    const auto before = readTimeCell(m_lastCell, m_hasDecimalComma, other);
    const auto now = readTimeCell(cell, m_hasDecimalComma, other);
    if (!before || !now || std::abs(now->seconds - before->seconds) >= nearestS) continue;
    nearestS = std::abs(now->seconds - before->seconds);
    m_order = other;
    m_mayBeOther = false;
    beforeS = before->seconds;
    seconds = now->seconds;
  }
  if (const auto first = m_mayBeOther ? std::nullopt : readTimeCell(m_firstCell, m_hasDecimalComma, m_order)) {
    m_originTurnedS = first->seconds - m_first->seconds;
    m_shiftS += m_lastRaw - beforeS;
  }
  m_lastRaw = beforeS;
  return seconds;
}

std::optional<double> TimeAxis::place(std::string_view cell) {
  const auto time = read(cell);
  if (!time) return std::nullopt;
  double raw = time->seconds * (time->kind == TimeCell::Kind::Seconds ? m_factor : 1);
  if (time->kind == TimeCell::Kind::Date) {
    m_hasOpenDates = m_hasOpenDates || time->isOrderOpen;
    // A day that is in one order only, or that goes on to the next one, tells which it is.
    const bool isNextDay = m_hasAny && std::floor(raw / kDayS) != std::floor(m_lastRaw / kDayS);
    m_hasSureDates = m_hasSureDates || !time->isOrderOpen || isNextDay;
  }
  if (!m_first) m_first = time;
  if (!m_hasAny) {
    m_hasAny = true;
    m_lastRaw = m_last = raw;
    if (time->kind == TimeCell::Kind::Date) m_firstCell = m_lastCell = cell;
    return raw;
  }
  if (time->kind == TimeCell::Kind::Date) {
    if (m_mayBeOther && std::abs(raw - m_lastRaw) > kFarS) raw = swapOrder(cell, raw);
    m_lastCell = cell;
  }
  // Past midnight.
  if (time->kind == TimeCell::Kind::Clock && raw < m_lastRaw - kDayS / 2) m_shiftS += kDayS, m_lastRaw -= kDayS;
  if (raw < m_lastRaw) {
    m_shiftS = m_last + m_lastStepS - raw;
    m_backward.push_back({m_last, m_lastRaw - raw});
  } else if (raw == m_lastRaw) {
    m_repeatedAt.push_back(m_last);
  } else {
    m_lastStepS = raw - m_lastRaw;
  }
  m_lastRaw = raw;
  // Shifting back and forth rounds: a hair below the stamp before is that stamp.
  m_last = std::max(m_last, raw + m_shiftS);
  return m_last;
}

}  // namespace ash
