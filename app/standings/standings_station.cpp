// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/standings/standings_station.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTableWidget>
#include <QTextDocumentFragment>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "analysis/catalogue/figure.h"
#include "analysis/comparison/ladder.h"
#include "app/look/bar_field.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/standings/rank_view.h"
#include "app/standings/trade_off.h"
#include "app/standings/what_if_bar.h"
#include "app/study/study_desk.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/answer/question_answer.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
StandingsStation::StandingsStation(StudyDesk& desk, QWidget* parent) : StudyStation(desk, parent) {
  look::withGround(this, theme().panel);
  m_projecting.setMaxThreadCount(1);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(buildBar());
  column->addWidget(look::rule(this));
  m_verdict = look::label({}, 18, QFont::Normal, this);
  m_verdict->setObjectName(QStringLiteral("verdict"));
  m_verdict->setTextFormat(Qt::RichText);
  m_verdict->setWordWrap(true);
  m_verdict->setTextInteractionFlags(Qt::TextSelectableByMouse);
  auto* verdictRow = new QHBoxLayout;
  verdictRow->setContentsMargins(px(16), px(8), px(16), px(8));
  verdictRow->addWidget(m_verdict);
  column->addLayout(verdictRow);
  column->addWidget(look::rule(this));
  column->addWidget(buildMiddle(), 3);
  column->addWidget(look::rule(this));
  column->addWidget(buildChecks(), 1);
  setFocusProxy(m_table);
  connect(&desk, &StudyDesk::reportChanged, this, &StandingsStation::refreshWhenSeen);
  connect(&desk, &StudyDesk::changed, this, &StandingsStation::refreshWhenSeen);
  refresh();
}

QWidget* StandingsStation::buildBar() {
  auto* bar = new QWidget(this);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(px(16), px(8), px(16), px(8));
  row->setSpacing(px(8));
  const auto add = [&](const QString& name, const char* objectName, const QString& tip) {
    return look::addChoice(row, bar, name, objectName, tip);
  };
  m_load = add(tr("Load"), "standings-load", tr("Only runs under the same load are held against each other."));
  m_figure = add(tr("Rank by"), "standings-figure", tr("The figure that the plan asks for stands first."));
  m_against =
      add(tr("Against"), "standings-against", tr("The setup that the others are held against; kept in the plan."));
  m_equal = add(
      tr("Compare at"), "standings-equal",
      tr("Levels the field: figures are read off between the measured settings of each setup, never beyond them. Kept "
         "in the plan, and told on the page."));
  for (const auto& [words, code] : {std::pair{tr("as run"), ""}, std::pair{tr("equal noise"), "noise"},
                                    std::pair{tr("equal power"), "power"}, std::pair{tr("equal fan speed"), "fan"}})
    m_equal->addItem(words, QString::fromLatin1(code));
  connect(m_equal, &QComboBox::activated, this, [this] {
    const std::string equal = m_equal->currentData().toString().toStdString();
    desk().edit(tr("Compare at equal"), [&](Study&, StudyPlan& plan) { plan.equal = equal; });
  });
  m_level = new QDoubleSpinBox(bar);
  m_level->setObjectName(QStringLiteral("standings-level"));
  m_level->setAccessibleName(tr("Level at which the setups are compared"));
  m_level->setToolTip(
      tr("The level itself. It ends where a setup was not measured; the lowest place takes the middle of what all "
         "reach."));
  m_level->setFont(look::font(12));
  m_level->setKeyboardTracking(false);
  m_level->setSpecialValueText(tr("the middle"));
  row->addWidget(m_level);
  connect(m_level, &QDoubleSpinBox::valueChanged, this, &StandingsStation::takeLevel);
  auto* also = new QPushButton(tr("Also show …"), bar);
  also->setObjectName(QStringLiteral("also-show"));
  also->setToolTip(
      tr("A setup of another study, or of another book, beside these: read only, worked out by the same method, and "
         "never ranked with them."));
  connect(also, &QPushButton::clicked, this, &StandingsStation::alsoShowWanted);
  row->addWidget(also);
  m_progress = look::softLabel({}, bar);
  row->addStretch(1);
  row->addWidget(m_progress);
  connect(m_load, &QComboBox::activated, this, [this] {
    m_figure->clear();
    refresh();
  });
  connect(m_figure, &QComboBox::activated, this, &StandingsStation::refresh);
  connect(m_against, &QComboBox::activated, this, [this] {
    const std::string setup = m_against->currentData().toString().toStdString();
    desk().edit(tr("Change the reference"), [&](Study&, StudyPlan& plan) { plan.reference = setup; });
  });
  return bar;
}

