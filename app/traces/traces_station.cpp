// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/traces_station.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/attached/pictures.h"
#include "app/look/bar_field.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "app/traces/chart_picture.h"
#include "app/traces/run_picks.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/window_strip.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"
#include "report/answer/answer.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kSmooth[] = {0, 5, 15, 60};

}  // namespace

TracesStation::TracesStation(StudyDesk& desk, Pictures& pictures, QWidget* parent)
    : StudyStation(desk, parent), m_pictures(pictures) {
  look::withGround(this, theme().panel);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(buildBar());
  column->addWidget(look::rule(this));
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  row->addWidget(buildLeft());
  auto* centre = look::withGround(new QWidget(this), theme().ground);
  auto* centreColumn = new QVBoxLayout(centre);
  centreColumn->setContentsMargins(0, px(6), 0, 0);
  centreColumn->setSpacing(0);
  auto* sentence = new QHBoxLayout;
  sentence->setContentsMargins(px(16), 0, px(16), px(2));
  m_window = new QComboBox(centre);
  m_window->setObjectName(QStringLiteral("window-choice"));
  m_window->setAccessibleName(tr("Window of the figures"));
  m_window->setFont(look::font(12));
  m_window->addItems({tr("the window of each run"), tr("from settled to the end of load"), tr("a window of my own")});
  m_windowWords = look::softLabel({}, centre);
  sentence->addWidget(look::softLabel(tr("Figures from"), centre));
  sentence->addSpacing(px(6));
  sentence->addWidget(m_window);
  sentence->addSpacing(px(8));
  sentence->addWidget(m_windowWords, 1);
  m_view = new look::Segments(tr("Show"), {tr("over time"), tr("planes")}, centre);
  m_view->setToolTip(
      tr("Over time, or the windows as clock against temperature, power against clock, and how long each clock was "
         "held."));
  sentence->addWidget(m_view);
  centreColumn->addLayout(sentence);
  m_lanes = new TraceLanes(centre);
  m_strip = new WindowStrip(centre);
  setFocusProxy(m_lanes);
  m_strip->setEdges([this] { return m_lanes->plotEdges(); });
  m_strip->setMapping([this](double t) { return m_lanes->pixelOf(t); },
                      [this](double x) { return m_lanes->timeAt(x); });
  centreColumn->addWidget(m_lanes, 1);
  centreColumn->addWidget(m_strip);
  m_planes = new PlaneRow(centre);
  m_planes->setVisible(false);
  centreColumn->addWidget(m_planes, 1);
  connect(m_view, &look::Segments::changed, this, &TracesStation::takeView);
  row->addWidget(centre, 1);
  column->addLayout(row, 5);
  column->addWidget(look::rule(this));
  m_table =
      look::plainTable({tr("In the windows"), tr("over room"), tr("against"), tr("highest"), tr("left"), tr("clock"),
                        tr("work lost"), tr("power"), tr("work rate"), tr("noise"), tr("slowed by heat")},
                       this);
  m_table->setObjectName(QStringLiteral("window-figures"));
  m_table->setAccessibleName(tr("Figures in the windows"));
  m_table->setToolTip(tr("Ctrl+C copies the rows as tab-separated text."));
  m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  for (const int fitted : {0, 1, 2})
    m_table->horizontalHeader()->setSectionResizeMode(fitted, QHeaderView::ResizeToContents);
  m_table->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
  look::alignHeads(m_table);
  m_table->setMinimumHeight(px(132));
  auto* tableRow = new QHBoxLayout;
  tableRow->setContentsMargins(px(16), 0, px(16), 0);
  tableRow->addWidget(m_table);
  column->addLayout(tableRow, 1);
  m_care = look::softLabel({}, this);
  m_care->setTextFormat(Qt::RichText);
  m_care->setWordWrap(true);
  m_care->setContentsMargins(px(16), px(4), px(16), px(6));
  column->addWidget(m_care);
  connect(m_window, &QComboBox::activated, this, &TracesStation::takeWindow);
  connect(m_lanes, &TraceLanes::flagPressed, &m_pictures, &Pictures::openWanted);
  connect(m_lanes, &TraceLanes::moved, m_strip, qOverload<>(&QWidget::update));
  connect(m_strip, &WindowStrip::windowChanged, this, [this](double startS, double endS) {
    m_choice.window = {WindowChoice::Kind::Own, startS, endS};
    m_window->setCurrentIndex(2);
    fillTable();
  });
  connect(&desk, &StudyDesk::reportChanged, this, &TracesStation::refreshWhenSeen);
  connect(&desk, &StudyDesk::changed, this, &TracesStation::refreshWhenSeen);
  refresh();
}

