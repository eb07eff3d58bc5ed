// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/plan_station.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/ladder/ladder_page.h"
#include "app/look/flow_layout.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/held_panel.h"
#include "app/plan/knob_page.h"
#include "app/plan/new_study_form.h"
#include "app/plan/next_panel.h"
#include "app/plan/plan_grid.h"
#include "app/plan/setup_panel.h"
#include "app/plan/step_strip.h"
#include "app/study/study_desk.h"
#include "load/load_text.h"
#include "sim/bench_spec.h"

namespace ash {
using look::px;
using look::text;
using look::theme;

PlanStation::PlanStation(StudyDesk& desk, Pictures& pictures, QWidget* parent)
    : QWidget(parent), m_desk(desk), m_pictures(pictures) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  m_stack = new QStackedWidget(this);
  m_newStudy = new NewStudyForm(desk, m_stack);
  m_stack->addWidget(buildPlan());
  m_stack->addWidget(m_newStudy);
  column->addWidget(m_stack);
  setFocusProxy(m_grid);
  connect(m_newStudy, &NewStudyForm::made, this, [this] {
    m_stack->setCurrentIndex(0);
    m_grid->setFocus();
  });
  connect(m_newStudy, &NewStudyForm::cancelled, this, [this] { m_stack->setCurrentIndex(0); });
  connect(m_grid, &PlanGrid::selected, this, [this] {
    m_setup->show(m_grid->setup(), m_grid->load());
    m_knobs->setSetup(m_grid->setup());
    const Study* study = m_desk.study();
    const bool hasCell = study != nullptr && !study->setups.empty() && !study->loads.empty();
    m_ladders->setPlace(hasCell ? text(study->setups[static_cast<size_t>(m_grid->setup())].name) : QString(),
                        hasCell ? text(study->loads[static_cast<size_t>(m_grid->load())].name) : QString());
  });
  connect(m_setup, &SetupPanel::watchWanted, this, &PlanStation::watchWanted);
  connect(m_next, &NextPanel::startWanted, this, &PlanStation::startWanted);
  connect(m_next, &NextPanel::queueWanted, this, &PlanStation::queueWanted);
  connect(&desk, &StudyDesk::changed, this, &PlanStation::refresh);
}

QWidget* PlanStation::buildPlan() {
  auto* plan = look::withGround(new QWidget(m_stack), theme().panel);
  auto* column = new QVBoxLayout(plan);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  m_question = new QLineEdit(plan);
  m_question->setProperty("role", "heading");
  m_question->setObjectName(QStringLiteral("question"));
  m_question->setAccessibleName(tr("The question of the study"));
  m_question->setPlaceholderText(tr("What is the question? Write it in one sentence."));
  m_question->setFont(look::font(17, QFont::Medium));
  m_question->setFixedHeight(px(44));
  auto* head = new QHBoxLayout;
  head->setContentsMargins(px(10), px(2), px(10), px(2));
  head->addWidget(m_question);
  column->addLayout(head);
  column->addWidget(look::rule(plan));
  auto* row = new QHBoxLayout;
  row->setSpacing(0);
  m_held = new HeldPanel(m_desk, plan);
  m_held->setFixedWidth(px(264));
  row->addWidget(m_held);
  row->addWidget(buildMiddle(), 1);
  m_setup = new SetupPanel(m_desk, m_pictures, plan);
  m_setup->setFixedWidth(px(352));
  row->addWidget(m_setup);
  column->addLayout(row, 1);
  column->addWidget(look::rule(plan));
  column->addWidget(new StepStrip(m_desk, plan));
  column->addWidget(look::rule(plan));
  m_next = new NextPanel(m_desk, plan);
  m_next->setMinimumHeight(px(160));
  m_next->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Minimum);
  column->addWidget(m_next);
  connect(m_question, &QLineEdit::editingFinished, this, [this] {
    m_desk.edit(tr("Change the question"),
                [&](Study& study, StudyPlan&) { study.question = m_question->text().trimmed().toStdString(); });
  });
  return plan;
}