QWidget* StandingsStation::buildMiddle() {
  auto* middle = new QWidget(this);
  auto* row = new QHBoxLayout(middle);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  auto* left = look::withGround(new QWidget(middle), theme().ground);
  auto* leftColumn = new QVBoxLayout(left);
  leftColumn->setContentsMargins(px(16), px(8), px(4), px(4));
  m_rankHead = look::label({}, 13, QFont::Normal, left);
  m_rankHead->setTextFormat(Qt::RichText);
  leftColumn->addWidget(m_rankHead);
  m_whatIf = new WhatIfBar(left);
  leftColumn->addWidget(m_whatIf);
  connect(m_whatIf, &WhatIfBar::changed, this, &StandingsStation::fillRank);
  auto* scroll = new QScrollArea(left);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  m_rank = new RankView(scroll);
  scroll->setAccessibleName(m_rank->accessibleName());
  scroll->setWidget(m_rank);
  leftColumn->addWidget(scroll, 1);
  m_rankSide = left;
  left->setMinimumWidth(px(320));
  row->addWidget(left, 2);
  auto* centre = new QWidget(middle);
  auto* centreColumn = new QVBoxLayout(centre);
  centreColumn->setContentsMargins(px(12), px(8), px(12), px(4));
  m_table = look::plainTable({}, centre);
  m_table->setObjectName(QStringLiteral("figures"));
  m_table->setAccessibleName(tr("Figures against the reference"));
  m_table->setWordWrap(true);
  m_table->verticalHeader()->setDefaultSectionSize(px(21));
  const auto ask = [this](int at, int column) {
    const QTableWidgetItem* name = m_table->item(at, 0);
    if (column != 0 || name == nullptr) return;
    if (const QString code = name->data(Qt::UserRole).toString(); !code.isEmpty()) return emit figureAsked(code);
    if (const QString words = name->data(kOwnWords).toString(); !words.isEmpty()) emit wordsAsked(name->text(), words);
  };
  connect(m_table, &QTableWidget::cellClicked, this, ask);
  connect(m_table, &QTableWidget::cellActivated, this, ask);
  centreColumn->addWidget(m_table, 1);
  QLabel* signs =
      look::softLabel(tr("± and differences: 95 % intervals. ≈ within the margin. ? too few repeats."), centre);
  signs->setWordWrap(true);
  centreColumn->addWidget(signs);
  centre->setMinimumWidth(px(280));
  row->addWidget(centre, 8);
  auto* right = look::withGround(new QWidget(middle), theme().ground);
  auto* rightColumn = new QVBoxLayout(right);
  rightColumn->setContentsMargins(px(12), px(8), px(12), px(8));
  rightColumn->addWidget(look::label(tr("Trade-off"), 13, QFont::DemiBold, right));
  m_pair = new QComboBox(right);
  m_pair->setObjectName(QStringLiteral("trade-off-pair"));
  m_pair->setAccessibleName(tr("Figures of the trade-off plane"));
  m_pair->setFont(look::font(12));
  rightColumn->addWidget(m_pair);
  m_plane = new TradeOffPlane(right);
  rightColumn->addWidget(m_plane, 1);
  m_planeWords = look::softLabel({}, right);
  m_planeWords->setWordWrap(true);
  rightColumn->addWidget(m_planeWords);
  right->setMinimumWidth(px(220));
  row->addWidget(right, 1);
  connect(m_pair, &QComboBox::activated, this, &StandingsStation::fillPlane);
  return middle;
}

