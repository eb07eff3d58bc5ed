// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/readings_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QPainter>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kLowC = 20, kHighC = 110;
constexpr double kRowHigh = 30;

std::optional<double> limitOf(const Reading& reading) {
  for (const char* which : {"throttle", "max", "critical"}) {
    if (const auto found = reading.limits.find(which); found != reading.limits.end()) return found->second;
  }
  return std::nullopt;
}

double leftK(const ReadingNow& reading) {
  const auto limit = limitOf(reading.reading);
  return limit && std::isfinite(reading.value) ? *limit - reading.value : INFINITY;
}

QString nameOf(const ReadingNow& reading) {
  return text(reading.reading.role.empty() ? reading.reading.name : plainRoleName(reading.reading.role));
}

QString ageText(double seconds) {
  return !std::isfinite(seconds) ? QObject::tr("never answered")
         : seconds < 2           ? QString()
                                 : QObject::tr("%1 s old").arg(std::lround(seconds));
}

}  // namespace

TemperatureStrips::TemperatureStrips(QWidget* parent) : QWidget(parent) {
  setAccessibleName(tr("Temperatures"));
  setToolTip(tr("Pale: where it has been since this page was opened. Dark mark: now. Line: its limit."));
}

void TemperatureStrips::show(std::vector<ReadingNow> readings) {
  m_readings = std::move(readings);
  std::stable_sort(m_readings.begin(), m_readings.end(),
                   [](const ReadingNow& a, const ReadingNow& b) { return leftK(a) < leftK(b); });
  QStringList words;
  for (const ReadingNow& reading : m_readings)
    words << nameOf(reading) + QLatin1Char(' ') + text(withUnit(reading.value, 1, "°C"));
  setAccessibleDescription(words.join(QStringLiteral(", ")));
  updateGeometry();
  update();
}

QSize TemperatureStrips::sizeHint() const {
  return {px(560), px(24 + kRowHigh * std::max<double>(2, static_cast<double>(m_readings.size())))};
}

void TemperatureStrips::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  painter.setFont(look::font(12));
  if (m_readings.empty()) {
    painter.setPen(t.softInk);
    painter.drawText(rect(), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
                     tr("No temperature is read here. Runs go on without one, but they cannot tell when they have "
                        "settled;\ntype what you read: room 22.4, surface hinge 47.5."));
    return;
  }
  const double names = px(230), strip = std::max<double>(px(160), width() - names - px(210));
  const auto at = [&](double celsius) {
    return names + (std::clamp(celsius, kLowC, kHighC) - kLowC) / (kHighC - kLowC) * strip;
  };
  painter.setPen(t.softInk);
  for (const double tick : {20.0, 40.0, 60.0, 80.0, 100.0})
    painter.drawText(QRectF(at(tick) - px(30), 0, px(60), px(18)), Qt::AlignCenter,
                     text(withUnit(tick, 0, tick == 20 ? "°C" : "")));
  double y = px(24);
  for (const ReadingNow& reading : m_readings) {
    const double middle = y + px(kRowHigh) / 2.0;
    painter.setPen(t.ink);
    painter.setFont(look::font(12, QFont::DemiBold));
    painter.drawText(
        QRectF(0, y, names - px(10), px(17)), Qt::AlignVCenter,
        painter.fontMetrics().elidedText(nameOf(reading), Qt::ElideRight, static_cast<int>(names) - px(14)));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    painter.drawText(
        QRectF(0, y + px(14), names - px(10), px(15)), Qt::AlignVCenter,
        painter.fontMetrics().elidedText(text(reading.device), Qt::ElideRight, static_cast<int>(names) - px(14)));
    painter.fillRect(QRectF(names, middle - px(4), strip, px(8)), t.shade2);
    if (std::isfinite(reading.low))
      painter.fillRect(QRectF(at(reading.low), middle - px(4), at(reading.high) - at(reading.low) + 1, px(8)),
                       t.strongLine);
    const auto limit = limitOf(reading.reading);
    if (limit) painter.fillRect(QRectF(at(*limit) - 1, middle - px(8), 2, px(16)), t.softInk);
    const bool isHot = leftK(reading) < 1.5;
    if (std::isfinite(reading.value))
      painter.fillRect(QRectF(at(reading.value) - 1.5, middle - px(7), 3, px(14)), isHot ? t.ember : t.ink);
    painter.setPen(isHot ? t.ember : t.ink);
    painter.setFont(look::font(13, QFont::DemiBold));
    painter.drawText(QRectF(names + strip + px(10), y, px(70), px(kRowHigh)), Qt::AlignRight | Qt::AlignVCenter,
                     text(withUnit(reading.value, 1, "°C")));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    const QString rest = !ageText(reading.ageS).isEmpty() ? ageText(reading.ageS)
                         : limit                          ? tr("%1 left").arg(text(withUnit(leftK(reading), 1, "K")))
                                                          : tr("no limit known");
    painter.drawText(QRectF(names + strip + px(90), y, px(120), px(kRowHigh)), Qt::AlignLeft | Qt::AlignVCenter, rest);
    y += px(kRowHigh);
  }
}

