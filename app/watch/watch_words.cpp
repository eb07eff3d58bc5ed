// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/watch_words.h"
#include "app/look/words.h"

#include <QDateTime>
#include <QLocale>
#include <QObject>
#include <cmath>
#include <optional>
#include <variant>

#include "app/watch/live_model.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "runner/run_wish.h"
#include "runner/settling_watch.h"

namespace ash {
using look::text;
namespace {

QString doing(PhaseKind kind) {
  switch (kind) {
    case PhaseKind::Idle:
      return QObject::tr("resting");
    case PhaseKind::Soak:
      return QObject::tr("soaking");
    case PhaseKind::Measure:
      return QObject::tr("measuring");
    case PhaseKind::Cool:
      return QObject::tr("recovering");
    case PhaseKind::Pass:
      return QObject::tr("making passes");
    case PhaseKind::Pause:
      return QObject::tr("waiting for you");
  }
  return {};
}

// A device at its limit: what it delivers settles, not its temperature.
SettlingWords pinnedWords(const LiveState& state) {
  const LiveForecast& forecast = state.forecast;
  if (!forecast.isGoverned || forecast.willHold.empty()) {
    return {QObject::tr("At its limit"),
            {},
            QObject::tr("It would get hotter if it did not slow itself down: no settled figure, a bound only.")};
  }
  SettlingWords words;
  words.head = forecast.isSettled ? QObject::tr("At its limit, holds") : QObject::tr("At its limit, will hold");
  words.figure = text(forecast.willHold);
  if (!forecast.isSettled && forecast.settlesAtS > state.timeS) {
    words.rest =
        QObject::tr("in about %1; ").arg(text(durationWords(std::ceil((forecast.settlesAtS - state.timeS) / 30) * 30)));
  }
  words.rest += QObject::tr("its temperature is a bound only");
  return words;
}

}  // namespace

QString phaseTitle(PhaseKind kind) { return text(std::string(phaseKindWords(kind))); }

QString phaseEnding(const Phase& phase) {
  if (const auto* after = std::get_if<EndsAfter>(&phase.end)) return text(durationWords(after->seconds));
  if (const auto* settled = std::get_if<EndsWhenSettled>(&phase.end)) {
    return QObject::tr("until settled, %1 to %2")
        .arg(text(clockText(settled->leastS)), text(clockText(settled->mostS)));
  }
  if (const auto* below = std::get_if<EndsBelow>(&phase.end))
    return QObject::tr("to %1").arg(text(withUnit(below->celsius, 0, "°C")));
  // That it gives up after a day has no room here.
  if (const auto* charge = std::get_if<EndsAtCharge>(&phase.end);
      charge != nullptr && charge->mostS >= kLongestRunDownS)
    return charge->percent > 0 ? QObject::tr("to %1 % of charge").arg(charge->percent)
                               : QObject::tr("until it is empty");
  return text(phaseEndWords(phase));
}

bool isPinned(const LiveModel& model) {
  // One that swings far below its limit is held there all the same.
  if (model.state() && model.state()->forecast.isGoverned) return true;
  const auto limit = model.limit(model.info().watched, "throttle");
  return limit && model.latest(model.info().watched) >= *limit - 1.5;
}

namespace {

// While a battery is run down its end is the question, not where the temperature settles.
std::optional<SettlingWords> runDownWords(const LiveModel& model) {
  const Phase* now = model.currentPhase();
  const auto* end = now == nullptr ? nullptr : std::get_if<EndsAtCharge>(&now->end);
  if (end == nullptr) return std::nullopt;
  SettlingWords words;
  words.head = end->percent > 0 ? QObject::tr("Battery at %1 % in about").arg(end->percent)
                                : QObject::tr("Battery empty in about");
  const Estimate left = model.state() ? model.state()->drainedInS : Estimate();
  if (!std::isfinite(left.value)) {
    words.rest = QObject::tr("Is told once 2 % of its charge are used and it falls evenly enough.");
    return words;
  }
  words.figure = text(clockText(left.value));
  words.rest = QObject::tr("%1 to %2, by how its charge has fallen so far")
                   .arg(text(clockText(left.low)), text(clockText(left.high)));
  return words;
}

}  // namespace

SettlingWords settlingWords(const LiveModel& model) {
  if (const auto runDown = runDownWords(model)) return *runDown;
  if (model.info().watched.empty()) {
    return {QObject::tr("Settling"),
            {},
            QObject::tr("No temperature can be read here, so it cannot be told; the soak ends after its least time.")};
  }
  const auto& state = model.state();
  if (!model.isGoingOn()) return {};
  if (!state || !state->isLoadOn || !std::isfinite(state->forecast.value)) {
    return {QObject::tr("Settling"),
            {},
            state && state->isLoadOn ? QObject::tr("The forecast needs half a minute of readings.")
                                     : QObject::tr("Is told as soon as there is a load.")};
  }
  if (isPinned(model)) {
    return pinnedWords(*state);
  }
  const LiveForecast& forecast = state->forecast;
  const double room = model.roomC();
  const bool overRoom = std::isfinite(room);
  const double value = forecast.value - (overRoom ? room : 0);
  const double half = (forecast.high - forecast.low) / 2;
  const std::string unit = overRoom ? "K" : "°C";
  SettlingWords words;
  words.head = forecast.isSettled ? QObject::tr("Settled at") : QObject::tr("Settles at");
  words.figure = text(numberText(value, 1)) + QStringLiteral(" ± ") + text(withUnit(half, 1, unit));
  words.rest = overRoom ? QObject::tr("over room") : QString();
  if (!forecast.isSettled && forecast.settlesAtS > state->timeS) {
    words.rest +=
        QObject::tr(" in about %1").arg(text(durationWords(std::ceil((forecast.settlesAtS - state->timeS) / 30) * 30)));
  }
  if (half > 5) words.rest += QObject::tr("; still a rough forecast");
  return words;
}

QString endPhaseWords(const LiveModel& model) {
  const QString always = QObject::tr("Goes on with the next phase; the log keeps that it was ended by hand.");
  const auto& state = model.state();
  if (!state || !state->isLoadOn || state->forecast.isSettled) return always;
  const LiveForecast& forecast = state->forecast;
  const QString now = isPinned(model)                      ? text(shortOfHeldWords(forecast.remainingPercent))
                      : std::isfinite(forecast.remainingK) ? text(shortOfSettledWords(forecast.remainingK))
                                                           : QString();
  if (now.isEmpty()) return always;
  return QObject::tr("Now: %1.").arg(now) + QLatin1Char('\n') + always;
}

QString slowedWords(const LiveModel& model) {
  for (const Throttling& throttling : model.throttling()) {
    if (throttling.device != Device(DeviceKind::Cpu)) continue;
    bool allPlanned = !throttling.intervals.empty();
    for (const ThrottleInterval& interval : throttling.intervals) allPlanned &= interval.isPlanned;
    if (allPlanned)
      return QObject::tr("At its set power since %1, not slowed.")
          .arg(text(clockText(throttling.intervals.front().span.startS - model.loadStartS().value_or(0))));
    if (throttling.shareThermal > 0) {
      return QObject::tr("Slowed by heat %1 % of the load, since %2.")
          .arg(text(numberText(100 * throttling.shareThermal, 0)),
               text(clockText(throttling.timeToLimitS.value_or(0))));
    }
    if (throttling.share > 0)
      return QObject::tr("Slowed %1 % of the load, not by heat.").arg(text(numberText(100 * throttling.share, 0)));
  }
  return QObject::tr("Not slowed.");
}

QString stationLine(const LiveModel& model) {
  if (!model.hasRun()) return QObject::tr("a run, live");
  if (model.isGoingOn()) {
    if (model.phases().empty()) return QObject::tr("starting");
    const PhaseSpan& phase = model.phases().back();
    return doing(phase.kind) + QStringLiteral(" ") + text(clockText(model.lastTimeS() - phase.startS));
  }
  return text(std::string(outcomeText(*model.outcome())));
}

QString outcomeSentence(const LiveModel& model) {
  if (!model.hasRun() || model.isGoingOn()) return {};
  QString sentence = QObject::tr("Run %1 %2 at %3.")
                         .arg(text(model.info().id), text(std::string(outcomeText(*model.outcome()))),
                              text(clockText(model.lastTimeS())));
  const bool isNews = model.reason() != kStoppedByHand;
  if (isNews && !model.reason().empty()) sentence += QStringLiteral(" ") + text(model.reason());
  return sentence;
}

QString startedWords(const std::string& iso) {
  const QDateTime time = QDateTime::fromString(text(iso), Qt::ISODate);
  return time.isValid() ? QLocale(QLocale::English).toString(time.toLocalTime(), QStringLiteral("d MMM, HH:mm"))
                        : QString();
}

}  // namespace ash
