// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/start_form.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/look/theme.h"
#include "load/load_text.h"
#include "model/text.h"
#include "sim/bench_spec.h"

namespace ash {
using look::px;

StartForm::StartForm(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(12), px(16), px(12));
  column->setSpacing(px(3));
  auto* head = new QLabel(tr("Next run"), this);
  head->setTextFormat(Qt::PlainText);
  head->setFont(look::font(13, QFont::DemiBold));
  column->addWidget(head);
  buildFields();
  m_words = new QLabel(this);
  m_words->setTextFormat(Qt::PlainText);
  m_words->setFont(look::font(12));
  m_words->setProperty("soft", true);
  m_words->setWordWrap(true);
  column->addWidget(m_words);
  column->addSpacing(px(8));
  m_start = new QPushButton(tr("Start"), this);
  m_start->setObjectName(QStringLiteral("start-run"));
  m_start->setProperty("role", "main");
  m_start->setMinimumHeight(px(36));
  connect(m_start, &QPushButton::clicked, this, &StartForm::startPressed);
  column->addWidget(m_start);
  m_missing = new QLabel(this);
  m_missing->setTextFormat(Qt::PlainText);
  m_missing->setFont(look::font(12));
  m_missing->setProperty("soft", true);
  m_missing->setWordWrap(true);
  column->addWidget(m_missing);
  m_problem = new QLabel(this);
  m_problem->setTextFormat(Qt::PlainText);
  m_problem->setObjectName(QStringLiteral("start-problem"));
  m_problem->setFont(look::font(12));
  m_problem->setProperty("problem", true);
  m_problem->setWordWrap(true);
  column->addWidget(m_problem);
  column->addStretch(1);
  benchChanged();
  check();
  setFocusProxy(m_study);
}

void StartForm::addField(const QString& label, QWidget* field, const QString& tip) {
  auto* name = new QLabel(label, this);
  name->setTextFormat(Qt::PlainText);
  name->setFont(look::font(12));
  name->setProperty("soft", true);
  name->setBuddy(field);
  field->setToolTip(tip);
  field->setAccessibleName(label);
  auto* column = static_cast<QVBoxLayout*>(layout());
  column->addSpacing(px(4));
  column->addWidget(name);
  column->addWidget(field);
  if (field == m_speed) m_speedLabel = name;
  if (field == m_room) m_roomLabel = name;
}

void StartForm::buildFields() {
  const auto editable = [this](const char* name) {
    auto* box = new QComboBox(this);
    box->setEditable(true);
    box->setInsertPolicy(QComboBox::NoInsert);
    box->setObjectName(QLatin1String(name));
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(12);
    connect(box, &QComboBox::editTextChanged, this, &StartForm::check);
    return box;
  };
  m_study = editable("study");
  m_setup = editable("setup");
  m_bench = new QComboBox(this);
  m_bench->setObjectName(QStringLiteral("bench"));
  m_bench->addItem(tr("This machine"), QString());
  for (const std::string& name : sim::shippedBenchNames()) {
    m_bench->addItem(tr("Simulated: %1").arg(QString::fromStdString(name)), QString::fromStdString(name));
  }
  m_load = new QComboBox(this);
  m_load->setObjectName(QStringLiteral("load"));
  m_phases = new QLineEdit(QStringLiteral("idle 1min, soak settled 5min..40min, measure 5min, cool 1min"), this);
  m_phases->setObjectName(QStringLiteral("phases"));
  m_phases->setCursorPosition(0);
  m_speed = new QDoubleSpinBox(this);
  m_speed->setObjectName(QStringLiteral("speed"));
  m_speed->setRange(1, 10000);
  m_speed->setDecimals(0);
  m_speed->setButtonSymbols(QAbstractSpinBox::NoButtons);
  m_speed->setValue(60);
  m_room = new QLineEdit(this);
  m_room->setObjectName(QStringLiteral("room-typed"));
  m_room->setPlaceholderText(tr("not known"));
  addField(tr("Study"), m_study, tr("The question this run belongs to; a new name makes a new study."));
  addField(tr("Setup"), m_setup, tr("What is under test; a new name makes a new setup."));
  addField(tr("On"), m_bench, tr("This machine, or a simulated bench that ships with the program."));
  addField(tr("Load"), m_load, tr("What heats it."));
  addField(tr("Phases"), m_phases,
           tr("idle, soak, measure, cool with their ends: 30s, 5min, settled 5min..40min, below 45."));
  addField(tr("Bench seconds per second"), m_speed, tr("How much faster than real time the simulated bench runs."));
  addField(tr("Room, °C"), m_room, tr("Room temperature where no sensor reads it."));
  connect(m_bench, &QComboBox::currentIndexChanged, this, &StartForm::benchChanged);
  connect(m_study, &QComboBox::currentTextChanged, this, &StartForm::studyChanged);
  connect(m_phases, &QLineEdit::textChanged, this, &StartForm::check);
  connect(m_room, &QLineEdit::textChanged, this, &StartForm::check);
}

