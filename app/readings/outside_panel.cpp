// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/outside_panel.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/look/words.h"
#include "app/readings/calibrate_row.h"
#include "app/readings/outside_form.h"
#include "instruments/instrument_file.h"
#include "model/number_text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kMostTicks = 60, kTickStep = 3, kTickTall = 12, kTickShort = 5;

// What it says now, one reading after the other; what is missing says why.
QString valuesOf(const InstrumentNow& now) {
  QStringList values;
  for (size_t i = 0; i < now.instrument.readings.size(); ++i) {
    const InstrumentReading& reading = now.instrument.readings[i];
    const Answer& last = now.state.last[i];
    if (reading.measure == SoundMeasure::Tone && std::isfinite(last.value))
      values.prepend(OutsidePanel::tr("a tone of %1 Hz").arg(last.value, 0, 'f', 0));
    if (reading.isOfSpectrum) continue;
    if (now.state.isOpen && std::isfinite(last.value))
      values << text(withUnit(last.value, usualDigits(reading.storedUnit()), reading.storedUnit()));
    else
      values << QStringLiteral("–");
  }
  return values.join(QStringLiteral(" · "));
}

QString stateOf(const InstrumentNow& now) {
  const InstrumentState& state = now.state;
  if (!state.error.empty()) return OutsidePanel::tr("missing: %1").arg(text(state.error));
  if (state.answers == 0) return OutsidePanel::tr("not answered yet");
  const QString trip =
      std::isfinite(state.roundTripS) ? OutsidePanel::tr(", %1 ms").arg(1000 * state.roundTripS, 0, 'f', 1) : QString();
  return OutsidePanel::tr("%1 every %2 s%3").arg(valuesOf(now)).arg(now.instrument.intervalS).arg(trip);
}

QString tickWords(const std::vector<InstrumentState::Tick>& ticks) {
  const auto of = [&](InstrumentState::Tick tick) { return std::count(ticks.begin(), ticks.end(), tick); };
  return OutsidePanel::tr("Last %1 questions: %2 answered, %3 late, %4 not")
      .arg(ticks.size())
      .arg(of(InstrumentState::Tick::Answered))
      .arg(of(InstrumentState::Tick::Late))
      .arg(of(InstrumentState::Tick::None));
}

}  // namespace

AnswerTicks::AnswerTicks(QWidget* parent) : QWidget(parent) { setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed); }

QSize AnswerTicks::sizeHint() const { return {px(kMostTicks * kTickStep), px(kTickTall + 2)}; }

void AnswerTicks::show(const std::vector<InstrumentState::Tick>& ticks) {
  m_ticks = ticks;
  setToolTip(tickWords(ticks));
  setAccessibleName(tickWords(ticks));
  update();
}

// The newest stands at the right.
void AnswerTicks::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const int bottom = height() - 1;
  painter.setPen(theme().line);
  painter.drawLine(0, bottom, width(), bottom);
  painter.setPen(QPen(theme().softInk, std::max(1, px(1))));
  for (size_t i = 0; i < m_ticks.size(); ++i) {
    if (m_ticks[i] == InstrumentState::Tick::None) continue;
    const int x = width() - px(kTickStep) * static_cast<int>(m_ticks.size() - i) + 1;
    painter.drawLine(x, bottom, x, bottom - px(m_ticks[i] == InstrumentState::Tick::Answered ? kTickTall : kTickShort));
  }
}

OutsidePanel::OutsidePanel(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, px(10), px(8), px(8));
  column->setSpacing(px(4));
  auto* head = new QHBoxLayout;
  head->addWidget(look::label(tr("From outside"), 12, QFont::DemiBold, this));
  m_empty = look::softLabel(
      tr("no instrument yet: a meter at the wall, a room sensor, another machine, a program of your own"), this);
  head->addWidget(m_empty, 1);
  head->addStretch();
  m_putBack = new QPushButton(this);
  m_putBack->setObjectName(QStringLiteral("outside-put-back"));
  m_putBack->hide();
  connect(m_putBack, &QPushButton::clicked, this, &OutsidePanel::putBack);
  head->addWidget(m_putBack);
  m_add = new QPushButton(tr("Add one …"), this);
  m_add->setObjectName(QStringLiteral("outside-add"));
  m_add->setCheckable(true);
  head->addWidget(m_add);
  column->addLayout(head);
  m_list = new QVBoxLayout;
  m_list->setSpacing(px(6));
  column->addLayout(m_list);
  m_form = new OutsideForm(this);
  m_form->hide();
  column->addWidget(m_form);
  m_refusal = look::label({}, 12, QFont::Normal, this);
  m_refusal->setObjectName(QStringLiteral("outside-refusal"));
  m_refusal->setWordWrap(true);
  m_refusal->hide();
  column->addWidget(m_refusal);
  connect(m_add, &QPushButton::toggled, this, [this](bool isOpen) {
    if (!isOpen) return closeForm();
    m_form->clear();
    openForm();
  });
  connect(m_form, &OutsideForm::closed, this, &OutsidePanel::closeForm);
  connect(m_form, &OutsideForm::tryWanted, this, &OutsidePanel::tryWanted);
  connect(m_form, &OutsideForm::keepWanted, this, &OutsidePanel::keep);
}

void OutsidePanel::openForm() {
  m_form->show();
  m_form->focusFirst();
  emit opened();
}

