// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/log_sheet.h"

#include <QApplication>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "app/taking_in/beside_lane.h"
#include "app/taking_in/column_row.h"
#include "app/taking_in/head_view.h"
#include "app/taking_in/log_destination.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

QScrollArea* scrolled(QWidget* inner, QWidget* parent) {
  auto* area = new QScrollArea(parent);
  area->setFrameShape(QFrame::NoFrame);
  area->setWidget(inner);
  area->setFocusPolicy(Qt::NoFocus);
  return area;
}

QString separatorWords(char separator) {
  if (separator == 0) return QObject::tr("columns of fixed width");
  if (separator == '\t') return QObject::tr("separated by tabs");
  if (separator == ' ') return QObject::tr("separated by blanks");
  return QObject::tr("separated by “%1”").arg(QLatin1Char(separator));
}

}  // namespace

LogSheet::LogSheet(const StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  setObjectName(QStringLiteral("log-sheet"));
  look::withGround(this, theme().ground);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(24), px(16), px(24), px(12));
  column->setSpacing(px(8));
  auto* head = new QHBoxLayout;
  head->addWidget(look::label(tr("Taking in"), 18, QFont::DemiBold, this));
  m_name = look::label({}, 18, QFont::Normal, this);
  m_name->setObjectName(QStringLiteral("log-name"));
  head->addWidget(m_name);
  head->addStretch(1);
  column->addLayout(head);
  m_about = look::softLabel({}, this);
  m_about->setObjectName(QStringLiteral("log-about"));
  m_about->setWordWrap(true);
  column->addWidget(m_about);
  auto* sides = new QHBoxLayout;
  sides->setSpacing(px(20));
  sides->addWidget(buildLeft(), 4);
  sides->addWidget(buildRight(), 6);
  column->addLayout(sides, 1);
  column->addWidget(look::rule(this));
  column->addWidget(buildFoot());
}

QWidget* LogSheet::buildLeft() {
  auto* left = new QWidget(this);
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  m_headWords = look::softLabel(tr("Its first lines. Underlined: time, units, decimal marks as they were read"), left);
  m_headWords->setWordWrap(true);
  column->addWidget(m_headWords);
  m_head = new HeadView(left);
  QScrollArea* area = scrolled(m_head, left);
  area->setWidgetResizable(true);
  look::withGround(m_head, theme().panel);
  area->setFocusPolicy(Qt::StrongFocus);
  column->addWidget(area, 1);
  m_problems = look::label({}, 12, QFont::Normal, left);
  m_problems->setObjectName(QStringLiteral("log-problems"));
  m_problems->setWordWrap(true);
  m_problems->setTextInteractionFlags(Qt::TextSelectableByMouse);
  column->addWidget(m_problems);
  return left;
}

QWidget* LogSheet::buildRight() {
  auto* right = new QWidget(this);
  auto* column = new QVBoxLayout(right);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  m_lane = new BesideLane(right);
  m_lane->hide();
  column->addWidget(m_lane);
  column->addWidget(look::softLabel(tr("Its columns, from the first row to the last"), right));
  m_columnsHost = look::withGround(new QWidget(right), theme().ground);
  m_columns = new QVBoxLayout(m_columnsHost);
  m_columns->setContentsMargins(0, 0, px(8), 0);
  m_columns->setSpacing(0);
  QScrollArea* area = scrolled(m_columnsHost, right);
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  column->addWidget(area, 1);
  connect(m_lane, &BesideLane::moved, this,
          [this](double offsetS) { m_destination->setOffset(std::round(offsetS * 100) / 100); });
  return right;
}

