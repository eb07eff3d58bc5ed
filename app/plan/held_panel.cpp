// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/held_panel.h"

#include <QAbstractItemDelegate>
#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QSpinBox>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "analysis/catalogue/figure.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/question_field.h"
#include "app/study/study_desk.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/stop_rule.h"
#include "model/text.h"
#include "sim/bench_spec.h"

namespace ash {
using look::px;
using look::text;
namespace {

const QString kAdd = QStringLiteral("add …");

std::vector<std::string> splitWords(const QString& typed) {
  std::vector<std::string> words;
  for (const QString& part : typed.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
    if (!part.trimmed().isEmpty()) words.push_back(part.trimmed().toStdString());
  }
  return words;
}

}  // namespace

HeldPanel::HeldPanel(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(10), px(8), px(8));
  column->setSpacing(px(4));
  m_table = look::plainTable({tr("Held equal"), tr("target"), tr("tolerance")}, this);
  look::alignHeads(m_table);
  m_table->setObjectName(QStringLiteral("held"));
  m_table->setAccessibleName(tr("Conditions held equal"));
  m_table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                           QAbstractItemView::AnyKeyPressed);
  m_table->verticalHeader()->setDefaultSectionSize(px(21));
  m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  m_table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  m_table->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
  m_table->setToolTip(
      tr("What must be the same in every run. F2 edits a cell; the last row adds a condition, an empty name removes "
         "one."));
  // What was typed is taken at once, the plan changed a moment later: that fills the table anew.
  connect(m_table, &QTableWidget::cellChanged, this, [this](int row, int at) {
    const std::string typed = m_table->item(row, at)->text().trimmed().toStdString();
    QMetaObject::invokeMethod(
        this, [=, this] { takeCell(row, at, typed); }, Qt::QueuedConnection);
  });
  // What came while a cell was typed into is shown once it is closed.
  connect(m_table->itemDelegate(), &QAbstractItemDelegate::closeEditor, this, &HeldPanel::refresh,
          Qt::QueuedConnection);
  column->addWidget(m_table, 1);
  addLines();
  m_problem = look::softLabel({}, this);
  m_problem->setProperty("problem", true);
  m_problem->setWordWrap(true);
  m_problem->setObjectName(QStringLiteral("plan-problem"));
  column->addWidget(m_problem);
  connect(&desk, &StudyDesk::changed, this, &HeldPanel::refresh);
  connect(&desk, &StudyDesk::outlookChanged, this, &HeldPanel::refreshOutlook);
}

QLineEdit* HeldPanel::addLine(const QString& name, const QString& objectName, const QString& tip) {
  auto* line = new QLineEdit(this);
  line->setProperty("role", "heading");
  line->setObjectName(objectName);
  line->setAccessibleName(name);
  line->setToolTip(tip);
  line->setFont(look::font(12, QFont::Medium));
  return line;
}