void OutsidePanel::closeForm() {
  m_form->clear();
  m_form->hide();
  m_add->setChecked(false);
}

const Instrument* OutsidePanel::shown(const QString& name) const {
  for (const InstrumentNow& now : m_shown) {
    if (text(now.instrument.name) == name) return &now.instrument;
  }
  return nullptr;
}

OutsidePanel::WayBack OutsidePanel::wayBack(const Instrument& instrument, const QString& insteadOf,
                                            const QString& words) const {
  return {std::make_shared<const Json>(instrumentToJson(instrument)), insteadOf, words};
}

void OutsidePanel::takeOut(const QString& name) {
  if (const Instrument* one = shown(name)) m_nextBack = wayBack(*one, {}, tr("Put %1 back").arg(name));
  if (m_form->changed() == name) closeForm();
  emit dropWanted(name);
}

void OutsidePanel::beginChange(const QString& name) {
  const Instrument* one = shown(name);
  if (one == nullptr) return;
  closeForm();
  m_form->change(*one);
  openForm();
}

void OutsidePanel::keep(const std::shared_ptr<const Json>& instrument) {
  m_isFormKept = true;
  const QString& changed = m_form->changed();
  if (changed.isEmpty()) return emit keepWanted(instrument);
  if (const Instrument* one = shown(changed))
    m_nextBack = wayBack(*one, text(valueIn(*instrument, "name", "")), tr("Put %1 back as it was").arg(changed));
  emit changeWanted(changed, instrument);
}

void OutsidePanel::putBack() {
  m_putBack->hide();  // a second press would ask for it twice
  m_nextBack.reset();
  if (m_back->insteadOf.isEmpty()) return emit keepWanted(m_back->before);
  emit changeWanted(m_back->insteadOf, m_back->before);
}

OutsidePanel::Row OutsidePanel::makeRow() {
  Row row{};
  row.widget = new QWidget(this);
  auto* grid = new QGridLayout(row.widget);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(px(12));
  grid->setVerticalSpacing(px(1));
  row.name = look::label({}, 13, QFont::DemiBold, row.widget);
  row.address = look::softLabel({}, row.widget);
  row.ticks = new AnswerTicks(row.widget);
  row.identity = look::softLabel({}, row.widget);
  row.state = look::label({}, 12, QFont::Normal, row.widget);
  row.state->setWordWrap(true);
  row.change = new QPushButton(tr("Change …"), row.widget);
  row.drop = new QPushButton(tr("Take out"), row.widget);
  grid->addWidget(row.name, 0, 0);
  grid->addWidget(row.address, 0, 1);
  grid->addWidget(row.ticks, 0, 2);
  grid->addWidget(row.change, 0, 3);
  grid->addWidget(row.drop, 0, 4);
  grid->addWidget(row.state, 1, 0, 1, 2);
  grid->addWidget(row.identity, 1, 2, 1, 3);
  row.calibrate = new CalibrateRow(row.widget);
  grid->addWidget(row.calibrate, 2, 0, 1, 5);
  grid->setColumnStretch(1, 1);
  connect(row.calibrate, &CalibrateRow::wanted, this, &OutsidePanel::calibrateWanted);
  connect(row.change, &QPushButton::clicked, this, [this, name = row.name] { beginChange(name->text()); });
  connect(row.drop, &QPushButton::clicked, this, [this, name = row.name] { takeOut(name->text()); });
  m_list->addWidget(row.widget);
  return row;
}

void OutsidePanel::fill(const Row& row, const InstrumentNow& now) const {
  row.name->setText(text(now.instrument.name));
  row.address->setText(text(now.instrument.where()));
  row.identity->setText(text(now.state.identity));
  row.state->setText(stateOf(now));
  row.ticks->show(now.state.ticks);
  row.calibrate->show(now);
  row.change->setAccessibleName(tr("Change %1").arg(text(now.instrument.name)));
  row.drop->setAccessibleName(tr("Take %1 out").arg(text(now.instrument.name)));
}

void OutsidePanel::show(const MachineSnapshot& now) {
  const auto& instruments = now.instruments;
  m_shown = instruments;
  if (!now.instrumentsFault.empty()) showRefusal(text(now.instrumentsFault));
  while (m_rows.size() < instruments.size()) m_rows.push_back(makeRow());
  for (size_t i = 0; i < m_rows.size(); ++i) {
    m_rows[i].widget->setVisible(i < instruments.size());
    if (i < instruments.size()) fill(m_rows[i], instruments[i]);
  }
  m_empty->setVisible(instruments.empty());
}

void OutsidePanel::showTried(const std::shared_ptr<const InstrumentNow>& now, const QString& refusal) {
  m_form->showTried(now, refusal);
}

void OutsidePanel::showRefusal(const QString& why) {
  m_refusal->setText(why);
  m_refusal->setVisible(!why.isEmpty());
}

void OutsidePanel::takeChange(const QString& refusal) {
  showRefusal(refusal);
  const bool isFormKept = std::exchange(m_isFormKept, false);
  if (!refusal.isEmpty()) {
    m_nextBack = m_back;  // nothing was done: what was offered still is
    return m_putBack->setVisible(m_back.has_value());
  }
  m_back = m_nextBack;
  m_putBack->setVisible(m_back.has_value());
  if (m_back) m_putBack->setText(m_back->words);
  if (isFormKept) closeForm();
}

}  // namespace ash

#include "moc_outside_panel.cpp"