QWidget* LogSheet::buildFoot() {
  auto* foot = new QWidget(this);
  auto* column = new QVBoxLayout(foot);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  m_destination = new LogDestination(m_desk, foot);
  column->addWidget(m_destination);
  auto* row = new QHBoxLayout;
  m_foot = look::label({}, 13, QFont::DemiBold, foot);
  m_foot->setObjectName(QStringLiteral("log-foot"));
  m_foot->setWordWrap(true);
  m_progress = new QProgressBar(foot);
  m_progress->setRange(0, 1000);
  m_progress->setTextVisible(false);
  m_progress->setFixedWidth(px(160));
  m_progress->setFixedHeight(px(8));
  m_progress->setAccessibleName(tr("How much of the work on the log is done"));
  m_take = new QPushButton(tr("Take it in    Ctrl+Enter"), foot);
  m_take->setObjectName(QStringLiteral("log-take"));
  m_take->setProperty("role", "main");
  m_leave = new QPushButton(tr("Leave it    Esc"), foot);
  m_leave->setObjectName(QStringLiteral("log-leave"));
  for (QPushButton* button : {m_take, m_leave}) button->setMinimumHeight(px(32));
  row->addWidget(m_foot, 1);
  row->addWidget(m_progress);
  row->addWidget(m_leave);
  row->addWidget(m_take);
  column->addLayout(row);
  connect(m_destination, &LogDestination::lookNeeded, this, &LogSheet::lookAgain);
  connect(m_destination, &LogDestination::changed, this, &LogSheet::showFoot);
  connect(m_take, &QPushButton::clicked, this, &LogSheet::take);
  connect(m_leave, &QPushButton::clicked, this, &LogSheet::left);
  return foot;
}

void LogSheet::open(const QString& path, const QString& setup, const QString& load) {
  m_path = path;
  m_said.clear();
  m_skip.clear();
  m_look.reset();
  m_beside.reset();
  m_refusal.clear();
  m_head->show({});
  for (QLabel* label : {m_about, m_problems}) label->clear();
  clearColumns();
  m_isTaking = false;
  m_name->setText(QFileInfo(path).fileName());
  m_destination->begin(path, setup, load);
  m_take->setFocus();
  lookAgain();
}

std::shared_ptr<LogWish> LogSheet::wish() const {
  auto wish = std::make_shared<LogWish>();
  wish->path = m_path.toStdString();
  wish->wishes.map = m_said;
  wish->wishes.skip = m_skip;
  m_destination->fill(*wish);
  return wish;
}

void LogSheet::lookAgain() {
  if (m_path.isEmpty()) return;
  m_isReading = true;
  m_progress->setValue(0);
  showFoot();
  emit lookWanted(wish());
}

void LogSheet::showTaking() {
  m_isTaking = true;
  showFoot();
}

void LogSheet::take() {
  if (!m_take->isEnabled()) return;
  showTaking();
  emit takeWanted(wish());
}

void LogSheet::showProgress(double share) { m_progress->setValue(static_cast<int>(std::lround(1000 * share))); }

void LogSheet::showRefusal(const QString& why) {
  m_isTaking = false;
  m_refusal = why;
  showFoot();
}

void LogSheet::showLook(const std::shared_ptr<const LogLook>& look, const std::shared_ptr<const BesideLook>& beside,
                        const QString& refusal) {
  m_isReading = false;
  m_refusal = refusal;
  m_beside = beside;
  if (look) m_look = look;
  if (look) {
    const LogFacts& facts = look->facts;
    QStringList about = {text(facts.encoding), separatorWords(facts.separator),
                         tr("decimals with “%1”").arg(QLatin1Char(facts.decimal)),
                         facts.headerLine > 0 ? tr("names in line %1").arg(facts.headerLine) : tr("no line of names")};
    QStringList times;
    for (const std::string& name : facts.timeNames) times << text(name);
    about << tr("time from %1 (%2), a row every %3 s")
                 .arg(times.join(tr(" and ")), text(facts.timeFormat),
                      text(numberText(facts.intervalS, facts.intervalS < 10 ? 2 : 0)));
    m_about->setText(about.join(QStringLiteral(", ")));
    m_head->show(facts.head);
    m_destination->setKnown(facts);
    QStringList problems;
    for (const Problem& problem : facts.problems) problems << text(problem.text);
    if (problems.size() > 6) problems = problems.mid(0, 6) << tr("and %1 more").arg(facts.problems.size() - 6);
    for (const std::string& wanting : whatItCannotTell(facts)) problems << text(wanting);
    m_problems->setText(problems.join(QLatin1Char('\n')));
    showColumns();
  }
  m_lane->setVisible(m_destination->isBeside() && beside);
  if (beside) {
    m_lane->show(beside->run, beside->log);
    m_lane->setOffset(beside->told.offset.offsetS, beside->told.offset.driftPpm.value_or(0) * 1e-6);
  }
  showFoot();
}