void StartForm::benchChanged() {
  const QString sim = m_bench->currentData().toString();
  const QString before = m_load->currentText();
  m_load->clear();
  if (sim.isEmpty()) {
    for (const std::string& kind : kindsToChoose()) m_load->addItem(QString::fromStdString(kind));
  } else if (const auto spec = sim::shippedBench(sim.toStdString())) {
    for (const auto& [kind, activities] : spec->loads) m_load->addItem(QString::fromStdString(kind));
  }
  const int same = m_load->findText(before.isEmpty() ? QStringLiteral("vector") : before);
  m_load->setCurrentIndex(same >= 0 ? same : std::max(0, m_load->findText(QStringLiteral("vector"))));
  const bool isSimulated = !sim.isEmpty();
  m_speed->setVisible(isSimulated);
  m_speedLabel->setVisible(isSimulated);
  m_room->setVisible(!isSimulated);
  m_roomLabel->setVisible(!isSimulated);
  studyChanged();
}

void StartForm::setStudies(const std::vector<Study>& studies) {
  m_studies = studies;
  const QString study = m_study->currentText();
  m_study->clear();
  for (const Study& known : studies) m_study->addItem(QString::fromStdString(known.name));
  if (!study.isEmpty()) m_study->setEditText(study);
  studyChanged();
}

// Setups that the study has, then those the simulated bench describes.
void StartForm::studyChanged() {
  const QString setup = m_setup->currentText();
  QStringList names;
  for (const Study& study : m_studies) {
    if (QString::fromStdString(study.name) != m_study->currentText()) continue;
    for (const Setup& known : study.setups) names << QString::fromStdString(known.name);
  }
  const QString sim = m_bench->currentData().toString();
  if (!sim.isEmpty()) {
    if (const auto spec = sim::shippedBench(sim.toStdString())) {
      for (const std::string& name : spec->setupNames) names << QString::fromStdString(name);
    }
  }
  names.removeDuplicates();
  m_setup->clear();
  m_setup->addItems(names);
  if (!setup.isEmpty()) m_setup->setEditText(setup);
  check();
}

StartRequest StartForm::request() const {
  StartRequest request;
  request.study = m_study->currentText().trimmed();
  request.setup = m_setup->currentText().trimmed();
  request.load = m_load->currentText();
  request.phases = m_phases->text();
  request.sim = m_bench->currentData().toString();
  request.speed = m_speed->value();
  const auto room = parseNumber(QString(m_room->text()).replace(QLatin1Char(','), QLatin1Char('.')).toStdString());
  request.hasRoom = request.sim.isEmpty() && room.has_value();
  request.roomC = room.value_or(0);
  return request;
}

void StartForm::check() {
  const StartRequest now = request();
  const auto procedure = parsePhases(now.phases.toStdString());
  QString words;
  if (!procedure) {
    words = QString::fromStdString(procedure.error().message);
  } else {
    for (const Phase& phase : procedure->phases)
      words += (words.isEmpty() ? QString() : QStringLiteral(", then ")) +
               QString::fromStdString(phaseWords(phase)).toLower();
    if (!words.isEmpty()) words[0] = words[0].toUpper();
    words += QStringLiteral(".");
  }
  m_words->setText(words);
  QString missing;
  if (now.study.isEmpty())
    missing = tr("Name the study: what is the question?");
  else if (now.setup.isEmpty())
    missing = tr("Name the setup: what is under test?");
  const bool isRoomWrong = now.sim.isEmpty() && !m_room->text().trimmed().isEmpty() && !now.hasRoom;
  if (missing.isEmpty() && isRoomWrong) missing = tr("The room must be a number in °C, or empty.");
  m_start->setEnabled(procedure && missing.isEmpty() && !m_isStarting);
  m_start->setToolTip(missing.isEmpty() ? tr("Starts the run; it goes on when the window is closed.") : missing);
  m_missing->setText(missing);
}

void StartForm::setProblem(const QString& sentence) { m_problem->setText(sentence); }

void StartForm::setStarting(bool isStarting) {
  m_isStarting = isStarting;
  m_start->setText(isStarting ? tr("Starting …") : tr("Start"));
  check();
}

}  // namespace ash

#include "moc_start_form.cpp"
