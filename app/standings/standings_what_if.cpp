// SPDX-License-Identifier: GPL-3.0-or-later
// The columns as they would be: projected apart from the window's thread, weighed at once.
#include <QComboBox>
#include <QLabel>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/standings/rank_view.h"
#include "app/standings/standings_station.h"
#include "app/standings/what_if_bar.h"
#include "model/number_text.h"
#include "report/answer/leaning.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr double kMostOfOwnPower = 1.5;
constexpr int kMoney = 10;  // units of money that a worth is told for

WhatIfBar::Range rangeOf(const StudyReport& report, const LoadStanding& load) {
  WhatIfBar::Range range;
  range.study = report.study.name;
  range.currency = text(currencyOf(report.study));
  for (const ComparisonRow& row : load.comparison.rows) {
    range.hasNoise |= row.metrics.contains(FigureId::Noise);
    range.hasPrice |= row.metrics.contains(FigureId::Price);
  }
  bool isRoomKnown = false;
  for (const auto& run : report.runs) {
    if (run->run.facts.load != load.load) continue;
    for (const Heat& heat : run->figures.heat) {
      if (heat.powerW) range.mostPowerW = std::max(range.mostPowerW, kMostOfOwnPower * *heat.powerW);
    }
    const ChannelFigures* watched = run->figures.channel(run->figures.watched);
    if (isRoomKnown || watched == nullptr || !watched->overAmbientK) continue;
    range.roomC = watched->window.mean - *watched->overAmbientK;
    isRoomKnown = true;
  }
  return range;
}

QString roomWords(const ProjectionQuestion& asked) {
  const QString room = QObject::tr("a room of %1").arg(text(withUnit(asked.roomC.value_or(0), 0, "°C")));
  return asked.powerW ? QObject::tr("%1 at %2").arg(room, text(withUnit(*asked.powerW, 0, "W"))) : room;
}

QString projectedWords(const ProjectedField& field, const ProjectionQuestion& asked) {
  const std::vector<ProjectedSetup>& setups = field.setups;
  if (setups.empty())
    return QObject::tr("No run here can be projected: it takes a settled temperature, its power and its room.");
  std::vector<std::string> throttling;
  size_t unknown = 0;
  for (const ProjectedSetup& setup : setups) {
    unknown += !setup.throttleChance;
    if (setup.throttleChance && leaningOf(*setup.throttleChance) <= Leaning::Probably)
      throttling.push_back(setup.setup);
  }
  QString words = QObject::tr("Not measured: worked out for %1. ").arg(roomWords(asked));
  words += unknown == setups.size() ? QObject::tr("Whether one would throttle cannot be told: no limit is known.")
           : throttling.empty()     ? QObject::tr("None is likely to throttle.")
           : throttling.size() == setups.size() ? QObject::tr("All would throttle.")
                                                : QObject::tr("Would throttle: %1.").arg(text(joinedNames(throttling)));
  if (unknown > 0 && unknown < setups.size()) words += QObject::tr(" Of %1 no limit is known.").arg(unknown);
  if (field.leftOut > 0)
    words += QObject::tr(" %1 of %2 setups cannot be projected.").arg(field.leftOut).arg(setups.size() + field.leftOut);
  return words;
}

QString turnsWords(const std::vector<OrderTurn>& turns, double factor, const QString& per) {
  QStringList words;
  for (size_t i = 1; i < turns.size(); ++i)
    words << QObject::tr("from %1 on %2").arg(text(withUnit(turns[i].at * factor, 1, "K")), text(turns[i].first));
  return words.empty() ? QObject::tr("Whatever %1 is worth, the first stays.").arg(per)
                       : QObject::tr("For %1: %2.").arg(per, words.join(QStringLiteral(", ")));
}

QString weighedWords(const Weighing& weighing, const WhatIfBar::Range& range) {
  if (weighing.order.empty()) return QObject::tr("No setup has all the figures that are worth something to you.");
  const std::string& first = weighing.order.front().setup;
  QString words = weighing.level.empty() ? QObject::tr("%1 is first. ").arg(text(first))
                                         : QObject::tr("%1 is first, not shown to be ahead of %2. ")
                                               .arg(text(first), text(joinedNames(weighing.level)));
  if (range.hasNoise) words += turnsWords(weighing.byNoise, 1, QObject::tr("1 dBA")) + QLatin1Char(' ');
  if (range.hasPrice)
    words += turnsWords(weighing.byPrice, kMoney,
                        range.currency.isEmpty() ? QObject::tr("%1 of money").arg(kMoney)
                                                 : QStringLiteral("%1\u202F%2").arg(kMoney).arg(range.currency));
  if (!weighing.leftOut.empty())
    words +=
        QObject::tr(" Without %1: no figure for what is worth something.").arg(text(joinedNames(weighing.leftOut)));
  return words;
}

}  // namespace

void StandingsStation::fillRank() {
  const LoadStanding* standing = load();
  if (standing != nullptr) m_whatIf->setRange(rangeOf(*m_report, *standing));
  m_whatIf->setEnabled(standing != nullptr);
  if (standing == nullptr || m_whatIf->kind() == RankKind::Measured) {
    m_whatIf->setWords({});
    m_rankHead->setText(standing == nullptr
                            ? QString()
                            : tr("<b>Rank</b> &nbsp;%1, %2")
                                  .arg(m_figure->currentText().toHtmlEscaped(), text(standing->load).toHtmlEscaped()));
    m_rank->show(m_report, m_load->currentIndex(), chosenFigure());
    fitRank();
  } else if (m_whatIf->kind() == RankKind::Projected) {
    project();
  } else {
    const Weighing weighing = weigh(*m_report, *standing, m_whatIf->worth());
    m_rank->showWeighed(weighing);
    m_rankHead->setText(tr("<b>Rank</b> &nbsp;%1 with noise and price").arg(text(weighing.temperature.title())));
    fitRank();
    m_whatIf->setWords(weighedWords(weighing, rangeOf(*m_report, *standing)));
  }
}

void StandingsStation::fitRank() {
  m_rankSide->setMinimumWidth(std::clamp(m_rank->minimumSizeHint().width() + px(24), px(320), px(420)));
}

// The last wish counts; one that waits behind another is dropped.
void StandingsStation::project() {
  const ProjectionQuestion asked = m_whatIf->question();
  const int wish = ++m_wish, index = m_load->currentIndex();
  m_projecting.clear();
  m_projecting.start([this, report = m_report, asked, wish, index] {
    const LoadStanding& standing = report->loads[static_cast<size_t>(index)];
    auto field = projectedSetups(*report, standing, asked);
    QMetaObject::invokeMethod(
        this,
        [this, wish, asked, field = std::move(field)] {
          if (wish != m_wish || m_whatIf->kind() != RankKind::Projected) return;
          m_rank->showProjected(field.setups);
          m_rankHead->setText(tr("<b>Rank</b> &nbsp;temperature in %1").arg(roomWords(asked)));
          fitRank();
          m_whatIf->setWords(projectedWords(field, asked));
        },
        Qt::QueuedConnection);
  });
}

}  // namespace ash