QWidget* PlanStation::buildMiddle() {
  m_middle = new QStackedWidget(m_stack);
  m_middle->addWidget(buildGridSide());
  m_ladders = new LadderPage(m_desk, m_middle);
  m_middle->addWidget(m_ladders);
  m_knobs = new KnobPage(m_desk, m_middle);
  m_middle->addWidget(m_knobs);
  connect(m_knobs, &KnobPage::backWanted, this, [this] { showMiddle(m_grid); });
  connect(m_ladders, &LadderPage::backWanted, this, [this] { showLadders(false); });
  connect(m_ladders, &LadderPage::runWanted, this, &PlanStation::watchWanted);
  connect(m_ladders, &LadderPage::climbWanted, this, &PlanStation::climbWanted);
  return m_middle;
}

void PlanStation::showLadders(bool isShown) { showMiddle(isShown ? static_cast<QWidget*>(m_ladders) : m_grid); }

void PlanStation::showKnobs() { showMiddle(m_knobs); }

void PlanStation::showMiddle(QWidget* page) {
  m_middle->setCurrentIndex(std::max(0, m_middle->indexOf(page)));  // the grid stands in a page of its own, the first
  page->setFocus();
}

QWidget* PlanStation::buildGridSide() {
  auto* side = look::withGround(new QWidget(m_stack), theme().ground);
  auto* column = new QVBoxLayout(side);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  auto* scroll = new QScrollArea(side);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  m_grid = new PlanGrid(m_desk, scroll);
  scroll->setWidget(m_grid);
  column->addWidget(scroll, 1);
  auto* barBox = new QWidget(side);
  auto* bar = new look::FlowLayout(barBox, px(4));
  bar->setContentsMargins(px(8), px(4), px(8), px(4));
  const auto add = [&](const QString& words, const char* name, const QString& tip, auto action) {
    auto* button = new QPushButton(words, side);
    button->setProperty("role", "quiet");
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    button->setFont(look::font(12));
    connect(button, &QPushButton::clicked, this, action);
    bar->addWidget(button);
    return button;
  };
  add(tr("Duplicate"), "duplicate-setup", tr("A copy of the selected setup, to change one field of (Ctrl+D)"),
      [this] { duplicateSetup(); });
  add(tr("Add setup"), "add-setup", tr("An empty setup"), [this] { addSetup(); });
  m_addLoad = new QComboBox(side);
  m_addLoad->setObjectName(QStringLiteral("add-load"));
  m_addLoad->setAccessibleName(tr("Add a load"));
  m_addLoad->setFont(look::font(12));
  bar->addWidget(m_addLoad);
  m_removeLoad = add(tr("Remove load"), "remove-load", tr("Removes the selected load; only while it has no runs"),
                     [this] { removeLoad(); });
  m_thisCell = add(tr("Run next"), "run-this-cell", tr("Takes the selected cell before the order"), [this] {
    const Study* study = m_desk.study();
    if (study == nullptr || study->setups.empty() || study->loads.empty()) return;
    PlannedRun run{study->setups[static_cast<size_t>(m_grid->setup())].name,
                   study->loads[static_cast<size_t>(m_grid->load())].name, 1};
    for (const RunSummary& known : m_desk.runs())
      run.repeat += known.info.setup == run.setup && known.info.load == run.load;
    m_next->choose(run);
  });
  add(tr("Knobs"), "show-knobs", tr("What the runs of the selected setup turn: limits, clocks, fans (Ctrl+T)"),
      [this] { showKnobs(); });
  add(tr("Ladder"), "show-ladders",
      tr("Turns one knob of the selected setup step by step until it no longer holds (Ctrl+L)"),
      [this] { showLadders(true); });
  column->addWidget(barBox);
  connect(m_addLoad, &QComboBox::activated, this, &PlanStation::addLoad);
  auto* duplicate = new QShortcut(QKeySequence(Qt::CTRL | Qt::Key_D), this);
  connect(duplicate, &QShortcut::activated, this, &PlanStation::duplicateSetup);
  auto* ladders = new QShortcut(QKeySequence(Qt::CTRL | Qt::Key_L), this);
  connect(ladders, &QShortcut::activated, this, [this] { showLadders(m_middle->currentWidget() != m_ladders); });
  auto* knobs = new QShortcut(QKeySequence(Qt::CTRL | Qt::Key_T), this);
  connect(knobs, &QShortcut::activated, this,
          [this] { showMiddle(m_middle->currentWidget() == m_knobs ? static_cast<QWidget*>(m_grid) : m_knobs); });
  auto* start = new QShortcut(QKeySequence(Qt::CTRL | Qt::Key_Return), this);
  connect(start, &QShortcut::activated, this, [this] {
    auto* button = m_next->findChild<QPushButton*>(QStringLiteral("plan-start"));
    if (button != nullptr && button->isEnabled()) emit startWanted();
  });
  return side;
}