QWidget* TracesStation::buildBar() {
  auto* bar = new QWidget(this);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(px(16), px(8), px(16), px(8));
  row->setSpacing(px(8));
  const auto addBox = [&](const QString& name, const char* objectName, const QString& tip) {
    return look::addChoice(row, bar, name, objectName, tip);
  };
  m_load = addBox(tr("Load"), "traces-load", tr("The load of the runs that can be picked."));
  row->addWidget(look::softLabel(tr("Align"), bar));
  m_align = new look::Segments(tr("Align"), {tr("load start"), tr("clock time"), tr("settled")}, bar);
  row->addWidget(m_align);
  row->addSpacing(px(8));
  row->addWidget(look::softLabel(tr("Scale"), bar));
  m_scale = new look::Segments(tr("Scale"), {tr("°C"), tr("over room"), tr("headroom")}, bar);
  m_scale->choose(1);
  row->addWidget(m_scale);
  row->addSpacing(px(8));
  m_subtract = addBox(tr("Subtract"), "subtract",
                      tr("A setup whose runs are taken away from the others, in a lane of its own."));
  m_smooth = addBox(tr("Smooth"), "smooth", tr("Moving mean; figures are never smoothed."));
  m_smooth->addItems({tr("off"), tr("5 s"), tr("15 s"), tr("1 min")});
  m_smooth->setCurrentIndex(1);
  row->addStretch(1);
  connect(m_load, &QComboBox::activated, this, &TracesStation::refresh);
  connect(m_align, &look::Segments::changed, this, [this](int index) {
    m_choice.align = static_cast<Align>(index);
    if (m_choice.window.kind == WindowChoice::Kind::Own) {
      m_choice.window = {};
      m_window->setCurrentIndex(0);
    }
    redraw(true);
  });
  connect(m_scale, &look::Segments::changed, this, [this](int index) {
    m_choice.scale = static_cast<Scale>(index);
    redraw(false);
  });
  connect(m_subtract, &QComboBox::activated, this, [this](int index) {
    m_choice.subtract = index <= 0 ? std::string() : m_subtract->currentText().toStdString();
    redraw(false);
  });
  connect(m_smooth, &QComboBox::activated, this, [this](int index) {
    m_choice.smoothS = kSmooth[std::clamp(index, 0, 3)];
    redraw(false);
  });
  return bar;
}

QWidget* TracesStation::buildLeft() {
  auto* left = new QWidget(this);
  left->setFixedWidth(px(240));
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(px(16), px(10), px(12), px(8));
  column->setSpacing(px(8));
  m_shownHead = look::label({}, 13, QFont::Normal, left);
  m_shownHead->setTextFormat(Qt::RichText);
  column->addWidget(m_shownHead);
  m_picks = new RunPicks(left);
  column->addWidget(m_picks);
  column->addWidget(look::rule(left));
  m_groupsText = look::softLabel({}, left);
  m_groupsText->setTextFormat(Qt::RichText);
  m_groupsText->setWordWrap(true);
  m_groupsText->setAlignment(Qt::AlignTop);
  column->addWidget(m_groupsText, 1);
  column->addWidget(look::rule(left));
  column->addWidget(look::label(tr("Lanes"), 13, QFont::DemiBold, left));
  m_addLane = new QComboBox(left);
  m_addLane->setObjectName(QStringLiteral("add-lane"));
  m_addLane->setAccessibleName(tr("Add a reading as a lane"));
  m_addLane->setFont(look::font(12));
  column->addWidget(m_addLane);
  connect(m_addLane, &QComboBox::activated, this, &TracesStation::addLane);
  connect(m_picks, &RunPicks::toggled, this, [this](const QString& run) {
    if (m_choice.runs.erase(run.toStdString()) == 0) m_choice.runs.insert(run.toStdString());
    redraw(true);
  });
  connect(m_picks, &RunPicks::setupToggled, this, [this](const QStringList& runs, bool isOn) {
    for (const QString& run : runs) {
      if (isOn)
        m_choice.runs.insert(run.toStdString());
      else
        m_choice.runs.erase(run.toStdString());
    }
    redraw(true);
  });
  return left;
}

const LoadStanding* TracesStation::load() const {
  if (!m_report) return nullptr;
  for (const LoadStanding& standing : m_report->loads) {
    if (text(standing.load) == m_load->currentText()) return &standing;
  }
  return nullptr;
}

// At first all runs of the load but the void ones; whatever is picked then stays.
void TracesStation::pickDefaults() {
  const std::string now =
      (desk().study() == nullptr ? std::string() : desk().study()->name) + "/" + m_load->currentText().toStdString();
  if (now == m_pickedFor && m_isPicked) return;
  if (now != m_pickedFor) m_choice.runs.clear();
  m_pickedFor = now;
  m_isPicked = desk().workedOut() == desk().toWorkOut();
  m_choice.epochS = kMissing;
  for (const RunSummary& run : m_report->summaries) {
    if (text(run.info.load) != m_load->currentText()) continue;
    const double epoch = epochOf(run.info.started);
    if (!(m_choice.epochS <= epoch)) m_choice.epochS = epoch;
    if (run.info.outcome != Outcome::Void) m_choice.runs.insert(run.info.id);
  }
  for (const EarlierSetup& earlier : m_report->earlier) {
    for (const auto& run : earlier.runs) {
      if (text(run->run.facts.load) == m_load->currentText()) m_choice.runs.insert(run->run.name);
    }
  }
  if (!std::isfinite(m_choice.epochS)) m_choice.epochS = 0;
}