ReadingsPage::ReadingsPage(QWidget* parent) : QWidget(parent) {
  look::withGround(this, theme().panel);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(24), px(12), px(24), px(12));
  column->setSpacing(px(8));
  m_head = look::label({}, 15, QFont::Normal, this);
  m_head->setTextFormat(Qt::RichText);
  column->addWidget(m_head);
  auto* row = new QHBoxLayout;
  row->setSpacing(px(24));
  auto* scroll = new QScrollArea(this);
  scroll->setWidgetResizable(true);
  m_strips = new TemperatureStrips(scroll);
  scroll->setWidget(m_strips);
  row->addWidget(scroll, 5);
  m_others = look::plainTable({tr("Reading"), tr("now"), tr("seen"), tr("device")}, this);
  m_others->setObjectName(QStringLiteral("other-readings"));
  m_others->setAccessibleName(tr("Clocks, power, fans and the rest"));
  m_others->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  m_others->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  row->addWidget(m_others, 4);
  column->addLayout(row, 3);
  column->addWidget(look::rule(this));
  m_skippedHead = look::label({}, 13, QFont::Normal, this);
  m_skippedHead->setTextFormat(Qt::RichText);
  m_skippedHead->setWordWrap(true);
  column->addWidget(m_skippedHead);
  m_skipped = look::plainTable({tr("Not read"), tr("why")}, this);
  m_skipped->setObjectName(QStringLiteral("skipped"));
  m_skipped->setAccessibleName(tr("Readings that were skipped, and why"));
  m_skipped->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  m_skipped->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  column->addWidget(m_skipped, 1);
}

void ReadingsPage::showEvent(QShowEvent*) { emit looking(true); }
void ReadingsPage::hideEvent(QHideEvent*) { emit looking(false); }

void ReadingsPage::show(const std::shared_ptr<const BenchReadings>& readings) {
  std::vector<ReadingNow> temperatures;
  m_others->setRowCount(0);
  for (const ReadingNow& reading : readings->readings) {
    if (reading.reading.quantity == Quantity::Temperature) {
      temperatures.push_back(reading);
      continue;
    }
    const int row = m_others->rowCount();
    m_others->insertRow(row);
    const int digits = usualDigits(reading.reading.unit);
    const QString seen = std::isfinite(reading.low) ? text(numberText(reading.low, digits)) + tr(" to ") +
                                                          text(withUnit(reading.high, digits, reading.reading.unit))
                                                    : QString();
    const QString cells[] = {nameOf(reading), text(withUnit(reading.value, digits, reading.reading.unit)),
                             ageText(reading.ageS).isEmpty() ? seen : ageText(reading.ageS), text(reading.device)};
    for (int column = 0; column < 4; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column == 1) item->setFont(look::font(12, QFont::DemiBold));
      if (column == 1 || column == 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (column == 3) item->setForeground(theme().softInk);
      item->setToolTip(text(reading.reading.name));
      m_others->setItem(row, column, item);
    }
  }
  const size_t hot = temperatures.size();
  m_strips->show(std::move(temperatures));
  m_head->setText(tr("<b>The bench now</b> &nbsp;%1 · %2 readings, %3 of them temperatures, once a second")
                      .arg(text(readings->machine).toHtmlEscaped())
                      .arg(readings->readings.size())
                      .arg(hot));
  QString missing;
  for (const std::string& sentence : readings->missing)
    missing += QStringLiteral("<br>") + text(sentence).toHtmlEscaped();
  m_skippedHead->setText((readings->skipped.empty()
                              ? tr("<b>Nothing was skipped.</b>")
                              : tr("<b>%1 skipped</b>, each with its reason").arg(readings->skipped.size())) +
                         missing);
  m_skipped->setVisible(!readings->skipped.empty());
  m_skipped->setRowCount(0);
  for (const SkippedReading& skipped : readings->skipped) {
    const int row = m_skipped->rowCount();
    m_skipped->insertRow(row);
    m_skipped->setItem(row, 0, new QTableWidgetItem(text(skipped.path)));
    m_skipped->setItem(row, 1, new QTableWidgetItem(text(skipped.why)));
  }
}

}  // namespace ash
