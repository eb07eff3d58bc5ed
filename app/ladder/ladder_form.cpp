// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/ladder/ladder_form.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "ladder/ladder_rule.h"
#include "ladder/questions.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;

LadderForm::LadderForm(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, px(4), 0, 0);
  column->setSpacing(px(4));
  m_place = look::softLabel({}, this);
  m_place->setObjectName(QStringLiteral("ladder-place"));
  column->addWidget(m_place);
  m_question = new QComboBox(this);
  m_question->setObjectName(QStringLiteral("ladder-question"));
  m_question->setAccessibleName(tr("What the ladder is to find"));
  for (const LadderQuestion& one : ladderQuestions())
    m_question->addItem(text(std::string(one.words)), text(std::string(one.id)));
  column->addWidget(m_question);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(px(8));
  grid->setVerticalSpacing(px(4));
  m_knob = addField(grid, 0, 0, tr("Turns"), "ladder-knob",
                    tr("A knob of this machine by its id (`ashg knobs` lists them), or one that you turn by hand, with "
                       "its unit: core voltage, V"));
  m_from = addField(grid, 0, 2, tr("from"), "ladder-from", tr("The first value; empty = by the knob's own range"));
  m_to = addField(grid, 0, 4, tr("to"), "ladder-to", tr("The last value; empty = by the knob's own range"));
  m_step =
      addField(grid, 0, 6, tr("step"), "ladder-step", tr("How far apart steps are; empty = about a dozen of them"));
  m_until =
      addField(grid, 1, 0, tr("Until"), "ladder-until",
               tr("What ends a step as not held: a stop rule (throttled > 2% of 60s, cpu.temp > 90 for 10s, wrong "
                  "result), or work.rate < 98% of first"));
  m_wanted = addField(grid, 1, 2, {}, "ladder-wanted", tr("What the question asks for"));
  m_wantedLabel = qobject_cast<QLabel*>(grid->itemAtPosition(1, 2)->widget());
  m_hold = addField(grid, 2, 0, tr("Hold"), "ladder-hold", tr("A time, or settled LEAST..MOST"));
  m_rest = addField(grid, 2, 2, tr("rest"), "ladder-rest",
                    tr("What each step begins with: a time without load, or below T ..MOST"));
  m_confirm = addField(grid, 2, 4, tr("confirm"), "ladder-confirm",
                       tr("A run at the value that is chosen, so long; empty = none"));
  // The rule may be long.
  grid->setColumnStretch(1, 3);
  for (const int wide : {3, 5, 7}) grid->setColumnStretch(wide, 1);
  column->addLayout(grid);
  auto* foot = new QHBoxLayout;
  m_search = new look::Segments(tr("How it is searched"), {tr("step by step"), tr("by halves")}, this);
  m_search->setToolTip(
      tr("By halves: the first and the last step, then what is between; of a dozen steps it takes six."));
  foot->addWidget(m_search);
  m_problem = look::softLabel({}, this);
  m_problem->setObjectName(QStringLiteral("ladder-problem"));
  m_problem->setWordWrap(true);
  foot->addWidget(m_problem, 1);
  m_climb = new QPushButton(tr("Climb"), this);
  m_climb->setObjectName(QStringLiteral("ladder-climb"));
  m_climb->setProperty("role", "main");
  m_climb->setMinimumHeight(px(30));
  m_climb->setMinimumWidth(px(120));
  foot->addWidget(m_climb);
  column->addLayout(foot);
  column->addStretch(1);
  connect(m_question, &QComboBox::currentIndexChanged, this, &LadderForm::questionChanged);
  connect(m_climb, &QPushButton::clicked, this, [this] { emit climbWanted(arguments()); });
  questionChanged();
}

QLineEdit* LadderForm::addField(QGridLayout* grid, int row, int column, const QString& name, const char* objectName,
                                const QString& tip) {
  QLabel* label = look::softLabel(name, this);
  auto* field = new QLineEdit(this);
  label->setBuddy(field);
  field->setObjectName(QLatin1String(objectName));
  field->setAccessibleName(name);
  field->setToolTip(tip);
  grid->addWidget(label, row, column);
  grid->addWidget(field, row, column + 1);
  connect(field, &QLineEdit::textChanged, this, [this] { setProblem({}); });
  connect(field, &QLineEdit::returnPressed, this, [this] {
    if (m_climb->isEnabled()) m_climb->click();
  });
  return field;
}

