// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/new_study_form.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "load/load_text.h"
#include "sim/bench_spec.h"

namespace ash {
using look::px;
using look::text;

NewStudyForm::NewStudyForm(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  look::withGround(this, look::theme().ground);
  auto* outer = new QHBoxLayout(this);
  auto* sheet = new QWidget(this);
  sheet->setFixedWidth(px(640));
  auto* column = new QVBoxLayout(sheet);
  column->setSpacing(px(6));
  column->addStretch(1);
  column->addWidget(look::label(tr("A new study"), 18, QFont::DemiBold, sheet));
  auto* about =
      look::softLabel(tr("One question, some setups that differ in one thing, one load or two. Everything else has "
                         "a sensible default and can be changed in the plan."),
                      sheet);
  about->setWordWrap(true);
  column->addWidget(about);
  buildFields(column);
  m_problem = look::softLabel({}, sheet);
  m_problem->setObjectName(QStringLiteral("new-study-problem"));
  m_problem->setWordWrap(true);
  column->addWidget(m_problem);
  auto* row = new QHBoxLayout;
  m_make = new QPushButton(tr("Make the study"), sheet);
  m_make->setObjectName(QStringLiteral("make-study"));
  m_make->setProperty("role", "main");
  m_make->setMinimumHeight(px(32));
  m_cancel = new QPushButton(tr("Back"), sheet);
  m_cancel->setMinimumHeight(px(32));
  row->addWidget(m_make);
  row->addWidget(m_cancel);
  row->addStretch(1);
  column->addSpacing(px(8));
  column->addLayout(row);
  column->addStretch(2);
  outer->addStretch(1);
  outer->addWidget(sheet);
  outer->addStretch(1);
  connect(m_make, &QPushButton::clicked, this, &NewStudyForm::make);
  connect(m_cancel, &QPushButton::clicked, this, &NewStudyForm::cancelled);
  benchChanged();
}

void NewStudyForm::buildFields(QVBoxLayout* column) {
  QWidget* sheet = column->parentWidget();
  const auto add = [&](const QString& name, QWidget* field, const char* objectName, const QString& tip) {
    QLabel* label = look::label(name, 13, QFont::DemiBold, sheet);
    label->setBuddy(field);
    field->setObjectName(QLatin1String(objectName));
    field->setAccessibleName(name);
    field->setToolTip(tip);
    column->addSpacing(px(6));
    column->addWidget(label);
    column->addWidget(field);
  };
  m_name = new QLineEdit(sheet);
  m_name->setPlaceholderText(tr("Which side panel?"));
  m_question = new QLineEdit(sheet);
  m_question->setPlaceholderText(tr("Does a mesh side panel keep the cooler at the same fan duty?"));
  m_setups = new QPlainTextEdit(sheet);
  m_setups->setPlaceholderText(tr("Solid\nMesh"));
  m_setups->setTabChangesFocus(true);
  m_setups->setFixedHeight(px(84));
  m_bench = new QComboBox(sheet);
  m_bench->addItem(tr("This machine"), QString());
  for (const std::string& name : sim::shippedBenchNames())
    m_bench->addItem(tr("Simulated: %1").arg(text(name)), text(name));
  add(tr("Name"), m_name, "new-study-name", tr("A few words; the list of studies shows it."));
  add(tr("Question"), m_question, "new-study-question", tr("In a sentence. The write-up answers it."));
  add(tr("Setups, one a line; the first is the reference"), m_setups, "new-study-setups",
      tr("What is held against each other."));
  add(tr("Runs on"), m_bench, "new-study-bench", tr("This machine, or a simulated bench that ships with the program."));
  m_loadBox = new QWidget(sheet);
  new QHBoxLayout(m_loadBox);
  m_loadBox->layout()->setContentsMargins(0, 0, 0, 0);
  add(tr("Loads"), m_loadBox, "new-study-loads", tr("What heats it."));
  m_moreLoads = new QLineEdit(sheet);
  m_moreLoads->setPlaceholderText(tr("Cores and graphics = vector + graphics size=640x360"));
  add(tr("Loads of your own"), m_moreLoads, "new-study-more-loads",
      tr("Several kinds at once, kinds with options, or your own program: Name = kind option=value + kind. Separate "
         "loads "
         "by semicolons; quote what has blanks: Render = command command='./render.sh' repeats=3"));
  connect(m_moreLoads, &QLineEdit::textChanged, this, &NewStudyForm::check);
  connect(m_name, &QLineEdit::textChanged, this, &NewStudyForm::check);
  connect(m_setups, &QPlainTextEdit::textChanged, this, &NewStudyForm::check);
  connect(m_bench, &QComboBox::currentIndexChanged, this, &NewStudyForm::benchChanged);
}

void NewStudyForm::benchChanged() {
  qDeleteAll(m_loads);
  m_loads.clear();
  std::vector<std::string> kinds;
  const std::string bench = m_bench->currentData().toString().toStdString();
  if (bench.empty()) {
    kinds = kindsToChoose();
  } else if (const auto spec = sim::shippedBench(bench)) {
    for (const auto& [kind, activities] : spec->loads) kinds.push_back(kind);
  }
  for (const std::string& kind : kinds) {
    auto* box = new QCheckBox(text(kind), m_loadBox);
    box->setObjectName(QStringLiteral("load-") + text(kind));
    box->setChecked(kind == "vector");
    m_loadBox->layout()->addWidget(box);
    connect(box, &QCheckBox::toggled, this, &NewStudyForm::check);
    m_loads.push_back(box);
  }
  check();
}

void NewStudyForm::begin() {
  for (QLineEdit* line : {m_name, m_question, m_moreLoads}) line->clear();
  m_setups->clear();
  m_cancel->setVisible(!m_desk.studies().empty());
  m_name->setFocus();
  check();
}

QStringList NewStudyForm::setupNames() const {
  QStringList names;
  for (const QString& line : m_setups->toPlainText().split(QLatin1Char('\n'))) {
    if (!line.trimmed().isEmpty() && !names.contains(line.trimmed())) names << line.trimmed();
  }
  return names;
}

Result<std::vector<NamedLoad>> NewStudyForm::moreLoads() const {
  return parseNamedLoads(m_moreLoads->text().toStdString());
}

void NewStudyForm::check() {
  const auto more = moreLoads();
  const std::string name = m_name->text().trimmed().toStdString();
  QString missing;
  const bool isThere = std::any_of(m_desk.studies().begin(), m_desk.studies().end(),
                                   [&](const Study& study) { return study.name == name; });
  if (name.empty())
    missing = tr("Give the study a name.");
  else if (isThere)
    missing = tr("There is a study of that name already; give this one another.");
  else if (setupNames().isEmpty())
    missing = tr("Name at least one setup.");
  else if (!more)
    missing = text(more.error().message);
  else if (more->empty() &&
           std::none_of(m_loads.begin(), m_loads.end(), [](const QCheckBox* box) { return box->isChecked(); }))
    missing = tr("Choose at least one load.");
  m_problem->setText(missing);
  m_make->setEnabled(missing.isEmpty());
}

void NewStudyForm::make() {
  Study study;
  study.name = m_name->text().trimmed().toStdString();
  study.question = m_question->text().trimmed().toStdString();
  StudyPlan plan;
  plan.bench = m_bench->currentData().toString().toStdString();
  for (const QString& name : setupNames()) {
    Setup setup;
    setup.name = name.toStdString();
    // What the simulated bench knows of it stands in the plan, so that it can be seen and changed.
    if (!plan.bench.empty()) {
      if (const auto spec = sim::shippedBench(plan.bench, setup.name)) setup.conditions = spec->conditions;
    }
    study.setups.push_back(std::move(setup));
  }
  // What differs between the setups from the start is what is under test.
  if (!study.setups.empty()) {
    for (const auto& [field, value] : study.setups.front().conditions.items()) {
      const bool differs = std::any_of(
          study.setups.begin(), study.setups.end(),
          [&, &f = field, &v = value](const Setup& setup) { return setup.conditions.value(f, Json()) != v; });
      if (differs) plan.underTest.push_back(field);
    }
  }
  for (const QCheckBox* box : m_loads) {
    if (box->isChecked()) study.loads.push_back({box->text().toStdString(), {{"kind", box->text().toStdString()}}});
  }
  if (const auto more = moreLoads()) {
    for (const NamedLoad& load : *more) study.loads.push_back({load.name, loadToJson(load.load)});
  }
  m_desk.newStudy(std::move(study), plan);
  emit made();
}

}  // namespace ash

#include "moc_new_study_form.cpp"