void PlanStation::refresh() {
  const Study* study = m_desk.study();
  if (study == nullptr) {
    if (m_desk.hasBook() && m_stack->currentIndex() == 0) showNewStudy();
    return;
  }
  if (!m_question->hasFocus() || !m_question->isModified()) m_question->setText(text(study->question));
  m_question->setCursorPosition(0);
  fillLoads();
  const bool hasRuns =
      !study->loads.empty() && std::any_of(m_desk.runs().begin(), m_desk.runs().end(), [&](const RunSummary& run) {
        return run.info.load == study
                                    ->loads[static_cast<size_t>(
                                        std::min<int>(m_grid->load(), static_cast<int>(study->loads.size()) - 1))]
                                    .name;
      });
  m_removeLoad->setEnabled(!study->loads.empty() && !hasRuns);
  m_thisCell->setEnabled(!study->loads.empty() && !study->setups.empty());
}

void PlanStation::fillLoads() {
  std::vector<std::string> kinds;
  if (m_desk.plan().bench.empty()) {
    kinds = kindsToChoose();
  } else if (const auto spec = sim::shippedBench(m_desk.plan().bench)) {
    for (const auto& [kind, activities] : spec->loads) kinds.push_back(kind);
  }
  m_addLoad->clear();
  m_addLoad->addItem(tr("Add load …"));
  for (const std::string& kind : kinds) {
    const auto& loads = m_desk.study()->loads;
    const bool isThere = std::any_of(loads.begin(), loads.end(), [&](const Load& load) { return load.name == kind; });
    if (!isThere) m_addLoad->addItem(text(kind));
  }
  m_addLoad->setEnabled(m_addLoad->count() > 1);
}

void PlanStation::addLoad(int index) {
  if (index <= 0) return;
  const std::string kind = m_addLoad->itemText(index).toStdString();
  m_desk.edit(tr("Add a load"), [&](Study& study, StudyPlan&) { study.loads.push_back({kind, {{"kind", kind}}}); });
}

void PlanStation::removeLoad() {
  m_desk.edit(tr("Remove a load"), [&](Study& study, StudyPlan&) {
    if (m_grid->load() < static_cast<int>(study.loads.size())) study.loads.erase(study.loads.begin() + m_grid->load());
  });
}

namespace {

std::string freeName(const Study& study, const std::string& wanted) {
  std::string name = wanted;
  for (int number = 2; setupIndexIn(study, name) >= 0; ++number) name = wanted + " " + std::to_string(number);
  return name;
}

}  // namespace