QWidget* StandingsStation::buildChecks() {
  auto* box = new QWidget(this);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(px(16), px(8), px(16), px(8));
  column->setSpacing(px(4));
  m_checksHead = look::label({}, 13, QFont::Normal, box);
  m_checksHead->setTextFormat(Qt::RichText);
  column->addWidget(m_checksHead);
  m_checks =
      look::plainTable({QString(), tr("Check"), tr("what was found"), tr("runs it means"), tr("what it does")}, box);
  m_checks->setObjectName(QStringLiteral("checks"));
  m_checks->setAccessibleName(tr("Like for like checks"));
  m_checks->setToolTip(tr(
      "The worst first. Enter or a double click shows the runs a check means on Traces; F2 accepts one for a reason."));
  m_checks->setEditTriggers(QAbstractItemView::EditKeyPressed);
  // What was typed is read at once and taken a moment later: taking it fills the list anew.
  connect(m_checks, &QTableWidget::cellChanged, this, [this](int row, int at) {
    const QString typed = m_checks->item(row, at)->text();
    QMetaObject::invokeMethod(
        this, [this, row, typed] { takeAcceptance(row, typed); }, Qt::QueuedConnection);
  });
  auto* header = m_checks->horizontalHeader();
  header->setSectionResizeMode(QHeaderView::ResizeToContents);
  header->setSectionResizeMode(2, QHeaderView::Stretch);
  column->addWidget(m_checks, 1);
  connect(m_checks, &QTableWidget::cellActivated, this,
          [this](int row) { emit runsWanted(m_checks->item(row, 0)->data(Qt::UserRole).toStringList()); });
  box->setMinimumHeight(px(150));
  return box;
}

const LoadStanding* StandingsStation::load() const {
  const int index = m_load->currentIndex();
  if (!m_report || index < 0 || index >= static_cast<int>(m_report->loads.size())) return nullptr;
  return &m_report->loads[static_cast<size_t>(index)];
}

Figure StandingsStation::chosenFigure() const { return m_figure->currentData().toString().toStdString(); }

void StandingsStation::refresh() {
  m_report = desk().report();
  fillChoices();
  fillVerdict();
  fillRank();
  fillTable();
  fillChecks();
  if (load() != nullptr) {
    const QString before = m_pair->currentText();
    m_pair->clear();
    for (const TradeOff& pair : tradeOffsOf(load()->comparison)) {
      m_pair->addItem(text(pair.x.title()) + QStringLiteral(" × ") + text(pair.y.title()),
                      QStringList{text(pair.x.code()), text(pair.y.code())});
    }
    // At first a pair that has the figure of the ranking.
    int first = 0;
    for (int i = m_pair->count() - 1; i >= 0; --i) {
      if (m_pair->itemData(i).toStringList().contains(text(chosenFigure().code()))) first = i;
    }
    const int same = m_pair->findText(before);
    m_pair->setCurrentIndex(same >= 0 ? same : first);
  } else {
    m_pair->clear();
  }
  m_pair->setEnabled(m_pair->count() > 1);
  fillPlane();
  const bool isWorking = desk().workedOut() < desk().toWorkOut();
  m_progress->setText(isWorking ? tr("working out run %1 of %2 …").arg(desk().workedOut() + 1).arg(desk().toWorkOut())
                                : QString());
}

void StandingsStation::fillChoices() {
  const QString loadBefore = m_load->currentText();
  m_load->clear();
  if (m_report) {
    for (const LoadStanding& standing : m_report->loads) m_load->addItem(text(standing.load));
  }
  m_load->setCurrentIndex(std::max(m_load->count() > 0 ? 0 : -1, m_load->findText(loadBefore)));
  const QString figureBefore = m_figure->currentData().toString();
  m_figure->clear();
  m_against->clear();
  if (load() == nullptr) return;
  const Figure leading = leadingMetric(*m_report, load()->comparison);
  m_figure->addItem(text(leading.title()), text(leading.code()));
  for (const MetricGroup& group : metricGroups(load()->comparison)) {
    for (const Figure& name : group.metrics) {
      if (name != leading) m_figure->addItem(text(name.title()), text(name.code()));
    }
  }
  m_figure->setCurrentIndex(std::max(0, m_figure->findData(figureBefore)));
  for (const ComparisonRow& row : load()->comparison.rows) {
    // A levelled row stands for all its rungs; the plan names one of them.
    const int index = setupIndexOf(*m_report, row);
    m_against->addItem(text(row.setup),
                       index < 0 ? QString() : text(m_report->study.setups[static_cast<size_t>(index)].name));
  }
  // As the plan says now; what it makes of the figures may still be worked out.
  const QString equal = text(desk().plan().equal).section(QLatin1Char('='), 0, 0);
  m_equal->setCurrentIndex(std::max(0, m_equal->findData(equal)));
  fillLevel();
  if (const ComparisonRow* reference = referenceRow(load()->comparison))
    m_against->setCurrentText(text(reference->setup));
}

