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

SettlingWatch::SettlingWatch(Settings settings) : m_settings(std::move(settings)) {
  m_readings.delivered.resize(m_settings.delivered.size());
}

// One that knows nothing yet, with the same thread.
SettlingWatch SettlingWatch::anew() {
  SettlingWatch next(m_settings);
  next.m_beside = std::move(m_beside);
  if (next.m_beside) next.m_beside->forget();
  return next;
}

void SettlingWatch::restart() { *this = anew(); }

void SettlingWatch::beginLoad() {
  SettlingWatch next = anew();
  next.m_readings.room = std::move(m_readings.room);
  next.m_readings.power = std::move(m_readings.power);
  *this = std::move(next);
}

void SettlingWatch::takeSurroundings(const Moment& moment) {
  add(m_readings.room, moment.timeS, moment.roomC, kMostReadings);
  add(m_readings.power, moment.timeS, moment.powerW, kMostReadings);
}

void SettlingWatch::takeRest(const Moment& moment) { takeSurroundings(moment); }

void SettlingWatch::take(const Moment& moment) {
  if (m_beside) {
    if (auto verdict = m_beside->take()) takeVerdict(std::move(*verdict));
  }
  takeSurroundings(moment);
  if (!std::isfinite(moment.watchedC)) return;
  add(m_readings.watched, moment.timeS, moment.watchedC, kMostReadings);
  auto& delivered = m_readings.delivered;
  for (size_t i = 0; i < std::min(delivered.size(), moment.delivered.size()); ++i)
    add(delivered[i], moment.timeS, moment.delivered[i], kMostReadings);
  const double underLoadS = moment.timeS - m_readings.watched.t.front();
  if (std::isnan(m_asked.atS)) m_asked.atS = moment.timeS;
  if (!mayFit(moment.timeS, underLoadS)) return;
  m_asked = {moment.timeS, underLoadS};
  if (!m_settings.isBeside) return takeVerdict(judged(m_readings, m_settings));
  if (!m_beside) m_beside = std::make_unique<SettlingThread>();
  m_beside->ask([readings = m_readings, settings = m_settings] { return judged(readings, settings); });
}

bool SettlingWatch::mayFit(double timeS, double underLoadS) const {
  const double everyS = std::max(m_settings.fitEveryS, kFitEveryShare * underLoadS);
  return timeS - m_asked.atS >= everyS - 1e-6 && (!m_beside || m_beside->mayAsk());
}

SettlingVerdict SettlingWatch::judged(const Readings& readings, const Settings& settings) {
  const Series& watched = readings.watched;
  SettlingQuestion question;
  question.temperature = watched;
  question.load = {watched.t.front(), std::nextafter(watched.t.back(), INFINITY)};
  question.room = readings.room;
  question.power = readings.power;
  question.stepK = settings.stepK;
  question.trendS = trendLength(question.load);
  question.leastS = settings.leastS;
  if (settings.limitC) question.governed = governedSpan(watched, question.load, *settings.limitC, settings.stepK);
  for (size_t i = 0; question.governed && i < readings.delivered.size(); ++i) {
    const std::string& channel = settings.delivered[i];
    question.delivered.push_back({channel, readings.delivered[i], Role(channel).quantity() == Quantity::Power});
  }
  return settings.judge(question);
}

void SettlingWatch::takeVerdict(SettlingVerdict verdict) {
  m_verdict = std::move(verdict);
  ++m_fitCount;
  // Asked again and again, a fit says yes by luck sooner or later; so the live verdict wants more than the final one.
  const bool isCertain = m_verdict.isGoverned && !m_verdict.held.empty()
                             ? m_verdict.worstRemainingPercent < kClearPercent
                             : m_verdict.worstRemainingK < std::max(kClearK, kClearSteps * m_settings.stepK);
  const bool isClear = m_verdict.isSettled && m_asked.underLoadS >= kLeastUnderLoadS && isCertain;
  m_fitsThatAgree = isClear ? m_fitsThatAgree + 1 : 0;
  if (m_fitsThatAgree == 1) m_agreedSinceS = m_asked.atS;
  m_agreedS = isClear ? m_asked.atS - m_agreedSinceS : 0;
}

}  // namespace ash
