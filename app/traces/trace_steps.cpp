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

constexpr size_t kMostSteps = 12, kMostInWords = 2;
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

// Of the first single run among those shown that has one: steps of many runs in one lane tell nobody anything.
void TraceLanes::findSteps() {
  m_steps.clear();
  m_areStepsNamed = false;
  m_stepped = m_groups.size();
  for (size_t i = 0; i < m_groups.size() && m_steps.empty(); ++i) {
    const TraceGroup& group = m_groups[i];
    if (group.runs.size() != 1 || group.isVoid) continue;
    m_steps = settingSteps(group.runs.front()->run, group.runs.front()->figures);
    m_stepped = i;
  }
  if (m_steps.size() > kMostSteps) m_steps.resize(kMostSteps);
}

void TraceLanes::drawSteps(Lane& lane) {
  if (m_steps.empty() || lane.isDifference) return;
  const TraceGroup& group = m_groups[m_stepped];
  const double zero = zeroOf(*group.runs.front(), m_choice.align, m_choice.epochS);
  const auto line = std::find_if(lane.lines.begin(), lane.lines.end(),
                                 [&](const Line& one) { return one.label == group.shortLabel; });
  QStringList words;
  for (const SettingStep& step : m_steps) {
    drawUpright(lane, step.atS - zero, theme().softInk);
    const auto reading = std::find_if(step.readings.begin(), step.readings.end(),
                                      [&](const SteppedReading& one) { return one.role == lane.channel; });
    if (line == lane.lines.end() || reading == step.readings.end()) continue;
    for (const TimeSpan& part : {step.before, step.after}) {
      const TimeSpan shown{part.startS - zero, part.endS - zero};
      drawMean(lane, shown, statsOf(viewOf(line->values(), shown), 0).mean);
    }
    const bool isTemperature = Role(lane.channel).quantity() == Quantity::Temperature;
    const bool isTurnedRound = isTemperature && m_choice.scale == Scale::Headroom;
    const QString unit = isTemperature ? QStringLiteral("K") : lane.unit;
    if (static_cast<size_t>(words.size()) >= kMostInWords) continue;
    const QString moved = stepWords(*reading, isTurnedRound, lane.factor, lane.digits, unit);
    words << (m_areStepsNamed ? moved : changeWords(step) + QStringLiteral(": ") + moved);
  }
  // What was changed is said once, in the first lane that has a step.
  m_areStepsNamed |= !words.isEmpty();
  if (!lane.note.isEmpty()) words.prepend(lane.note);
  lane.note = words.join(QStringLiteral(" · "));
}

void TraceLanes::drawMean(Lane& lane, const TimeSpan& span, double value) {
  if (!std::isfinite(value)) return;
  auto* bar = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {bar->start, bar->end}) {
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  bar->start->setCoords(span.startS, value);
  bar->end->setCoords(span.endS, value);
  bar->setClipAxisRect(lane.rect);
  bar->setPen(QPen(theme().ink, kBarWidth, Qt::SolidLine, Qt::FlatCap));
}

}  // namespace ash
