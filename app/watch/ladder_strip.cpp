// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/ladder_strip.h"

#include <QDateTime>
#include <QKeyEvent>
#include <QLocale>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/watch/live_model.h"
#include "ladder/answer.h"
#include "ladder/ladder_places.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kStripHigh = 30, kStripSide = 16, kStripMark = 10, kStripGap = 5, kStripWords = 0.6;
constexpr size_t kStripMostToCome = 12;
constexpr auto kDot = " · ";

// Held is full, what did not hold is struck through, what goes on is half full, what may come is an outline.
void paintMark(QPainter& painter, const QRectF& at, const LadderPlace& place) {
  const auto& t = theme();
  const bool isKnown = place.step != nullptr && place.step->held.has_value();
  const bool fails = isKnown && !*place.step->held;
  const QColor colour = fails ? t.ember : place.step == nullptr ? t.strongLine : t.ink;
  painter.setPen(QPen(colour, 1.4));
  painter.setBrush(isKnown && !fails ? QBrush(t.ink) : QBrush(Qt::NoBrush));
  painter.drawRect(at);
  if (fails) painter.drawLine(at.bottomLeft(), at.topRight());
  if (place.isGoingOn()) painter.fillRect(QRectF(at.left(), at.center().y(), at.width(), at.height() / 2), t.ink);
}

}  // namespace

LadderStrip::LadderStrip(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  setObjectName(QStringLiteral("ladder-strip"));
  setAccessibleName(tr("Ladder"));
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  connect(&m_model, &LiveModel::changed, this, &LadderStrip::tell);
  hide();
}

void LadderStrip::show(const std::optional<Ladder>& ladder) {
  m_ladder = ladder;
  setVisible(m_ladder.has_value());
  tell();
}

QSize LadderStrip::minimumSizeHint() const { return {px(200), px(kStripHigh)}; }

QString LadderStrip::knownWords() const {
  const LadderBounds bounds = boundsOf(*m_ladder);
  const auto value = [&](size_t index) { return text(valueWords(m_ladder->ask, m_ladder->ask.valueAt(index))); };
  if (bounds.holds && bounds.fails) return tr("%1 holds, %2 does not").arg(value(*bounds.holds), value(*bounds.fails));
  if (bounds.holds) return tr("%1 holds").arg(value(*bounds.holds));
  if (bounds.fails) return tr("%1 does not hold").arg(value(*bounds.fails));
  return tr("nothing is known yet");
}

// On this machine by the clock on the wall; a simulated bench has a time of its own.
QString LadderStrip::endWords() const {
  const LadderOutlook outlook = outlookOf(*m_ladder);
  if (m_ladder->isOver || outlook.runs.most == 0) return tr("over");
  if (!m_model.isGoingOn()) return tr("none of its runs goes on");
  const double leftS = outlook.afterS + std::max(0.0, outlook.runS - m_model.lastTimeS());
  if (!std::isfinite(leftS)) return tr("it waits for you at each step");
  if (m_ladder->ask.bench.contains("sim"))
    return tr("at most %1 min of the bench's time left").arg(std::lround(std::ceil(leftS / 60)));
  const QDateTime end = QDateTime::currentDateTime().addSecs(std::lround(leftS));
  const bool isToday = end.date() == QDate::currentDate();
  const QString at = isToday ? QLocale().toString(end.time(), QStringLiteral("HH:mm"))
                             : QLocale().toString(end, QStringLiteral("ddd HH:mm"));
  return tr("over by %1 at the latest").arg(at);
}

QString LadderStrip::words() const {
  if (!m_ladder) return {};
  const LadderOutlook outlook = outlookOf(*m_ladder);
  const QString runs = m_ladder->isOver || outlook.runs.most == 0
                           ? outlook.number == 1 ? tr("1 run") : tr("%1 runs").arg(outlook.number)
                           : tr("Run %1 of at most %2").arg(outlook.number).arg(outlook.number + outlook.runs.most - 1);
  return runs + text(kDot) + knownWords() + text(kDot) + endWords();
}

void LadderStrip::tell() {
  if (!m_ladder) return;
  setAccessibleDescription(words());
  setToolTip(words() + QStringLiteral("\n") + tr("A click shows the whole ladder, on Plan."));
  update();
}

// The last of the steps that have room: what is known already stands in the words. Where they end.
double LadderStrip::paintSteps(QPainter& painter, double room) const {
  const auto wide = [&](const QString& words) { return painter.fontMetrics().horizontalAdvance(words); };
  const QString unit = text(m_ladder->ask.unit);
  const auto valueOf = [&](const LadderPlace& place) { return QString::number(m_ladder->ask.valueAt(place.index)); };
  const auto takes = [&](const LadderPlace& place) { return px(kStripMark + 3 * kStripGap) + wide(valueOf(place)); };
  double x = px(kStripSide);
  const auto write = [&](const QString& words, const QColor& colour) {
    painter.setPen(colour);
    painter.drawText(QRectF(x, 0, wide(words) + 1, height()), Qt::AlignVCenter, words);
    x += wide(words);
  };
  write(tr("Ladder"), theme().softInk);
  x += px(2 * kStripGap);
  auto places = placesOf(*m_ladder, kStripMostToCome);
  double needed = x + px(2 * kStripGap) + wide(unit);
  for (const LadderPlace& place : places) needed += takes(place);
  size_t first = 0;
  for (; first < places.size() && needed > room; ++first) needed -= takes(places[first]);
  bool wasConfirming = false;
  for (; first < places.size(); ++first) {
    const LadderPlace& place = places[first];
    if (place.isConfirming && !wasConfirming) x += px(2 * kStripGap);
    wasConfirming = place.isConfirming;
    paintMark(painter, QRectF(x, (height() - px(kStripMark)) / 2.0, px(kStripMark), px(kStripMark)), place);
    x += px(kStripMark + kStripGap);
    write(valueOf(place), place.step == nullptr && !place.isNext ? theme().softInk : theme().ink);
    x += px(2 * kStripGap);
  }
  write(unit, theme().softInk);
  return x + px(3 * kStripGap);
}

void LadderStrip::paintEvent(QPaintEvent*) {
  if (!m_ladder) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(look::font(12));
  // Where there is no room for both, the words go first: they are what is read.
  const double right = width() - px(kStripSide), wide = painter.fontMetrics().horizontalAdvance(words());
  const double end = paintSteps(painter, std::max(right - wide - px(3 * kStripGap), right * (1 - kStripWords)));
  painter.setPen(theme().ink);
  const QRectF room(end, 0, right - end, height());
  painter.drawText(room, Qt::AlignVCenter,
                   painter.fontMetrics().elidedText(words(), Qt::ElideRight, int(room.width())));
  if (hasFocus()) {
    painter.setPen(QPen(theme().ink, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(QRectF(rect()).adjusted(px(8), 2, -px(8), -2));
  }
}

void LadderStrip::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return emit wanted();
  QWidget::keyPressEvent(event);
}

void LadderStrip::mouseReleaseEvent(QMouseEvent*) { emit wanted(); }
void LadderStrip::focusInEvent(QFocusEvent*) { update(); }
void LadderStrip::focusOutEvent(QFocusEvent*) { update(); }

}  // namespace ash

#include "moc_ladder_strip.cpp"