const LadderQuestion& LadderForm::question() const {
  return ladderQuestions()[static_cast<size_t>(std::max(0, m_question->currentIndex()))];
}

void LadderForm::questionChanged() {
  const LadderQuestion& now = question();
  const std::string knob(now.knob);
  m_knob->setPlaceholderText(knob.starts_with('.') ? tr("the first fan") : text(knob));
  const bool isOwn = now.ownStep > 0;
  m_from->setPlaceholderText(isOwn ? QString::number(now.ownFrom) : tr("its range"));
  m_to->setPlaceholderText(isOwn ? QString::number(now.ownTo) : tr("its range"));
  m_step->setPlaceholderText(isOwn ? QString::number(now.ownStep) : tr("about 12"));
  QString rule = text(std::string(now.rule));
  m_until->setPlaceholderText(rule.replace(QStringLiteral("{}"), QString::number(now.usualWanted)));
  m_hold->setPlaceholderText(QStringLiteral("settled 5min..20min"));
  m_rest->setPlaceholderText(QStringLiteral("1min"));
  m_confirm->setPlaceholderText(tr("none"));
  const bool asks = !now.wanted.empty();
  m_wantedLabel->setText(text(std::string(now.wanted)));
  m_wanted->setAccessibleName(m_wantedLabel->text());
  m_wanted->setPlaceholderText(QString::number(now.usualWanted));
  m_wantedLabel->setVisible(asks);
  m_wanted->setVisible(asks);
  setProblem({});
}

void LadderForm::setPlace(const QString& setup, const QString& load) {
  if (setup != m_setup || load != m_load) m_told.clear();
  m_setup = setup;
  m_load = load;
  m_place->setText(setup.isEmpty() || load.isEmpty() ? tr("A ladder needs a setup and a load; add them in the grid.")
                                                     : tr("A new one, for %1 under %2:").arg(setup, load));
  check();
}

void LadderForm::setRunning(bool isRunning) {
  m_isRunning = isRunning;
  check();
}

// Stays until a field is changed or it is climbed again, whatever else is shown anew meanwhile.
void LadderForm::setProblem(const QString& sentence) {
  m_told = sentence;
  check();
}

// What can be told without the machine; the rest is told by who climbs.
void LadderForm::check() {
  QString problem;
  for (const QLineEdit* field : {m_from, m_to, m_step, m_wanted}) {
    if (field->isHidden() || field->text().trimmed().isEmpty()) continue;
    if (!parseNumber(field->text().trimmed().toStdString()))
      problem = tr("“%1” is no number.").arg(field->text().trimmed());
  }
  if (const QString rule = m_until->text().trimmed(); problem.isEmpty() && !rule.isEmpty()) {
    if (const auto parsed = parseLadderRule(rule.toStdString()); !parsed) problem = text(parsed.error().message);
  }
  m_problem->setText(problem.isEmpty() ? m_told : problem);
  m_climb->setEnabled(problem.isEmpty() && !m_isRunning && !m_setup.isEmpty() && !m_load.isEmpty());
  m_climb->setToolTip(m_isRunning ? tr("A run goes on; the ladder has to wait for it.") : QString());
}

QStringList LadderForm::arguments() const {
  QStringList all = {
      QStringLiteral("--setup=") + m_setup, QStringLiteral("--load=") + m_load,
      QStringLiteral("--question=") + m_question->currentData().toString(),
      QStringLiteral("--search=") + (m_search->chosen() == 1 ? QStringLiteral("halving") : QStringLiteral("steps"))};
  const auto add = [&](const char* option, const QLineEdit* field) {
    const QString typed = field->text().trimmed();
    if (!field->isHidden() && !typed.isEmpty()) all << QLatin1String(option) + typed;
  };
  add("--knob=", m_knob);
  add("--from=", m_from);
  add("--to=", m_to);
  add("--step=", m_step);
  add("--until=", m_until);
  add("--wanted=", m_wanted);
  add("--hold=", m_hold);
  add("--rest=", m_rest);
  add("--confirm=", m_confirm);
  return all;
}

}  // namespace ash

#include "moc_ladder_form.cpp"
