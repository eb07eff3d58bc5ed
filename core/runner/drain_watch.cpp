// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/drain_watch.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <variant>

#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostKept = 1000;

// Every second one goes.
void keepEverySecond(Series& series) {
  size_t kept = 0;
  for (size_t i = 0; i < series.t.size(); i += 2, ++kept) {
    series.t[kept] = series.t[i];
    series.v[kept] = series.v[i];
  }
  series.t.resize(kept);
  series.v.resize(kept);
}

}  // namespace

void DrainWatch::take(size_t phase, double timeS, double percent) {
  if (phase != m_phase) *this = DrainWatch();
  m_phase = phase;
  if (!std::isfinite(percent)) return;
  m_lastS = timeS;
  // Only where it falls: of a coarse gauge these are few, and none of them may be lost.
  if (!m_charge.t.empty() && (timeS < m_charge.t.back() + m_everyS || percent >= m_charge.v.back())) return;
  m_charge.t.push_back(timeS);
  m_charge.v.push_back(percent);
  if (m_charge.t.size() > kMostKept) {
    keepEverySecond(m_charge);
    m_everyS = (m_charge.t.back() - m_charge.t.front()) / static_cast<double>(m_charge.t.size() - 1);
  }
  m_drain = drainOf(m_charge);
}

Estimate DrainWatch::leftS(const Phase& phase) const {
  const auto* end = std::get_if<EndsAtCharge>(&phase.end);
  if (end == nullptr) return {};
  if (!m_drain) return {};
  const double sinceS = m_lastS - m_drain->lastS;
  Estimate left = drainedAfterS(*m_drain, end->percent);
  if (std::isfinite(left.value)) {
    for (double* one : {&left.value, &left.low, &left.high}) *one = std::max(0.0, *one - sinceS);
  }
  return left;
}

std::string drainedInWords(const Estimate& leftS, const Phase& phase) {
  const auto* end = std::get_if<EndsAtCharge>(&phase.end);
  if (end == nullptr || !std::isfinite(leftS.value)) return {};
  const std::string state = end->percent > 0 ? fmt::format("at {} %", end->percent) : std::string("empty");
  return fmt::format("the battery is {} in about {} ({} to {})", state, clockText(leftS.value), clockText(leftS.low),
                     clockText(leftS.high));
}

}  // namespace ash
