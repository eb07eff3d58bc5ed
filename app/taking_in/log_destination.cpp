// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/log_destination.h"

#include <QComboBox>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "model/entry_line.h"
#include "model/number_text.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr int kOwnRun = 0;

// Since it was asked last: a field that is only left is no reason to read a long log again.
bool wasChanged(QLineEdit* line) {
  const bool isChanged = line->isModified();
  line->setModified(false);
  return isChanged;
}

std::optional<double> secondsIn(const QLineEdit* line) {
  const QString typed =
      line->text().trimmed().replace(QLatin1Char(','), QLatin1Char('.')).replace(QChar(0x2212), QLatin1Char('-'));
  return parseNumber(typed.toStdString());
}

// As the entry line takes it.
std::string roomLine(const QLineEdit* room) { return "room " + room->text().trimmed().toStdString(); }

}  // namespace

LogDestination::LogDestination(const StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(px(12));
  m_as = addChoice(addGroup(row), "log-as", tr("as"),
                   tr("A run of its own, or a meter's own log that belongs to a run."), false);
  m_as->addItems({tr("a run of its own"), tr("a log beside a run")});
  buildOwn(row);
  buildBeside(row);
  row->addStretch(1);
  m_time = addLine(addGroup(row), "log-time", tr("time is written"), tr("as found"),
                   tr("How its time is written, where that cannot be told: of YYYY YY MM DD hh mm ss .f AM, e.g. "
                      "DD/MM/YYYY hh:mm:ss; or epoch, or epoch-ms."));
  m_time->setMaximumWidth(px(150));
  m_beside->hide();
  connect(m_as, &QComboBox::currentIndexChanged, this, [this] {
    m_own->setVisible(!isBeside());
    m_beside->setVisible(isBeside());
    emit lookNeeded();
  });
  connect(m_time, &QLineEdit::editingFinished, this, [this] {
    if (wasChanged(m_time)) emit lookNeeded();
  });
}

QWidget* LogDestination::addGroup(QHBoxLayout* row) {
  auto* group = new QWidget(this);
  auto* inner = new QHBoxLayout(group);
  inner->setContentsMargins(0, 0, 0, 0);
  inner->setSpacing(px(8));
  row->addWidget(group);
  return group;
}

QComboBox* LogDestination::addChoice(QWidget* group, const char* name, const QString& title, const QString& tip,
                                     bool isEditable) {
  auto* box = new QComboBox(group);
  box->setObjectName(QLatin1String(name));
  box->setAccessibleName(title);
  box->setToolTip(tip);
  box->setEditable(isEditable);
  box->setMinimumContentsLength(11);
  box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  group->layout()->addWidget(look::softLabel(title, group));
  group->layout()->addWidget(box);
  return box;
}

QLineEdit* LogDestination::addLine(QWidget* group, const char* name, const QString& title, const QString& hint,
                                   const QString& tip) {
  auto* line = new QLineEdit(group);
  line->setObjectName(QLatin1String(name));
  line->setAccessibleName(title);
  line->setPlaceholderText(hint);
  line->setToolTip(tip);
  group->layout()->addWidget(look::softLabel(title, group));
  group->layout()->addWidget(line);
  return line;
}

void LogDestination::buildOwn(QHBoxLayout* row) {
  m_own = addGroup(row);
  m_study = addChoice(m_own, "log-study", tr("study"), tr("The study it belongs to; a new name makes one."), true);
  m_setup = addChoice(m_own, "log-setup", tr("setup"), tr("What was under test; a new name makes one."), true);
  m_load = addChoice(m_own, "log-load", tr("load"), tr("What loaded it; a new name makes one."), true);
  m_room = addLine(m_own, "log-room", tr("room, °C"), tr("not known"),
                   tr("The room's temperature while it was logged: without it nothing is told over the room."));
  m_room->setMaximumWidth(px(92));
  for (QComboBox* box : {m_setup, m_load}) connect(box, &QComboBox::currentTextChanged, this, &LogDestination::changed);
  connect(m_room, &QLineEdit::textChanged, this, &LogDestination::changed);
  connect(m_study, &QComboBox::currentTextChanged, this,
          [this] { fillPlaces(m_setup->currentText(), m_load->currentText()); });
}

