// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/calibrate_row.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <algorithm>
#include <cmath>
#include <optional>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/look/words.h"
#include "instruments/calibration.h"

namespace ash {
using look::px;
using look::text;
namespace {

constexpr size_t kLevels = 10;
constexpr double kMostDba = 140;

// "38.2" or "38,2".
std::optional<double> shownLevel(QString typed) {
  bool isNumber = false;
  const double level = QLocale::c().toDouble(typed.trimmed().replace(QLatin1Char(','), QLatin1Char('.')), &isNumber);
  return isNumber && level >= 0 && level <= kMostDba ? std::optional(level) : std::nullopt;
}

}  // namespace

CalibrateRow::CalibrateRow(QWidget* parent) : QWidget(parent) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(px(8));
  row->addWidget(look::label(tr("A sound level meter beside it shows"), 12, QFont::Normal, this));
  m_shown = new QLineEdit(this);
  m_shown->setObjectName(QStringLiteral("calibrate-shown"));
  m_shown->setAccessibleName(tr("What the sound level meter shows, in dBA"));
  m_shown->setPlaceholderText(QStringLiteral("38.2"));
  m_shown->setFixedWidth(px(64));
  row->addWidget(m_shown);
  row->addWidget(look::label(tr("dBA"), 12, QFont::Normal, this));
  m_button = new QPushButton(tr("Calibrate"), this);
  m_button->setObjectName(QStringLiteral("calibrate"));
  m_button->setToolTip(
      tr("Ties full scale of the microphone to this level; without it noise is told in dB of its own"));
  row->addWidget(m_button);
  m_words = look::softLabel({}, this);
  m_words->setObjectName(QStringLiteral("calibrate-words"));
  row->addWidget(m_words, 1);
  connect(m_shown, &QLineEdit::textEdited, this, &CalibrateRow::judge);
  connect(m_shown, &QLineEdit::returnPressed, this, &CalibrateRow::calibrate);
  connect(m_button, &QPushButton::clicked, this, &CalibrateRow::calibrate);
  judge();
}

void CalibrateRow::show(const InstrumentNow& now) {
  setVisible(now.instrument.kind == InstrumentKind::Sound);
  const bool isOther = now.instrument.name != m_instrument.name ||
                       (std::isfinite(now.instrument.calibrationDb) != std::isfinite(m_instrument.calibrationDb)) ||
                       std::abs(now.instrument.calibrationDb - m_instrument.calibrationDb) > 0;
  m_instrument = now.instrument;
  if (isOther) m_levels.clear();
  if (now.instrument.kind != InstrumentKind::Sound || now.state.last.empty()) return;
  const auto equivalent =
      std::find_if(now.instrument.readings.begin(), now.instrument.readings.end(),
                   [](const InstrumentReading& one) { return one.measure == SoundMeasure::Equivalent; });
  if (equivalent == now.instrument.readings.end()) return;
  const Answer& last = now.state.last[static_cast<size_t>(equivalent - now.instrument.readings.begin())];
  if (!std::isfinite(last.value) || !(last.atS > m_lastS)) return;
  m_lastS = last.atS;
  m_levels.push_back(last.value);
  if (m_levels.size() > kLevels) m_levels.pop_front();
  judge();
}

void CalibrateRow::judge() {
  m_button->setEnabled(shownLevel(m_shown->text()).has_value() && !m_levels.empty());
  const auto calibration = calibrationFrom({m_levels.begin(), m_levels.end()}, m_instrument.calibrationDb, 0);
  const bool isAsked = !m_shown->text().trimmed().isEmpty();
  m_words->setText(!isAsked           ? QString()
                   : m_levels.empty() ? tr("nothing heard yet")
                   : calibration
                       ? tr("heard %1 times, within %2 dB").arg(m_levels.size()).arg(calibration->spreadDb, 0, 'f', 1)
                       : text(calibration.error().message));
}

void CalibrateRow::calibrate() {
  const auto shown = shownLevel(m_shown->text());
  if (!shown || m_levels.empty()) return;
  const auto calibration = calibrationFrom({m_levels.begin(), m_levels.end()}, m_instrument.calibrationDb, *shown);
  if (!calibration) return m_words->setText(text(calibration.error().message));
  emit wanted(text(m_instrument.name), calibration->fullScaleDb);
  m_shown->clear();
  m_words->clear();
}

}  // namespace ash

#include "moc_calibrate_row.cpp"