void HeldPanel::addLines() {
  auto* column = static_cast<QVBoxLayout*>(layout());
  const auto add = [&](const QString& name, QWidget* field, const QString& tip) {
    auto* row = new QHBoxLayout;
    row->setSpacing(px(4));
    QLabel* label = look::softLabel(name, this);
    label->setBuddy(field);
    label->setToolTip(tip);
    label->setFixedWidth(px(72));
    field->setToolTip(tip);
    field->setAccessibleName(name);
    field->setFont(look::font(12));
    row->addWidget(label);
    row->addWidget(field, 1);
    column->addLayout(row);
    return label;
  };
  m_underTest = addLine(tr("Under test"), QStringLiteral("under-test"), {});
  m_figure = new QComboBox(this);
  m_figure->setObjectName(QStringLiteral("figure"));
  m_figure->addItem(tr("by what is read"), QString());
  for (const Figure& figure : figuresToAskFor()) m_figure->addItem(text(figure.title()), text(figure.code()));
  m_figure->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  m_margin = addLine(tr("Margin"), QStringLiteral("margin"), {});
  m_scatter = addLine(tr("Scatter"), QStringLiteral("scatter"), {});
  m_repeats = new QSpinBox(this);
  m_repeats->setObjectName(QStringLiteral("repeats"));
  m_repeats->setRange(1, 20);
  m_byHand = addLine(tr("By hand"), QStringLiteral("by-hand"), {});
  m_rules = addLine(tr("Stop rules"), QStringLiteral("stop-rules"), {});
  m_bench = new QComboBox(this);
  m_bench->setObjectName(QStringLiteral("plan-bench"));
  m_bench->addItem(tr("this machine"), QString());
  for (const std::string& name : sim::shippedBenchNames())
    m_bench->addItem(tr("simulated: %1").arg(text(name)), text(name));
  m_speed = new QSpinBox(this);
  m_speed->setObjectName(QStringLiteral("plan-speed"));
  m_speed->setRange(1, 10000);
  m_speed->setPrefix(tr("× "));
  add(tr("Under test"), m_underTest,
      tr("Fields of a setup that are meant to differ, with commas: they never make runs unequal."));
  add(tr("The figure"), m_figure, tr("The figure that the study asks for; it is the big one everywhere."));
  m_asks = new QuestionField(m_desk, this);
  QLabel* asked = add(
      tr("Asked"), m_asks,
      tr("What is asked of it: the answer on Standings and on the page begins accordingly, with yes, no, probably or "
         "cannot tell where that can be."));
  m_asks->setToolTip({});
  // Its target stands in a line of its own below.
  asked->setFixedHeight(m_bench->sizeHint().height());
  column->itemAt(column->count() - 1)->layout()->setAlignment(asked, Qt::AlignTop);
  connect(m_asks, &QuestionField::problem, this, [this](const QString& words) { m_problem->setText(words); });
  add(tr("Margin"), m_margin,
      tr("Differences of temperature below this do not matter, e.g. 0.5 K. Empty: any difference counts."));
  // Beside the margin: both are kelvin.
  auto* beside = static_cast<QHBoxLayout*>(column->itemAt(column->count() - 1)->layout());
  beside->addWidget(look::softLabel(tr("scatter"), this));
  beside->addWidget(m_scatter, 1);
  m_scatter->setToolTip(
      tr("How far repeats of one setup scatter (standard deviation), for setups that are run only once, e.g. 0.3 K. "
         "Empty: not known."));
  add(tr("Repeats"), m_repeats, tr("How often each setup is run under each load; until decided: at most."));
  addUntilDecided(static_cast<QHBoxLayout*>(column->itemAt(column->count() - 1)->layout()));
  m_outlook = look::softLabel({}, this);
  m_outlook->setObjectName(QStringLiteral("outlook"));
  m_outlook->setWordWrap(true);
  column->addWidget(m_outlook);
  add(tr("By hand"), m_byHand,
      tr("Readings to be typed during a run, e.g. noise 50 cm ±1.5, surface hinge, wall ±1 % at rest. What a meter may "
         "be off by goes into the figure and cancels between runs."));
  add(tr("Stop rules"), m_rules,
      tr("Beside those of the devices' own limits, which are always on; e.g. cpu.temp > 98 for 3s."));
  add(tr("Runs on"), m_bench, tr("This machine, or a simulated bench that ships with the program."));
  m_speedLabel = add(tr("Speed"), m_speed, tr("How many times faster than real time the simulated bench runs."));
  connect(m_speed, &QSpinBox::valueChanged, this, [this](int speed) {
    if (!m_isFilling) m_desk.edit(tr("Change the speed"), [&](Study&, StudyPlan& plan) { plan.speed = speed; });
  });
  connect(m_underTest, &QLineEdit::editingFinished, this, [this] {
    m_desk.edit(tr("Change what is under test"), [&](Study&, StudyPlan& plan) {
      plan.underTest.clear();
      for (const std::string& word : splitWords(m_underTest->text())) plan.underTest.push_back(fieldCode(word));
    });
  });
  connect(m_figure, &QComboBox::activated, this, [this] {
    m_desk.edit(tr("Change the figure"),
                [&](Study&, StudyPlan& plan) { plan.figure = m_figure->currentData().toString().toStdString(); });
  });
  connect(m_margin, &QLineEdit::editingFinished, this,
          [this] { takeKelvin(m_margin, tr("The margin"), tr("Change the margin"), &StudyPlan::marginK); });
  connect(m_scatter, &QLineEdit::editingFinished, this,
          [this] { takeKelvin(m_scatter, tr("The scatter"), tr("Change the scatter"), &StudyPlan::repeatabilityK); });
  connect(m_repeats, &QSpinBox::valueChanged, this, [this](int repeats) {
    if (!m_isFilling) m_desk.edit(tr("Change the repeats"), [&](Study&, StudyPlan& plan) { plan.repeats = repeats; });
  });
  connect(m_byHand, &QLineEdit::editingFinished, this, &HeldPanel::takeByHand);
  connect(m_rules, &QLineEdit::editingFinished, this, &HeldPanel::takeRules);
  connect(m_bench, &QComboBox::activated, this, [this] {
    m_desk.edit(tr("Change where it runs"),
                [&](Study&, StudyPlan& plan) { plan.bench = m_bench->currentData().toString().toStdString(); });
  });
}

