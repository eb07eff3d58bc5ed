// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/outside_form.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>
#include <array>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/look/words.h"
#include "instruments/instrument_file.h"
#include "instruments/sound_readings.h"
#include "instruments/spoken_reading.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr int kTryAfterMs = 800;

/// A sentence for each kind: its beginning, the word before what is asked for, and an example of both gaps.
struct Sentence {
  InstrumentKind kind;
  const char *begins, *with, *address, *asked;
};
constexpr std::array kSentences = {
    Sentence{InstrumentKind::Scpi, QT_TRANSLATE_NOOP("ash::OutsideForm", "Ask a meter at"),
             QT_TRANSLATE_NOOP("ash::OutsideForm", "with"), "127.0.0.1:5025", "MEAS:POW?"},
    Sentence{InstrumentKind::OpenMetrics, QT_TRANSLATE_NOOP("ash::OutsideForm", "Read another machine at"),
             QT_TRANSLATE_NOOP("ash::OutsideForm", "for"), "http://box:9410/metrics",
             "ash_power_watts{role=\"wall.power\"}"},
    Sentence{InstrumentKind::Mqtt, QT_TRANSLATE_NOOP("ash::OutsideForm", "Listen to a broker at"),
             QT_TRANSLATE_NOOP("ash::OutsideForm", "for"), "127.0.0.1:1883", "bench/air#/t"},
    Sentence{InstrumentKind::Command, QT_TRANSLATE_NOOP("ash::OutsideForm", "Run the command"),
             QT_TRANSLATE_NOOP("ash::OutsideForm", "and find"), "./read-meter", "([0-9.]+) W"},
    Sentence{InstrumentKind::Sound, QT_TRANSLATE_NOOP("ash::OutsideForm", "Listen to the microphone"), "", "default",
             ""}};

constexpr std::array kRoles = {"wall.power", "room.temp", "noise",     "surface.lid", "case.temp",
                               "cpu.temp",   "gpu.temp",  "cpu.power", "gpu.power"};

QLineEdit* gap(const QString& name, const char* objectName, int width, QWidget* parent) {
  auto* edit = new QLineEdit(parent);
  edit->setAccessibleName(name);
  edit->setObjectName(QString::fromLatin1(objectName));
  edit->setMinimumWidth(px(width));
  return edit;
}

QString titleOf(const InstrumentReading& reading) {
  return text(reading.role.empty() ? reading.name : reading.role.title());
}

// What a role is called; a column without one has its name.
QString roleWords(const QString& said) {
  const Role role(said.toStdString());
  return role.isKnown() ? text(role.title()) : said;
}

}  // namespace

OutsideForm::OutsideForm(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, px(4), 0, px(4));
  column->setSpacing(px(6));
  auto* first = new QHBoxLayout;
  m_kind = new QComboBox(this);
  m_kind->setAccessibleName(tr("Kind of instrument"));
  m_kind->setObjectName(QStringLiteral("outside-kind"));
  for (const Sentence& sentence : kSentences) m_kind->addItem(tr(sentence.begins), static_cast<int>(sentence.kind));
  m_address = gap(tr("Address"), "outside-address", 170, this);
  m_with = look::label({}, 13, QFont::Normal, this);
  m_asked = gap(tr("What is asked for"), "outside-asked", 150, this);
  m_interval = new QDoubleSpinBox(this);
  m_interval->setAccessibleName(tr("Seconds between two questions"));
  m_interval->setRange(0.05, 3600);
  m_interval->setDecimals(2);
  m_interval->setValue(1);
  m_interval->setSuffix(tr(" s"));
  m_which = new QComboBox(this);
  m_which->setAccessibleName(tr("Which of its readings"));
  m_which->setObjectName(QStringLiteral("outside-which"));
  m_which->setToolTip(tr("Which of its readings this sentence is about"));
  m_which->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  m_which->setMinimumContentsLength(10);
  m_which->hide();
  first->addWidget(m_kind);
  first->addWidget(m_address, 2);
  first->addWidget(m_which);
  first->addWidget(m_with);
  first->addWidget(m_asked, 2);
  first->addWidget(look::label(tr("every"), 13, QFont::Normal, this));
  first->addWidget(m_interval);
  column->addLayout(first);
  auto* second = new QHBoxLayout;
  m_role = new QComboBox(this);
  m_role->setAccessibleName(tr("What it is"));
  m_role->setObjectName(QStringLiteral("outside-role"));
  for (const char* role : kRoles) m_role->addItem(text(Role(role).title()), QString::fromLatin1(role));
  m_accuracy = gap(tr("What it may be off by"), "outside-accuracy", 110, this);
  m_accuracy->setPlaceholderText(tr("0.5 % + 0.2 W"));
  m_name = gap(tr("What you call it"), "outside-name", 120, this);
  m_name->setPlaceholderText(tr("wall meter"));
  second->addWidget(look::label(tr("It is the"), 13, QFont::Normal, this));
  second->addWidget(m_role);
  second->addWidget(look::label(tr(", good to ±"), 13, QFont::Normal, this));
  second->addWidget(m_accuracy, 1);
  second->addWidget(look::label(tr("and called"), 13, QFont::Normal, this));
  second->addWidget(m_name, 1);
  m_try = new QPushButton(tr("Try it"), this);
  m_try->setObjectName(QStringLiteral("outside-try"));
  m_keep = new QPushButton(tr("Keep it"), this);
  m_keep->setObjectName(QStringLiteral("outside-keep"));
  second->addWidget(m_try);
  second->addWidget(m_keep);
  column->addLayout(second);
  m_result = look::softLabel({}, this);
  m_result->setObjectName(QStringLiteral("outside-result"));
  m_result->setWordWrap(true);
  column->addWidget(m_result);
  m_wait = new QTimer(this);
  m_wait->setSingleShot(true);
  m_wait->setInterval(kTryAfterMs);
  connect(m_wait, &QTimer::timeout, this, [this] {
    // A command that is half typed is not run.
    if (kind() != InstrumentKind::Command && isWhole()) tryIt();
  });
  connect(m_which, &QComboBox::activated, this, &OutsideForm::chooseReading);
  connect(m_kind, &QComboBox::currentIndexChanged, this, &OutsideForm::fillSentence);
  for (QLineEdit* edit : {m_address, m_asked, m_accuracy, m_name})
    connect(edit, &QLineEdit::textEdited, this, &OutsideForm::gapsChanged);
  connect(m_role, &QComboBox::currentIndexChanged, this, &OutsideForm::gapsChanged);
  connect(m_interval, &QDoubleSpinBox::valueChanged, this, &OutsideForm::gapsChanged);
  connect(m_try, &QPushButton::clicked, this, &OutsideForm::tryIt);
  connect(m_keep, &QPushButton::clicked, this, &OutsideForm::keepIt);
  fillSentence();
}