void LogDestination::buildBeside(QHBoxLayout* row) {
  m_beside = addGroup(row);
  m_run = addChoice(m_beside, "log-run", tr("run"), tr("The run it belongs to."), false);
  m_run->setMinimumContentsLength(30);
  m_offset = addLine(m_beside, "log-offset", tr("offset, s"), tr("found"),
                     tr("Seconds that are added to the log's time, so that it is the run's. Empty: found by what both "
                        "saw."));
  m_offset->setMaximumWidth(px(84));
  auto* find = new QPushButton(tr("Find it"), m_beside);
  find->setObjectName(QStringLiteral("log-find"));
  m_beside->layout()->addWidget(find);
  connect(m_run, &QComboBox::activated, this, &LogDestination::lookNeeded);
  connect(m_offset, &QLineEdit::editingFinished, this, [this] {
    if (!wasChanged(m_offset)) return;
    m_offsetS = secondsIn(m_offset);
    emit lookNeeded();
  });
  connect(find, &QPushButton::clicked, this, [this] {
    m_offsetS.reset();
    m_offset->clear();
    emit lookNeeded();
  });
}

void LogDestination::begin(const QString& fileName, const QString& setup, const QString& load) {
  const QSignalBlocker quiet(this);
  m_offsetS.reset();
  for (QLineEdit* line : {m_time, m_room, m_offset}) line->clear();
  m_study->clear();
  for (const Study& study : m_desk.studies()) m_study->addItem(text(study.name));
  m_study->setCurrentText(m_desk.study() != nullptr ? text(m_desk.study()->name) : tr("Taken in"));
  fillPlaces(setup.isEmpty() ? QFileInfo(fileName).completeBaseName() : setup, load);
  fillRuns();
  m_as->setCurrentIndex(kOwnRun);
}

void LogDestination::fillPlaces(const QString& setup, const QString& load) {
  {
    const QSignalBlocker quietSetup(m_setup), quietLoad(m_load);
    m_setup->clear();
    m_load->clear();
    for (const Study& study : m_desk.studies()) {
      if (text(study.name) != m_study->currentText()) continue;
      for (const Setup& one : study.setups) m_setup->addItem(text(one.name));
      for (const Load& one : study.loads) m_load->addItem(text(one.name));
    }
    m_setup->setCurrentText(setup);
    m_load->setCurrentText(!load.isEmpty() ? load : m_load->count() > 0 ? m_load->itemText(0) : tr("not told"));
    for (QComboBox* box : {m_study, m_setup, m_load}) box->lineEdit()->setCursorPosition(0);
  }
  emit changed();
}

void LogDestination::fillRuns() {
  m_run->clear();
  for (const RunSummary& run : m_desk.allRuns()) {
    if (run.info.outcome == Outcome::Running) continue;
    m_run->addItem(tr("%1, %2, repeat %3 (%4)")
                       .arg(text(run.info.setup), text(run.info.load))
                       .arg(run.info.repeat)
                       .arg(text(run.info.id)),
                   text(run.info.id));
  }
  const QString last = m_desk.runs().empty() ? QString() : text(m_desk.runs().back().info.id);
  m_run->setCurrentIndex(std::max(m_run->findData(last), 0));
}

bool LogDestination::isBeside() const { return m_as->currentIndex() != kOwnRun; }
QString LogDestination::setup() const { return m_setup->currentText().trimmed(); }
QString LogDestination::load() const { return m_load->currentText().trimmed(); }

void LogDestination::setKnown(const LogFacts& facts) {
  const bool hasRoom = std::any_of(facts.columns.begin(), facts.columns.end(),
                                   [](const ColumnFacts& one) { return one.column.role.isRoom(); });
  m_room->setPlaceholderText(hasRoom ? tr("in the log") : tr("not known"));
}

void LogDestination::setOffset(double offsetS) {
  m_offsetS = offsetS;
  m_offset->setText(text(roundedText(offsetS, 2)));
  emit lookNeeded();
}

void LogDestination::fill(LogWish& wish) const {
  wish.wishes.time = m_time->text().trimmed().toStdString();
  wish.place.book = m_desk.bookPath().toStdString();
  if (isBeside()) {
    wish.beside.book = wish.place.book;
    wish.beside.run = m_run->currentData().toString().toStdString();
    wish.beside.offsetS = m_offsetS;
    return;
  }
  wish.place.study = m_study->currentText().trimmed().toStdString();
  wish.place.setup = setup().toStdString();
  wish.place.load = load().toStdString();
  const auto room = parseEntry(roomLine(m_room));
  if (!m_room->text().trimmed().isEmpty() && room) wish.place.typed.push_back(eventOf(*room, kMissing));
}

QString LogDestination::problem() const {
  if (isBeside() && m_run->count() == 0) return tr("This book has no run yet beside which it could stand.");
  if (isBeside() && !m_offset->text().trimmed().isEmpty() && !secondsIn(m_offset))
    return tr("The offset is a number of seconds, such as 41.3; empty, it is found.");
  if (isBeside()) return {};
  if (m_room->text().trimmed().isEmpty() || parseEntry(roomLine(m_room))) return {};
  return tr("The room is a temperature in °C, such as 22.5.");
}

}  // namespace ash

#include "moc_log_destination.cpp"