void PlanStation::duplicateSetup() {
  const Study* study = m_desk.study();
  if (study == nullptr || study->setups.empty()) return addSetup();
  m_desk.edit(tr("Duplicate a setup"), [&](Study& edited, StudyPlan&) {
    Setup copy = edited.setups[static_cast<size_t>(m_grid->setup())];
    copy.id = 0;
    copy.name = freeName(edited, copy.name + ", copy");
    copy.parts.erase("by_hand");  // says how to get to the other one
    edited.setups.push_back(std::move(copy));
  });
  m_grid->select(static_cast<int>(m_desk.study()->setups.size()) - 1, m_grid->load());
  m_setup->focusName();
}

void PlanStation::addSetup() {
  if (m_desk.study() == nullptr) return;
  m_desk.edit(tr("Add a setup"), [&](Study& edited, StudyPlan&) {
    Setup setup;
    setup.name = freeName(edited, tr("New setup").toStdString());
    edited.setups.push_back(std::move(setup));
  });
  m_grid->select(static_cast<int>(m_desk.study()->setups.size()) - 1, m_grid->load());
  m_setup->focusName();
}

void PlanStation::showNewStudy() {
  m_stack->setCurrentIndex(1);
  m_newStudy->begin();
}

void PlanStation::focusGrid() { m_grid->setFocus(); }

std::optional<std::pair<QString, QString>> PlanStation::cellAt(const QPoint& onScreen) const {
  const Study* study = m_desk.study();
  const QPoint place = m_grid->mapFromGlobal(onScreen);
  if (study == nullptr || !m_grid->rect().contains(place)) return std::nullopt;
  const auto cell = m_grid->cellUnder(place);
  const auto isWithin = [](int index, size_t count) { return index >= 0 && static_cast<size_t>(index) < count; };
  if (!cell || !isWithin(cell->first, study->setups.size()) || !isWithin(cell->second, study->loads.size()))
    return std::nullopt;
  return std::pair(text(study->setups[static_cast<size_t>(cell->first)].name),
                   text(study->loads[static_cast<size_t>(cell->second)].name));
}

Attachment PlanStation::ownerAt(std::optional<QPoint> onScreen) const {
  Attachment owner;
  const Study* study = m_desk.study();
  if (study == nullptr || study->setups.empty()) return owner;
  if (onScreen) owner.run = m_setup->runAt(*onScreen);
  if (!owner.run.empty()) return owner;
  const auto cell = onScreen ? cellAt(*onScreen) : std::nullopt;
  const int index = cell ? setupIndexIn(*study, cell->first.toStdString()) : m_grid->setup();
  owner.setup = study->setups[static_cast<size_t>(std::max(0, index))].id;
  return owner;
}

void PlanStation::showCell(const QString& setup, const QString& load) {
  const Study* study = m_desk.study();
  if (study == nullptr) return;
  int column = m_grid->load();
  for (size_t i = 0; i < study->loads.size(); ++i) {
    if (text(study->loads[i].name) == load) column = static_cast<int>(i);
  }
  m_grid->select(std::max(0, setupIndexIn(*study, setup.toStdString())), column);
}

StartRequest PlanStation::request() const {
  StartRequest request;
  if (m_desk.study() == nullptr || !m_next->next()) return request;
  request.study = text(m_desk.study()->name);
  request.setup = text(m_next->next()->setup);
  request.load = text(m_next->next()->load);
  request.phases = text(m_desk.plan().phases);
  request.sim = text(m_desk.plan().bench);
  request.speed = m_desk.plan().speed;
  return request;
}

void PlanStation::setRunning(bool isRunning) {
  m_next->setRunning(isRunning);
  m_ladders->setRunning(isRunning);
}
void PlanStation::setStarting(bool isStarting) {
  m_next->setStarting(isStarting);
  if (!isStarting) m_next->choose(std::nullopt);
}
void PlanStation::setProblem(const QString& sentence) {
  const bool isLadder = m_middle->currentIndex() == 1;
  m_ladders->setProblem(isLadder ? sentence : QString());
  m_next->setProblem(isLadder ? QString() : sentence);
}

}  // namespace ash

#include "moc_plan_station.cpp"