InstrumentKind OutsideForm::kind() const { return static_cast<InstrumentKind>(m_kind->currentData().toInt()); }

bool OutsideForm::isWhole() const {
  // A microphone is asked for nothing.
  const bool isAsked = kind() == InstrumentKind::Sound || !m_asked->text().trimmed().isEmpty();
  return isAsked && !m_address->text().trimmed().isEmpty();
}

void OutsideForm::fillSentence() {
  for (const Sentence& sentence : kSentences) {
    if (sentence.kind != kind()) continue;
    m_with->setText(tr(sentence.with));
    m_address->setPlaceholderText(QString::fromLatin1(sentence.address));
    m_asked->setPlaceholderText(QString::fromLatin1(sentence.asked));
  }
  const bool isSound = kind() == InstrumentKind::Sound;
  m_with->setVisible(!isSound);
  m_asked->setVisible(!isSound);
  m_role->setEnabled(!isSound);
  if (isSound) m_role->setCurrentIndex(m_role->findData(QString::fromLatin1(roles::kNoise)));
  if (isSound && m_address->text().isEmpty()) m_address->setText(QStringLiteral("default"));
  gapsChanged();
}

// As it will stand in the file.
Json OutsideForm::written() const {
  const auto typed = [](const QLineEdit* edit) { return edit->text().trimmed().toStdString(); };
  const std::string role = m_role->currentData().toString().toStdString();
  const std::string name = m_name->text().trimmed().isEmpty() ? m_role->currentText().toStdString() : typed(m_name);
  Json instrument = m_stood;
  instrument["name"] = name;
  instrument["kind"] = instrumentKindText(kind());
  const bool isSound = kind() == InstrumentKind::Sound;
  instrument[isSound ? "device" : kind() == InstrumentKind::Command ? "command" : "address"] = typed(m_address);
  if (!m_stood.contains("interval_s") || m_interval->value() != m_shownIntervalS)
    instrument["interval_s"] = m_interval->value();
  const std::string accuracy = typed(m_accuracy).empty() ? "" : " ±" + typed(m_accuracy);
  const auto reading = parseSpokenReading(role + (isSound ? "" : "=" + typed(m_asked)) + accuracy, kind());
  Json& readings = instrument["readings"];
  if (!readings.is_array()) readings = Json::array({Json::object()});
  sayAnew(readings.at(static_cast<size_t>(m_reading)), reading ? *reading : Json{{"role", role}});
  return instrument;
}

QString OutsideForm::keepWords() const {
  if (m_changed.isEmpty()) return m_hasAnswered ? tr("Keep it") : tr("Keep it unanswered");
  return m_hasAnswered ? tr("Keep the change") : tr("Keep the change unanswered");
}