void HeldPanel::addUntilDecided(QHBoxLayout* row) {
  m_untilDecided = new QCheckBox(tr("until decided"), this);
  m_untilDecided->setObjectName(QStringLiteral("until-decided"));
  m_untilDecided->setFont(look::font(12));
  m_untilDecided->setToolTip(
      tr("After each round, from the second on, it is asked whether the figure is told: better, worse or within the "
         "margin. What is decided is run no more. Each look is surer than a single one would have to be, so that all "
         "of them together are wrong in no more than 5 of 100 studies."));
  row->addWidget(m_untilDecided);
  connect(m_untilDecided, &QCheckBox::clicked, this, [this](bool isOn) {
    m_desk.edit(isOn ? tr("Run until decided") : tr("Run all repeats"),
                [&](Study&, StudyPlan& plan) { plan.isUntilDecided = isOn; });
  });
}

void HeldPanel::refreshOutlook() {
  const auto& outlook = m_desk.outlook();
  m_outlook->setText(outlook ? text(outlookWords(*outlook)) : QString());
  m_outlook->setToolTip(outlook ? text(scatterWords(*outlook)) : QString());
  m_outlook->setVisible(!m_outlook->text().isEmpty());
}

void HeldPanel::takeKelvin(QLineEdit* line, const QString& what, const QString& edit,
                           std::optional<double> StudyPlan::*field) {
  const Json kelvin = parseFieldValue("margin_k", line->text().toStdString());
  const bool isGood = kelvin.is_null() || (kelvin.is_number() && kelvin.get<double>() >= 0);
  m_problem->setText(isGood ? QString() : tr("%1 must be a number in K, e.g. 0.5 K, or empty.").arg(what));
  if (!isGood) return;
  m_desk.edit(edit, [&](Study&, StudyPlan& plan) {
    plan.*field = kelvin.is_null() ? std::nullopt : std::optional(kelvin.get<double>());
  });
}

void HeldPanel::takeByHand() {
  const auto owed = parseOwedList(m_byHand->text().toStdString());
  m_problem->setText(owed ? QString() : text(owed.error().message));
  if (owed) m_desk.edit(tr("Change the readings by hand"), [&](Study&, StudyPlan& plan) { plan.byHand = *owed; });
}

void HeldPanel::takeRules() {
  std::vector<std::string> rules = splitWords(m_rules->text());
  for (const std::string& rule : rules) {
    const auto parsed = parseStopRule(rule);
    m_problem->setText(parsed ? QString() : text(parsed.error().message));
    if (!parsed) return;
  }
  m_problem->clear();
  m_desk.edit(tr("Change the stop rules"), [&](Study&, StudyPlan& plan) { plan.stopRules = std::move(rules); });
}

