// SPDX-License-Identifier: GPL-3.0-or-later
// A setting that was changed under load parts a run: the moment across all lanes, the mean of each part in its lane,
// and the step with its interval in words.
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/traces/trace_lanes.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::text;
using look::theme;
namespace {

constexpr size_t kMostSteps = 12, kMostInWords = 2, kMostRuns = 3;
constexpr double kBarWidth = 2.5;

QString stepWords(const SteppedReading& reading, bool isTurnedRound, double factor, int digits, const QString& unit) {
  const double sign = (isTurnedRound ? -1 : 1) * factor;
  const auto number = [&](double value) { return text(signedText(sign * value, digits)); };
  const double low = std::min(sign * reading.low, sign * reading.high),
               high = std::max(sign * reading.low, sign * reading.high);
  return QObject::tr("%1 %2 (%3 to %4)")
      .arg(number(reading.difference), unit, text(signedText(low, digits)), text(signedText(high, digits)));
}

// "cpu.power.limit: 45 W", as far as there is room for it.
QString changeWords(const SettingStep& step) {
  constexpr int kLongest = 60;
  QString change = text(step.text);
  while (change.endsWith(QLatin1Char('.'))) change.chop(1);
  return change.size() > kLongest ? change.left(kLongest) + QStringLiteral("…") : change;
}

}  // namespace

// Of the first single runs among those shown: the steps of many in one lane tell nobody anything.
void TraceLanes::findSteps() {
  m_stepped.clear();
  for (size_t i = 0; i < m_groups.size() && m_stepped.size() < kMostRuns; ++i) {
    const TraceGroup& group = m_groups[i];
    if (group.runs.size() != 1 || group.isVoid) continue;
    auto steps = settingSteps(group.runs.front()->run, group.runs.front()->figures);
    if (steps.size() > kMostSteps) steps.resize(kMostSteps);
    if (!steps.empty()) m_stepped.push_back({i, std::move(steps)});
  }
}

void TraceLanes::drawSteps(Lane& lane) {
  if (lane.isDifference) return;
  QStringList words;
  for (SteppedRun& run : m_stepped) {
    const QStringList ofRun = drawStepsOf(run, lane);
    if (ofRun.isEmpty()) continue;
    const bool isAlone = m_stepped.size() == 1;
    words << (isAlone ? QString() : m_groups[run.group].shortLabel + QStringLiteral(": ")) +
                 ofRun.join(QStringLiteral(" · "));
  }
  if (!lane.note.isEmpty()) words.prepend(lane.note);
  lane.note = words.join(QStringLiteral(" · "));
}

// Its moments and the mean of each part, in the ink where it is the only one, else in its own colour; its steps in
// words.
QStringList TraceLanes::drawStepsOf(SteppedRun& run, Lane& lane) {
  const TraceGroup& group = m_groups[run.group];
  const bool isAlone = m_stepped.size() == 1;
  const QColor colour = group.pen(kBarWidth).color();
  const double zero = zeroOf(*group.runs.front(), m_choice.align, m_choice.epochS);
  const auto line = std::find_if(lane.lines.begin(), lane.lines.end(),
                                 [&](const Line& one) { return one.label == group.shortLabel; });
  QStringList words;
  for (const SettingStep& step : run.steps) {
    drawUpright(lane, step.atS - zero, isAlone ? theme().softInk : colour);
    const auto reading = std::find_if(step.readings.begin(), step.readings.end(),
                                      [&](const SteppedReading& one) { return one.role == lane.channel; });
    if (line == lane.lines.end() || reading == step.readings.end()) continue;
    for (const TimeSpan& part : {step.before, step.after}) {
      const TimeSpan shown{part.startS - zero, part.endS - zero};
      drawMean(lane, shown, statsOf(viewOf(line->values(), shown), 0).mean, isAlone ? theme().ink : colour);
    }
    if (static_cast<size_t>(words.size()) >= (isAlone ? kMostInWords : 1)) continue;
    const bool isTemperature = Role(lane.channel).quantity() == Quantity::Temperature;
    const bool isTurnedRound = isTemperature && m_choice.scale == Scale::Headroom;
    const QString unit = isTemperature ? QStringLiteral("K") : lane.unit;
    const QString moved = stepWords(*reading, isTurnedRound, lane.factor, lane.digits, unit);
    // What was changed is said once, in the first lane that has a step.
    words << (run.isNamed ? moved : changeWords(step) + QStringLiteral(": ") + moved);
  }
  run.isNamed |= !words.isEmpty();
  return words;
}

void TraceLanes::drawMean(Lane& lane, const TimeSpan& span, double value, const QColor& colour) {
  if (!std::isfinite(value)) return;
  auto* bar = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {bar->start, bar->end}) {
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  bar->start->setCoords(span.startS, value);
  bar->end->setCoords(span.endS, value);
  bar->setClipAxisRect(lane.rect);
  bar->setPen(QPen(colour, kBarWidth, Qt::SolidLine, Qt::FlatCap));
}

}  // namespace ash