void OutsideForm::gapsChanged() {
  m_hasAnswered = false;
  m_result->setText(isWhole() ? QString()
                              : tr("Fill the gaps: it is tried while you type, and kept when it has answered."));
  m_try->setEnabled(isWhole());
  m_keep->setEnabled(isWhole());
  m_keep->setText(keepWords());
  m_wait->start();
}

void OutsideForm::tryIt() {
  if (!isWhole()) return;
  m_wait->stop();
  m_tried = written();
  m_result->setText(tr("Asking …"));
  emit tryWanted(std::make_shared<const Json>(m_tried));
}

void OutsideForm::keepIt() {
  if (isWhole()) emit keepWanted(std::make_shared<const Json>(written()));
}

void OutsideForm::showTried(const std::shared_ptr<const InstrumentNow>& now, const QString& refusal) {
  if (m_tried != written()) return;  // typed on since
  if (now == nullptr) {
    m_keep->setEnabled(false);
    const QString place = QStringLiteral("readings[%1].").arg(m_reading);
    m_result->setText(tr("This cannot be asked: %1").arg(QString(refusal).remove(place)));
    return;
  }
  const InstrumentState& state = now->state;
  const InstrumentReading& reading = now->instrument.readings.at(static_cast<size_t>(m_reading));
  m_hasAnswered = state.answers > 0;
  const QString who = state.identity.empty() ? QString() : tr(", and is %1").arg(text(state.identity));
  const Answer& last = state.last.at(static_cast<size_t>(m_reading));
  if (m_hasAnswered)
    m_result->setText(
        std::isfinite(last.value)
            ? tr("It says %1%2.")
                  .arg(text(withUnit(last.value, usualDigits(reading.storedUnit()), reading.storedUnit())), who)
            : tr("It answers, but has no reading now%1.").arg(who));
  else
    m_result->setText(state.error.empty() ? tr("It has not told anything yet%1.").arg(who)
                                          : tr("It does not answer: %1%2.").arg(text(state.error), who));
  m_keep->setText(keepWords());
}

void OutsideForm::change(const Instrument& instrument) {
  clear();
  m_changed = text(instrument.name);
  m_stood = instrumentToJson(instrument);
  for (const InstrumentReading& reading : instrument.readings) {
    if (!reading.isOfSpectrum) m_readings.push_back(reading);
  }
  for (const InstrumentReading& reading : m_readings) m_which->addItem(titleOf(reading));
  m_which->setVisible(m_readings.size() > 1);
  m_kind->setCurrentIndex(m_kind->findData(static_cast<int>(instrument.kind)));
  m_kind->setEnabled(false);
  m_address->setText(text(instrument.where()));
  m_interval->setValue(instrument.intervalS);
  m_shownIntervalS = m_interval->value();
  m_name->setText(m_changed);
  fillReading();
}

// The gaps of the reading that the sentence is about.
void OutsideForm::fillReading() {
  const InstrumentReading& reading = m_readings.at(static_cast<size_t>(m_reading));
  // A microphone that is not calibrated tells another role than the one that is written of it.
  const std::string_view role = kind() == InstrumentKind::Sound ? writtenSoundRole(reading) : reading.title();
  const QString said = text(std::string(role));
  if (m_role->findData(said) < 0) m_role->addItem(roleWords(said), said);
  m_role->setCurrentIndex(m_role->findData(said));
  m_asked->setText(text(spokenQuery(reading)));
  m_accuracy->setText(text(reading.accuracyAsWritten));
  gapsChanged();
}

// What was said of the one before is kept in mind.
void OutsideForm::chooseReading(int index) {
  if (index == m_reading) return;
  const Json said = written();
  const Json file = {{"instruments", 1}, {"list", {said}}};
  const auto parsed = parseInstruments(file.dump(-1, ' ', false, Json::error_handler_t::replace), "");
  if (!parsed) {
    // Half a reading stays in hand until it is whole.
    m_which->setCurrentIndex(m_reading);
    return tryIt();
  }
  m_stood = said;
  m_readings[static_cast<size_t>(m_reading)] = parsed->front().readings.at(static_cast<size_t>(m_reading));
  m_which->setItemText(m_reading, titleOf(m_readings[static_cast<size_t>(m_reading)]));
  m_reading = index;
  fillReading();
}

void OutsideForm::clear() {
  m_changed.clear();
  m_stood = Json::object();
  m_readings.clear();
  m_reading = 0;
  m_which->clear();
  m_which->hide();
  m_kind->setEnabled(true);
  m_interval->setValue(1);
  for (QLineEdit* edit : {m_address, m_asked, m_accuracy, m_name}) edit->clear();
  gapsChanged();
}

void OutsideForm::focusFirst() { m_address->setFocus(); }

void OutsideForm::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape) return emit closed();
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return m_hasAnswered ? keepIt() : tryIt();
  QWidget::keyPressEvent(event);
}

}  // namespace ash

#include "moc_outside_form.cpp"
