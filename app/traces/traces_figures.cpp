// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of the windows, below the lanes.
#include <QComboBox>
#include <QLabel>
#include <QTableWidget>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/traces/chart_picture.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "app/traces/window_strip.h"
#include "model/number_text.h"
#include "model/text.h"
#include "report/charts/window_charts.h"

namespace ash {
using look::text;
using look::theme;

void TracesStation::fillTable() {
  m_table->setRowCount(0);
  std::vector<WindowStrip::Bar> bars;
  const auto groups = m_report ? traceGroups(*m_report, m_choice) : std::vector<TraceGroup>();
  double referenceK = kMissing;
  bool isReferenceBound = false;
  const std::string reference = !m_choice.subtract.empty() ? m_choice.subtract
                                : m_report                 ? referenceSetup(m_report->study, m_report->plan)
                                                           : std::string();
  for (const TraceGroup& group : groups) {
    if (group.setup != reference || std::isfinite(referenceK)) continue;
    const GroupFigures figures = figuresOf(group, m_choice);
    referenceK = figures.mean.overRoomK;
    isReferenceBound = figures.mean.isAtLimit;
  }
  m_table->horizontalHeaderItem(2)->setText(tr("against %1").arg(text(reference)));
  for (const TraceGroup& group : groups) {
    const GroupFigures figures = figuresOf(group, m_choice);
    if (figures.span) bars.push_back({*figures.span, group.setupIndex});
    const WindowFigures& f = figures.mean;
    const bool isReference = group.setup == reference;
    const QString bound = f.isAtLimit ? tr("at least ") : QString();
    const QString half =
        std::isfinite(figures.halfK) ? QStringLiteral(" ± ") + text(numberText(figures.halfK, 1)) : QString();
    QString against = QStringLiteral("–");
    if (isReference)
      against = tr("reference");
    else if (std::isfinite(referenceK) && std::isfinite(f.overRoomK) && f.isAtLimit && isReferenceBound)
      against = tr("both at their limit");
    else if (std::isfinite(referenceK) && std::isfinite(f.overRoomK))
      against = (isReferenceBound || f.isAtLimit ? tr("at least ") : QString()) +
                text(signedText(f.overRoomK - referenceK, 1)) + QStringLiteral("\u202FK");
    const QString cells[] = {group.label + (figures.runs == 0 ? tr(", no window") : QString()),
                             std::isfinite(f.overRoomK)
                                 ? bound + text(numberText(f.overRoomK, 1)) + half + QStringLiteral("\u202FK")
                                 : QStringLiteral("–"),
                             against,
                             text(withUnit(f.highestC, 1, "°C")),
                             f.isAtLimit ? tr("at limit") : text(withUnit(f.leftK, 1, "K")),
                             text(withUnit(f.clockMhz / 1000, 2, "GHz")),
                             f.lostClockShare > 0.0005 ? text(withUnit(100 * f.lostClockShare, 1, "%")) : tr("none"),
                             text(withUnit(f.powerW, 1, "W")),
                             text(withUnit(f.workRate, 1, "1/s")),
                             text(withUnit(f.noiseDba, 1, "dBA")),
                             f.slowedShare > 0.0005 ? text(withUnit(100 * f.slowedShare, 0, "%")) : tr("not slowed")};
    const int row = m_table->rowCount();
    m_table->insertRow(row);
    for (int column = 0; column < 11; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (column < 3) item->setFont(look::font(12, QFont::DemiBold));
      if (column == 4 && f.isAtLimit) item->setForeground(theme().ember);
      if (group.isVoid) item->setForeground(theme().softInk);
      m_table->setItem(row, column, item);
    }
    m_table->item(row, 0)->setForeground(theme().series(group.setupIndex));
  }
  m_strip->setBars(std::move(bars));
  m_windowWords->setText(m_choice.window.kind == WindowChoice::Kind::Own
                             ? tr("%1 to %2 on the axis")
                                   .arg(text(clockText(m_choice.window.startS)), text(clockText(m_choice.window.endS)))
                         : m_choice.window.kind == WindowChoice::Kind::OfEachRun
                             ? tr("its measure phase where it has one")
                             : tr("runs that did not settle have none"));
  QString care;
  if (load() != nullptr) {
    for (const ComparisonCheck& check : load()->comparison.checks) {
      if (check.severity != Severity::Info && care.size() < 220)
        care += text(check.text).toHtmlEscaped() + QLatin1Char(' ');
    }
  }
  m_care->setText(care.isEmpty() ? QString() : tr("<b>Read with care:</b> %1").arg(care));
  m_care->setVisible(!care.isEmpty());
  fillPlanes();
}

void TracesStation::takeView(int index) {
  const bool arePlanes = index == 1;
  m_lanes->setVisible(!arePlanes);
  m_strip->setVisible(!arePlanes);
  m_planes->setVisible(arePlanes);
  setFocusProxy(arePlanes ? static_cast<QWidget*>(m_planes) : m_lanes);
  fillPlanes();
}

// Worked out only while they are looked at.
void TracesStation::fillPlanes() {
  if (m_view->chosen() != 1) return;
  std::vector<ShownWindow> shown;
  for (const TraceGroup& group : m_report ? traceGroups(*m_report, m_choice) : std::vector<TraceGroup>()) {
    std::string label = group.label.toStdString();
    for (const AnalyzedRun* run : group.runs) {
      const auto window = windowOfRun(*run, m_choice.window, m_choice.align, m_choice.epochS);
      if (!window) continue;
      shown.push_back({run, label, group.setupIndex, *window});
      label.clear();
    }
  }
  m_planes->show(
      {windowClockHeat(shown), windowPowerClock(shown), windowClockShares(shown)},
      shown.empty() ? tr("No run that is shown has a window.") : tr("The shown runs have no readings for this plane."));
}

}  // namespace ash