// The field offers what every setup was measured at; one place below stands for the middle.
void StandingsStation::fillLevel() {
  const Comparison& comparison = load()->comparison;
  const bool isLevelled = comparison.equalBy && std::isfinite(comparison.equalFrom);
  m_level->setVisible(isLevelled);
  const auto* line = m_level->findChild<QLineEdit*>();
  if (!isLevelled || (m_level->hasFocus() && line != nullptr && line->isModified())) return;
  const QSignalBlocker quiet(m_level);
  const int digits = comparison.equalBy->digits();
  const double step = std::pow(10, -digits);
  const double from = std::ceil(comparison.equalFrom / step) * step, to = std::floor(comparison.equalTo / step) * step;
  m_level->setDecimals(digits);
  m_level->setSingleStep(std::max(step, std::pow(10, std::floor(std::log10(std::max(to - from, step)))) / 10));
  m_level->setRange(from - step, std::max(from, to));
  m_level->setSuffix(QStringLiteral("\u202F") + text(comparison.equalBy->unit()));
  const auto asked = parseEqualBy(desk().plan().equal);
  m_level->setValue(asked && asked->at ? *asked->at : m_level->minimum());
}

void StandingsStation::takeLevel() {
  const std::string by = m_equal->currentData().toString().toStdString();
  const bool isMiddle = m_level->value() <= m_level->minimum();
  const std::string equal =
      isMiddle ? by : by + "=" + QString::number(m_level->value(), 'f', m_level->decimals()).toStdString();
  desk().edit(tr("Compare at another level"), [&](Study&, StudyPlan& plan) { plan.equal = equal; });
}

void StandingsStation::fillVerdict() {
  if (load() == nullptr) {
    m_verdict->setAccessibleName({});
    m_verdict->setText(desk().study() == nullptr || desk().runs().empty()
                           ? tr("Nothing to rank yet: run at least one setup from the plan (Ctrl+1).")
                           : tr("The runs are being worked out …"));
    return;
  }
  QString words;
  for (const Sentence& sentence : leadSentences(*m_report, *load())) {
    for (const AnswerPart& part : sentence) {
      const QString escaped = text(part.text).toHtmlEscaped();
      words += part.row == nullptr ? escaped : QStringLiteral("<b>%1</b>").arg(escaped);
    }
    words += QLatin1Char(' ');
  }
  // A long verdict is set smaller, so that it keeps to three lines.
  m_verdict->setFont(look::font(words.size() > 330 ? 13 : words.size() > 200 ? 15 : 18));
  m_verdict->setText(words);
  const QString plain = QTextDocumentFragment::fromHtml(words).toPlainText().trimmed();
  m_verdict->setAccessibleName(plain);
  // Said when it is known whole, and not with every run that has been worked out.
  if (desk().workedOut() < desk().toWorkOut() || plain == m_saidVerdict) return;
  m_saidVerdict = plain;
  look::announce(m_verdict);
}
void StandingsStation::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  fitNamesSoon();
}

void StandingsStation::fillPlane() {
  const QStringList pair = m_pair->currentData().toStringList();
  m_plane->show(m_report, m_load->currentIndex(),
                pair.size() == 2 ? TradeOff{pair[0].toStdString(), pair[1].toStdString()} : TradeOff());
  m_planeWords->setText(m_plane->words());
}

}  // namespace ash

#include "moc_standings_station.cpp"
