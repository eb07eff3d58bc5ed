// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/settling_watch.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/role.h"

namespace ash {
namespace {
constexpr double kLeastUnderLoadS = 60;
constexpr double kClearK = 0.7 * kSettledWithinK;
constexpr double kClearPercent = 0.7 * kSettledWithinPercent;
constexpr double kClearSteps = 0.6;
constexpr double kFitEveryShare = 0.002;  // of the time under load: a long soak does not change within a second

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

void add(Series& series, double timeS, double value, size_t most) {
  if (!std::isfinite(value) || (!series.empty() && timeS <= series.t.back())) return;
  series.t.push_back(timeS);
  series.v.push_back(value);
  if (series.size() > most) thin(series);
}
}  // namespace

std::string shortOfSettledWords(double remainingK) {
  if (!std::isfinite(remainingK)) return "how far from where it settles cannot be told";
  if (std::abs(remainingK) < 0.05) return "within 0.1 K of where it settles";
  return fmt::format("{:.1f} K {} where it settles", std::abs(remainingK), remainingK > 0 ? "short of" : "above");
}

std::string shortOfHeldWords(double remainingPercent) {
  constexpr double kNothing = 0.05;
  if (!(remainingPercent >= kNothing)) return "held at its limit";
  return fmt::format("held at its limit, with {:.1f} % more than it will hold", remainingPercent);
}

std::string shortOfSettledWords(const SettlingVerdict& verdict) {
  if (!verdict.isGoverned) return shortOfSettledWords(verdict.remainingK);
  const bool isTold = !verdict.isSettled && !verdict.held.empty();
  return shortOfHeldWords(isTold ? verdict.held.front().remainingPercent : kMissing);
}

void SettlingWatch::restart() { *this = SettlingWatch(m_settings); }

void SettlingWatch::beginLoad() {
  SettlingWatch next(m_settings);
  next.m_room = std::move(m_room);
  next.m_power = std::move(m_power);
  *this = std::move(next);
}

void SettlingWatch::takeSurroundings(const Moment& moment) {
  add(m_room, moment.timeS, moment.roomC, kMostReadings);
  add(m_power, moment.timeS, moment.powerW, kMostReadings);
}

void SettlingWatch::takeRest(const Moment& moment) { takeSurroundings(moment); }

void SettlingWatch::take(const Moment& moment) {
  takeSurroundings(moment);
  if (!std::isfinite(moment.watchedC)) return;
  add(m_watched, moment.timeS, moment.watchedC, kMostReadings);
  for (size_t i = 0; i < std::min(m_delivered.size(), moment.delivered.size()); ++i)
    add(m_delivered[i], moment.timeS, moment.delivered[i], kMostReadings);
  const double underLoadS = moment.timeS - m_watched.t.front();
  if (std::isnan(m_lastFitS)) m_lastFitS = moment.timeS;
  if (moment.timeS - m_lastFitS < std::max(m_settings.fitEveryS, kFitEveryShare * underLoadS) - 1e-6) return;
  m_lastFitS = moment.timeS;
  fit(underLoadS);
}

void SettlingWatch::fit(double underLoadS) {
  SettlingQuestion question;
  question.temperature = m_watched;
  question.load = {m_watched.t.front(), std::nextafter(m_watched.t.back(), INFINITY)};
  question.room = m_room;
  question.power = m_power;
  question.stepK = m_settings.stepK;
  question.trendS = trendLength(question.load);
  question.leastS = m_settings.leastS;
  if (m_settings.limitC)
    question.governed = governedSpan(m_watched, question.load, *m_settings.limitC, m_settings.stepK);
  for (size_t i = 0; question.governed && i < m_delivered.size(); ++i) {
    const std::string& channel = m_settings.delivered[i];
    question.delivered.push_back({channel, m_delivered[i], Role(channel).quantity() == Quantity::Power});
  }
  m_verdict = judgeSettling(question);
  ++m_fitCount;
  // Asked again and again, a fit says yes by luck sooner or later; so the live verdict wants more than the final one.
  const bool isCertain = m_verdict.isGoverned && !m_verdict.held.empty()
                             ? m_verdict.worstRemainingPercent < kClearPercent
                             : m_verdict.worstRemainingK < std::max(kClearK, kClearSteps * m_settings.stepK);
  const bool isClear = m_verdict.isSettled && underLoadS >= kLeastUnderLoadS && isCertain;
  m_fitsThatAgree = isClear ? m_fitsThatAgree + 1 : 0;
  if (m_fitsThatAgree == 1) m_agreedSinceS = m_lastFitS;
  m_agreedS = isClear ? m_lastFitS - m_agreedSinceS : 0;
}

}  // namespace ash