void TracesStation::fillChoices() {
  const QString before = m_load->currentText();
  m_load->clear();
  m_subtract->clear();
  m_subtract->addItem(tr("nothing"));
  m_addLane->clear();
  m_addLane->addItem(tr("Add a reading as a lane …"));
  if (!m_report) return;
  for (const LoadStanding& standing : m_report->loads) m_load->addItem(text(standing.load));
  m_load->setCurrentIndex(std::max(m_load->count() > 0 ? 0 : -1, m_load->findText(before)));
  for (const Setup& setup : m_report->study.setups) m_subtract->addItem(text(setup.name));
  m_subtract->setCurrentIndex(std::max(0, m_subtract->findText(text(m_choice.subtract))));
  QStringList names;
  for (const auto& run : m_report->runs) {
    for (const Channel& channel : run->run.log.channels) {
      if (!names.contains(text(channel.name))) names << text(channel.name);
    }
  }
  for (const QString& name : names) {
    const bool isOn = m_choice.lanes.contains(name);
    m_addLane->addItem((isOn ? tr("✓ ") : QString()) + text(Role(name.toStdString()).title()), name);
  }
}

void TracesStation::addLane(int index) {
  const QString name = m_addLane->itemData(index).toString();
  if (name.isEmpty()) return;
  if (!m_choice.lanes.removeOne(name)) m_choice.lanes << name;
  fillChoices();
  redraw(false);
}

void TracesStation::takeWindow() {
  const auto kind = static_cast<WindowChoice::Kind>(std::clamp(m_window->currentIndex(), 0, 2));
  if (kind == WindowChoice::Kind::Own && m_choice.window.kind != kind && m_report) {
    // One's own window begins as the one that was there.
    const auto groups = traceGroups(*m_report, m_choice);
    const auto span = groups.empty() ? std::nullopt : figuresOf(groups.front(), m_choice).span;
    m_choice.window = {kind, span ? span->startS : 600, span ? span->endS : 1200};
    m_strip->setFocus();
  } else {
    m_choice.window.kind = kind;
  }
  fillTable();
}

void TracesStation::refresh() {
  const bool isOther =
      m_report == nullptr || desk().report() == nullptr || m_report->study.name != desk().report()->study.name;
  m_report = desk().report();
  fillChoices();
  if (m_report) pickDefaults();
  redraw(isOther);
}

void TracesStation::redraw(bool resetsRange) {
  m_picks->show(m_report, m_load->currentText().toStdString(), m_choice.runs);
  m_lanes->setFlags(desk().attachments());
  m_lanes->show(m_report, m_choice, resetsRange);
  fillWords();
  fillTable();
}

void TracesStation::fillWords() {
  int shown = 0, all = 0;
  QString words;
  if (m_report) {
    for (const RunSummary& run : m_report->summaries) {
      if (text(run.info.load) != m_load->currentText()) continue;
      ++all;
      shown += m_choice.runs.contains(run.info.id);
    }
    for (const TraceGroup& group : traceGroups(*m_report, m_choice)) {
      const QString what = group.runs.size() > 1     ? tr("one band, with its mean")
                           : group.endMark.isEmpty() ? tr("a single run")
                                                     : group.endMark;
      words += QStringLiteral("<p style='margin-bottom:6px'><span style='color:%1'>■</span> <b>%2</b><br>%3</p>")
                   .arg(theme().series(group.setupIndex).name(), group.label.toHtmlEscaped(), what.toHtmlEscaped());
    }
  }
  m_shownHead->setText(tr("<b>Runs</b> &nbsp;%1 of %2 shown").arg(shown).arg(all));
  m_groupsText->setText(m_report && all > 0 ? words : tr("No run to show yet. Run something from the plan (Ctrl+1)."));
}

void TracesStation::showRuns(const QStringList& runs) {
  refreshIfStale();
  if (!m_report) return;
  m_choice.runs.clear();
  for (const RunSummary& run : m_report->summaries) {
    if (!runs.contains(text(run.info.id))) continue;
    m_choice.runs.insert(run.info.id);
    m_load->setCurrentText(text(run.info.load));
  }
  m_pickedFor = m_report->study.name + "/" + m_load->currentText().toStdString();
  m_isPicked = true;
  redraw(true);
}

Attachment TracesStation::ownerAt(std::optional<QPoint> onScreen) const { return m_lanes->momentAt(onScreen); }

QString tracesLine(const StudyDesk& desk) {
  const auto count = desk.report() ? desk.report()->runs.size() : 0;
  return count == 0 ? QObject::tr("the curves") : count == 1 ? QObject::tr("1 run") : QObject::tr("%1 runs").arg(count);
}

}  // namespace ash

#include "moc_traces_station.cpp"