void LogSheet::clearColumns() {
  while (QLayoutItem* item = m_columns->takeAt(0)) {
    delete item->widget();
    delete item;
  }
}

// The field that is being used stays the one that has the keys.
void LogSheet::showColumns() {
  const QWidget* focused = QApplication::focusWidget();
  const QString used = focused != nullptr && m_columnsHost->isAncestorOf(focused) ? focused->objectName() : QString();
  clearColumns();
  size_t lane = 0;
  const auto add = [&](ColumnRow* row) {
    connect(
        row, &ColumnRow::roleSaid, this,
        [this](const QString& column, const QString& role) {
          m_said[column.toStdString()] = {role.toStdString(), {}};
          lookAgain();
        },
        Qt::QueuedConnection);
    connect(
        row, &ColumnRow::takenSaid, this,
        [this](const QString& column, bool isTaken) {
          std::erase(m_skip, column.toStdString());
          if (!isTaken) m_skip.push_back(column.toStdString());
          lookAgain();
        },
        Qt::QueuedConnection);
    m_columns->addWidget(row);
    m_columns->addWidget(look::rule(m_columnsHost));
  };
  for (const ColumnFacts& facts : m_look->facts.columns) {
    const bool hasLane = facts.column.kind != ColumnKind::Words && lane < m_look->lanes.size();
    const int colour = static_cast<int>(lane);
    add(new ColumnRow(facts, hasLane ? &m_look->lanes[lane++] : nullptr, colour % 8, m_columnsHost));
  }
  for (const std::string& name : m_skip) add(new ColumnRow(text(name), m_columnsHost));
  m_columns->addStretch(1);
  if (used.isEmpty()) return;
  if (auto* again = m_columnsHost->findChild<QWidget*>(used)) again->setFocus();
}

QString LogSheet::besideSentence() const {
  const TakenBeside& told = m_beside->told;
  if (!told.refusal.empty()) return tr("Its offset cannot be found; drag it under the run, or type it.");
  QString words = tr("its time %1 s").arg(text(signedText(told.offset.offsetS, 2)));
  if (!told.by.empty())
    words += tr(" (%1 to %2), by %3 with %4")
                 .arg(text(signedText(told.offset.offsetLowS, 1)), text(signedText(told.offset.offsetHighS, 1)),
                      text(told.by.front()), text(told.by.back()));
  if (told.offset.driftPpm)
    words += tr(", its clock drifting by %1 ppm").arg(text(signedText(*told.offset.driftPpm, 0)));
  return words;
}

QString LogSheet::footSentence() const {
  const LogFacts& facts = m_look->facts;
  QString words =
      tr("%1 rows, %2").arg(text(numberText(static_cast<double>(facts.rows), 0)), text(clockText(facts.lengthS)));
  if (facts.startsS) words += tr(", starts %1").arg(text(startText(facts)).replace(QLatin1Char('T'), QLatin1Char(' ')));
  if (m_destination->isBeside()) return m_beside ? words + QStringLiteral(", ") + besideSentence() : words;
  return words + tr(", into %1 / %2").arg(m_destination->setup(), m_destination->load());
}

// What will become of it, or what hinders it.
void LogSheet::showFoot() {
  QString hindered = m_refusal;
  if (hindered.isEmpty()) hindered = m_destination->problem();
  if (hindered.isEmpty() && m_destination->isBeside() && m_beside && !m_beside->told.refusal.empty())
    hindered = besideSentence();
  const bool isReady = m_look && hindered.isEmpty() && !m_isReading && !m_isTaking;
  m_foot->setText(m_isTaking || m_isReading ? tr("Reading …")
                  : !hindered.isEmpty()     ? hindered
                  : m_look                  ? footSentence()
                                            : QString());
  m_take->setEnabled(isReady);
  m_progress->setVisible(m_isReading || m_isTaking);
}

void LogSheet::keyPressEvent(QKeyEvent* event) {
  const bool isEnter = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (event->key() == Qt::Key_Escape)
    emit left();
  else if (isEnter && event->modifiers().testFlag(Qt::ControlModifier))
    take();
  else
    QWidget::keyPressEvent(event);
}

}  // namespace ash

#include "moc_log_sheet.cpp"
