// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/ladder/ladder_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>

#include "app/ladder/ladder_form.h"
#include "app/ladder/ladder_row.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "ladder/answer.h"
#include "ladder/arguments.h"
#include "ladder/climb.h"

namespace ash {
using look::px;
using look::text;
using look::theme;

LadderPage::LadderPage(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  look::withGround(this, theme().ground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(14), px(6), px(10), px(6));
  column->setSpacing(px(4));
  column->addWidget(buildHead());
  m_rowArea = new QScrollArea(this);
  m_rowArea->setWidgetResizable(true);
  m_rowArea->setFrameShape(QFrame::NoFrame);
  m_rowArea->setFocusPolicy(Qt::NoFocus);
  m_rowArea->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_row = new LadderRow(desk, m_rowArea);
  m_rowArea->setWidget(look::withGround(m_row, theme().ground));
  column->addWidget(m_rowArea);
  m_answer = look::label({}, 13, QFont::Normal, this);
  m_answer->setObjectName(QStringLiteral("ladder-answer"));
  m_answer->setWordWrap(true);
  m_answer->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  column->addWidget(m_answer);
  column->addWidget(look::rule(this));
  m_form = new LadderForm(this);
  column->addWidget(m_form, 1);
  connect(m_form, &LadderForm::climbWanted, this, [this](QStringList arguments) {
    if (m_desk.study() == nullptr) return;
    arguments << QStringLiteral("--study=") + text(m_desk.study()->name);
    if (!m_desk.plan().bench.empty())
      arguments << QStringLiteral("--sim=") + text(m_desk.plan().bench)
                << QStringLiteral("--speed=%1").arg(m_desk.plan().speed);
    emit climbWanted(arguments);
  });
  connect(m_row, &LadderRow::runWanted, this, &LadderPage::runWanted);
  connect(m_which, &QComboBox::activated, this, [this](int index) {
    m_shownId = m_which->itemData(index).toString().toStdString();
    showChosen();
  });
  connect(m_goOn, &QPushButton::clicked, this, &LadderPage::goOn);
  constexpr int kAgainMs = 1000;
  m_again = new QTimer(this);
  m_again->setSingleShot(true);
  m_again->setInterval(kAgainMs);
  connect(m_again, &QTimer::timeout, this, &LadderPage::showChosen);
  connect(&desk, &StudyDesk::changed, this, &LadderPage::refresh);
  refresh();
}

QWidget* LadderPage::buildHead() {
  auto* head = new QWidget(this);
  auto* row = new QHBoxLayout(head);
  row->setContentsMargins(0, 0, 0, 0);
  row->addWidget(look::label(tr("Ladder"), 13, QFont::DemiBold, head));
  m_which = new QComboBox(head);
  m_which->setObjectName(QStringLiteral("ladder-which"));
  m_which->setAccessibleName(tr("Which ladder is shown"));
  m_which->setFont(look::font(12));
  m_which->setMinimumContentsLength(24);
  row->addWidget(m_which);
  m_goOn = new QPushButton(tr("Go on"), head);
  m_goOn->setObjectName(QStringLiteral("ladder-go-on"));
  m_goOn->setToolTip(tr("It was cut off: goes on with the step that comes next."));
  row->addWidget(m_goOn);
  row->addStretch(1);
  auto* back = new QPushButton(tr("Setups × loads"), head);
  back->setObjectName(QStringLiteral("ladder-back"));
  back->setProperty("role", "quiet");
  back->setToolTip(tr("Back to the grid (Esc)"));
  back->setFont(look::font(12));
  connect(back, &QPushButton::clicked, this, &LadderPage::backWanted);
  row->addWidget(back);
  return head;
}

void LadderPage::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit backWanted();
  QWidget::keyPressEvent(event);
}

void LadderPage::setPlace(const QString& setup, const QString& load) { m_form->setPlace(setup, load); }

void LadderPage::setRunning(bool isRunning) {
  m_isRunning = isRunning;
  m_form->setRunning(isRunning);
  showChosen();
}

void LadderPage::setProblem(const QString& sentence) { m_form->setProblem(sentence); }

void LadderPage::refresh() {
  const size_t known = m_ladders.size();
  m_ladders = m_desk.ladders();
  const bool isThere =
      std::any_of(m_ladders.begin(), m_ladders.end(), [&](const Ladder& one) { return one.id == m_shownId; });
  // One that has just begun is shown.
  if (!m_ladders.empty() && (!isThere || m_ladders.size() > known)) m_shownId = m_ladders.back().id;
  m_which->clear();
  for (const Ladder& one : m_ladders) {
    m_which->addItem(tr("%1, %2").arg(text(one.ask.setup), text(one.ask.knob)), text(one.id));
    if (one.id == m_shownId) m_which->setCurrentIndex(m_which->count() - 1);
  }
  m_which->setVisible(!m_ladders.empty());
  showChosen();
}

void LadderPage::showChosen() {
  const auto shown =
      std::find_if(m_ladders.begin(), m_ladders.end(), [&](const Ladder& one) { return one.id == m_shownId; });
  const bool isThere = shown != m_ladders.end();
  m_row->show(isThere ? std::optional(*shown) : std::nullopt);
  m_rowArea->setFixedHeight(isThere ? m_row->minimumSizeHint().height() + px(12) : px(12));
  // Between two of its runs somebody climbs it still.
  const bool isClimbed = isThere && !shown->isOver && !m_isRunning && isBeingClimbed(*shown);
  m_goOn->setVisible(isThere && !shown->isOver && !m_isRunning && !isClimbed);
  if (isClimbed) m_again->start();
  if (isThere) {
    m_answer->setText(text(answerOf(*shown)));
    return;
  }
  m_answer->setText(
      tr("One knob is turned step by step until it no longer holds; each step is a run of a setup of its "
         "own. Choose what you want to know below."));
}

void LadderPage::goOn() {
  const auto shown =
      std::find_if(m_ladders.begin(), m_ladders.end(), [&](const Ladder& one) { return one.id == m_shownId; });
  if (shown == m_ladders.end()) return;
  QStringList arguments;
  for (const std::string& argument : ladderArguments(shown->ask)) arguments << text(argument);
  arguments << QStringLiteral("--resume");
  if (!valueIn(shown->ask.bench, "sim", "").empty()) arguments << QStringLiteral("--speed=%1").arg(m_desk.plan().speed);
  emit climbWanted(arguments);
}

}  // namespace ash

#include "moc_ladder_page.cpp"
