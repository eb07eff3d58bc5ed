// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/standings/what_if_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/number_text.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr int kLeastRoomC = 5, kMostRoomC = 50, kPowerStepW = 5;
constexpr double kDecibelStep = 0.1;  // K per dBA
constexpr double kMoneyStep = 0.01;   // K per unit of money
constexpr double kTold = 10;          // units of money that the field speaks of

}  // namespace

WhatIfBar::WhatIfBar(QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(2));
  m_kind = new look::Segments(tr("Columns"), {tr("measured"), tr("projected"), tr("weighed")}, this);
  m_kind->setObjectName(QStringLiteral("rank-kind"));
  m_kind->setToolTip(
      tr("Measured: as it was run. Projected: where each would settle in another room or with another power, and the "
         "chance that it throttles. Weighed: warmth, noise and price together, at what they are worth to you."));
  column->addWidget(m_kind, 0, Qt::AlignLeft);
  m_room = addField("what-if-room", tr("room"), tr("Temperature of the room that the runs are carried over to."));
  m_power = addField("what-if-power", tr("power"),
                     tr("Power that the loaded device takes; at the left end, what it takes by itself there."));
  m_noise = addField("worth-noise", tr("1 dBA less"), tr("How many kelvin more you would take for one decibel less."));
  m_price = addField("worth-price", QString(), tr("How many kelvin more you would take for a lower price."));
  m_room.slider->setRange(kLeastRoomC, kMostRoomC);
  m_noise.slider->setRange(0, static_cast<int>(std::lround(kMostKelvinPerDecibel / kDecibelStep)));
  m_price.slider->setRange(0, static_cast<int>(std::lround(kMostKelvinPerMoney / kMoneyStep)));
  m_noise.slider->setValue(static_cast<int>(std::lround(1 / kDecibelStep)));
  m_words = look::softLabel({}, this);
  m_words->setObjectName(QStringLiteral("what-if-words"));
  m_words->setWordWrap(true);
  column->addWidget(m_words);
  connect(m_kind, &look::Segments::changed, this, &WhatIfBar::takeKind);
  takeKind();
}

WhatIfBar::Field WhatIfBar::addField(const char* objectName, const QString& name, const QString& tip) {
  auto* row = new QWidget(this);
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(px(8));
  auto* title = look::softLabel(name, row);
  title->setObjectName(QStringLiteral("title"));
  title->setMinimumWidth(px(72));
  line->addWidget(title);
  auto* slider = new QSlider(Qt::Horizontal, row);
  slider->setObjectName(QLatin1String(objectName));
  slider->setAccessibleName(name);
  slider->setToolTip(tip);
  line->addWidget(slider, 1);
  auto* value = look::label({}, 12, QFont::DemiBold, row);
  value->setMinimumWidth(px(84));
  line->addWidget(value);
  layout()->addWidget(row);
  connect(slider, &QSlider::valueChanged, this, [this] {
    fillValues();
    emit changed();
  });
  return {row, slider, value};
}

RankKind WhatIfBar::kind() const { return static_cast<RankKind>(std::clamp(m_kind->chosen(), 0, 2)); }

ProjectionQuestion WhatIfBar::question() const {
  ProjectionQuestion question;
  question.roomC = m_room.slider->value();
  if (m_power.slider->value() > 0) question.powerW = m_power.slider->value() * kPowerStepW;
  return question;
}

Worth WhatIfBar::worth() const {
  return {m_range.hasNoise ? m_noise.slider->value() * kDecibelStep : 0,
          m_range.hasPrice ? m_price.slider->value() * kMoneyStep : 0};
}

void WhatIfBar::setRange(const Range& range) {
  const bool isAnother = range.study != m_range.study;
  m_range = range;
  {
    const QSignalBlocker quietRoom(m_room.slider), quietPower(m_power.slider);
    if (isAnother) m_room.slider->setValue(static_cast<int>(std::lround(range.roomC)));
    m_power.slider->setRange(0, std::max(1, static_cast<int>(std::ceil(range.mostPowerW / kPowerStepW))));
    if (isAnother) m_power.slider->setValue(0);
  }
  const QString money =
      text(numberText(kTold, 0)) + (range.currency.isEmpty() ? QString() : QStringLiteral("\u202F") + range.currency);
  const QString price = tr("%1 less").arg(money);
  m_price.row->findChild<QLabel*>(QStringLiteral("title"))->setText(price);
  m_price.slider->setAccessibleName(price);
  m_noise.row->setEnabled(range.hasNoise);
  m_price.row->setEnabled(range.hasPrice);
  fillValues();
}

void WhatIfBar::setWords(const QString& words) {
  m_words->setText(words);
  m_words->setVisible(!words.isEmpty());
}

void WhatIfBar::fillValues() {
  m_room.value->setText(text(withUnit(m_room.slider->value(), 0, "°C")));
  const int power = m_power.slider->value() * kPowerStepW;
  m_power.value->setText(power == 0 ? tr("as it wants") : text(withUnit(power, 0, "W")));
  m_noise.value->setText(m_range.hasNoise ? text(withUnit(m_noise.slider->value() * kDecibelStep, 1, "K"))
                                          : tr("no noise known"));
  m_price.value->setText(m_range.hasPrice ? text(withUnit(m_price.slider->value() * kMoneyStep * kTold, 1, "K"))
                                          : tr("no price known"));
  for (const Field& field : {m_room, m_power, m_noise, m_price})
    field.slider->setAccessibleDescription(field.value->text());
}

void WhatIfBar::takeKind() {
  m_room.row->setVisible(kind() == RankKind::Projected);
  m_power.row->setVisible(kind() == RankKind::Projected);
  m_noise.row->setVisible(kind() == RankKind::Weighed);
  m_price.row->setVisible(kind() == RankKind::Weighed);
  setWords({});
  fillValues();
  emit changed();
}

}  // namespace ash

#include "moc_what_if_bar.cpp"