void HeldPanel::fillTable() {
  const StudyPlan& plan = m_desk.plan();
  const QSignalBlocker quiet(m_table);
  m_table->setRowCount(static_cast<int>(plan.held.size()) + 1);
  for (int row = 0; row <= static_cast<int>(plan.held.size()); ++row) {
    const bool isNew = row == static_cast<int>(plan.held.size());
    const HeldCondition condition = isNew ? HeldCondition() : plan.held[static_cast<size_t>(row)];
    const QString cells[] = {
        isNew ? QString() : text(fieldTitle(condition.field)),
        isNew ? QString() : text(fieldText(condition.field, condition.target)),
        isNew ? QString() : text(toleranceText(condition.field, condition.target, condition.tolerance))};
    for (int column = 0; column < 3; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (column == 1) item->setFont(look::font(12, QFont::DemiBold));
      if (column == 2) item->setForeground(look::theme().softInk);
      if (isNew && column == 0) {
        item->setText(kAdd);
        item->setForeground(look::theme().softInk);
      }
      if (isNew && column > 0) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      if (isNew && column == 0) item->setToolTip(tr("Type here to add a condition, e.g. Fan duty."));
      m_table->setItem(row, column, item);
    }
  }
}

void HeldPanel::refresh() {
  if (m_desk.study() == nullptr) return;
  const StudyPlan& plan = m_desk.plan();
  m_isFilling = true;
  if (!look::isBeingEdited(m_table)) fillTable();
  QStringList underTest;
  for (const std::string& field : plan.underTest) underTest << text(fieldTitle(field)).toLower();
  QStringList rules;
  for (const std::string& rule : plan.stopRules) rules << text(rule);
  const auto fill = [](QLineEdit* line, const QString& words, const QString& empty) {
    if (!line->hasFocus() || !line->isModified()) line->setText(words);
    line->setCursorPosition(0);
    line->setPlaceholderText(empty);
  };
  fill(m_underTest, underTest.join(QStringLiteral(", ")), tr("nothing said yet"));
  fill(m_margin, plan.marginK ? text(withUnit(*plan.marginK, 1, "K")) : QString(), tr("none"));
  fill(m_scatter, plan.repeatabilityK ? text(withUnit(*plan.repeatabilityK, 1, "K")) : QString(), QStringLiteral("–"));
  fill(m_byHand, text(owedListText(plan.byHand)), tr("nothing"));
  fill(m_rules, rules.join(QStringLiteral(", ")), tr("the devices' own limits"));
  m_figure->setCurrentIndex(std::max(0, m_figure->findData(text(plan.figure))));
  m_asks->refresh();
  m_repeats->setValue(plan.repeats);
  m_repeats->setPrefix(plan.isUntilDecided ? tr("≤ ") : QString());
  m_untilDecided->setChecked(plan.isUntilDecided);
  refreshOutlook();
  m_bench->setCurrentIndex(std::max(0, m_bench->findData(text(plan.bench))));
  m_speed->setValue(static_cast<int>(plan.speed));
  // Real time cannot be hurried: on a machine there is nothing to set.
  m_speed->setVisible(!plan.bench.empty());
  m_speedLabel->setVisible(!plan.bench.empty());
  m_isFilling = false;
}

void HeldPanel::takeCell(int row, int column, const std::string& typed) {
  m_desk.edit(tr("Change what is held equal"), [&](Study& study, StudyPlan& plan) {
    const auto index = static_cast<size_t>(row);
    if (index > plan.held.size()) return;
    if (index == plan.held.size()) {
      if (column != 0 || typed.empty() || typed == kAdd.toStdString()) return;
      HeldCondition condition{fieldCode(typed), Json(), kMissing};
      // The name of a known field, however it was spelled; its value in the reference is the first target.
      for (const Setup& setup : study.setups) {
        for (const auto& [field, value] : setup.conditions.items()) {
          if (fieldCode(fieldTitle(field)) == condition.field) condition = {field, value, kMissing};
        }
      }
      plan.held.push_back(condition);
      return;
    }
    HeldCondition& condition = plan.held[index];
    if (column == 0 && typed.empty())
      plan.held.erase(plan.held.begin() + row);
    else if (column == 0 && typed != fieldTitle(condition.field))
      condition.field = fieldCode(typed);
    else if (column == 1)
      condition.target = parseFieldValue(condition.field, typed);
    else if (column == 2) {
      std::string number = typed.starts_with("±") ? typed.substr(std::string("±").size()) : typed;
      const Json value = parseFieldValue(fieldUnit(condition.field) == "°C" ? "x_k" : condition.field, number);
      condition.tolerance = value.is_number() ? std::abs(value.get<double>()) : kMissing;
    }
  });
  refresh();
}

}  // namespace ash

#include "moc_held_panel.cpp"
