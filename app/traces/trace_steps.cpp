// SPDX-License-Identifier: GPL-3.0-or-later
// A setting that was changed under load parts a run: the moment across all lanes, the mean of each part in its lane,
// and the step with its interval in words.
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

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

// What was changed is said once, in the first lane.
QString stepWords(const SettingStep& step, const SteppedReading& reading, bool saysWhat, bool isTurnedRound,
                  double factor, int digits, const QString& unit) {
  const double sign = (isTurnedRound ? -1 : 1) * factor;
  const auto number = [&](double value) { return text(signedText(sign * value, digits)); };
  const double low = std::min(sign * reading.low, sign * reading.high),
               high = std::max(sign * reading.low, sign * reading.high);
  QString change = text(step.text);
  while (change.endsWith(QLatin1Char('.'))) change.chop(1);
  const QString moved =
      QObject::tr("%1 %2 (%3 to %4)")
          .arg(number(reading.difference), unit, text(signedText(low, digits)), text(signedText(high, digits)));
  return saysWhat ? change + QStringLiteral(": ") + moved : moved;
}

// The mean of what is drawn between two moments; missing where nothing is.
double meanDrawn(const Series& line, double fromS, double toS) {
  double sum = 0;
  int count = 0;
  for (size_t i = 0; i < line.size(); ++i) {
    if (line.t[i] < fromS || line.t[i] >= toS || !std::isfinite(line.v[i])) continue;
    sum += line.v[i];
    ++count;
  }
  return count == 0 ? kMissing : sum / count;
}

}  // namespace

// Of the first single run among those shown that has one: steps of many runs in one lane tell nobody anything.
void TraceLanes::findSteps() {
  m_steps.clear();
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
    drawPole(lane, step.atS - zero);
    const auto reading = std::find_if(step.readings.begin(), step.readings.end(),
                                      [&](const SteppedReading& one) { return one.role == lane.channel; });
    if (line == lane.lines.end() || reading == step.readings.end()) continue;
    for (const TimeSpan& part : {step.before, step.after})
      drawMean(lane, part.startS - zero, part.endS - zero,
               meanDrawn(line->values(), part.startS - zero, part.endS - zero));
    const bool isTemperature = Role(lane.channel).quantity() == Quantity::Temperature;
    const bool isTurnedRound = isTemperature && m_choice.scale == Scale::Headroom;
    const QString unit = isTemperature ? QStringLiteral("K") : lane.unit;
    if (static_cast<size_t>(words.size()) < kMostInWords)
      words << stepWords(step, *reading, &lane == &m_lanes.front(), isTurnedRound, lane.factor, lane.digits, unit);
  }
  if (!words.isEmpty() && lane.note.isEmpty()) lane.note = words.join(QStringLiteral(" · "));
}

void TraceLanes::drawPole(Lane& lane, double t) {
  auto* pole = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {pole->start, pole->end}) {
    end->setTypeX(QCPItemPosition::ptPlotCoords);
    end->setTypeY(QCPItemPosition::ptAxisRectRatio);
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  pole->start->setCoords(t, 0);
  pole->end->setCoords(t, 1);
  pole->setClipAxisRect(lane.rect);
  pole->setPen(QPen(theme().softInk, 1, Qt::DashLine));
}

void TraceLanes::drawMean(Lane& lane, double fromS, double toS, double value) {
  if (!std::isfinite(value)) return;
  auto* bar = new QCPItemLine(m_plot);
  for (QCPItemPosition* end : {bar->start, bar->end}) {
    end->setAxes(lane.rect->axis(QCPAxis::atBottom), lane.rect->axis(QCPAxis::atLeft));
    end->setAxisRect(lane.rect);
  }
  bar->start->setCoords(fromS, value);
  bar->end->setCoords(toS, value);
  bar->setClipAxisRect(lane.rect);
  bar->setPen(QPen(theme().ink, kBarWidth, Qt::SolidLine, Qt::FlatCap));
}

}  // namespace ash
