// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/knob_tracks.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "knobs/knob_hand.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kKnobRowPx = 46, kNamePx = 252, kStatePx = 150, kTrackPx = 14, kMarginPx = 8;

std::optional<double> numberOf(const std::map<std::string, std::string>& values, const std::string& id) {
  const auto found = values.find(id);
  return found == values.end() ? std::nullopt : parseNumber(found->second);
}

// The kernel tells no least of some limits; none goes below nothing.
double leastOf(const Knob& knob) { return knob.least.value_or(0); }

bool hasRange(const Knob& knob) { return knob.isNumber() && knob.most && *knob.most > leastOf(knob); }

// Points up at what was read back.
QPolygonF triangleUnder(const QPointF& tip) {
  return QPolygonF() << tip << tip + QPointF(-px(4), px(6)) << tip + QPointF(px(4), px(6));
}

}  // namespace

KnobTracks::KnobTracks(QWidget* parent) : QWidget(parent), m_line(new QLineEdit(this)) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Knobs of the setup"));
  m_line->hide();
  m_line->setObjectName(QStringLiteral("knob-value"));
  m_line->setFont(look::font(12));
  connect(m_line, &QLineEdit::returnPressed, this, [this] { closeLine(true); });
}

void KnobTracks::show(KnobsOfSetup knobs) {
  const std::string before = current() == nullptr ? std::string() : current()->id;
  m_of = std::move(knobs);
  m_row = 0;
  for (size_t i = 0; i < m_of.knobs.size(); ++i) {
    if (m_of.knobs[i].id == before) m_row = static_cast<int>(i);
  }
  m_dragged.clear();
  setMinimumHeight(sizeHint().height());
  updateGeometry();
  update();
  emit currentChanged();
}

QSize KnobTracks::sizeHint() const { return {px(560), px(kKnobRowPx) * static_cast<int>(m_of.knobs.size()) + 2}; }

const Knob* KnobTracks::current() const {
  const auto row = static_cast<size_t>(m_row);
  return row < m_of.knobs.size() ? &m_of.knobs[row] : nullptr;
}

bool KnobTracks::isAsked() const { return current() != nullptr && m_of.asked.contains(current()->id); }

std::string KnobTracks::askedOf(const Knob& knob) const {
  if (!m_dragged.empty() && &knob == current()) return m_dragged;
  const auto found = m_of.asked.find(knob.id);
  return found == m_of.asked.end() ? std::string() : found->second;
}

QRectF KnobTracks::rowRect(int row) const {
  return {0, 1.0 + row * px(kKnobRowPx), double(width()), double(px(kKnobRowPx))};
}

QRectF KnobTracks::trackRect(int row) const {
  const QRectF whole = rowRect(row);
  const double left = px(kNamePx), right = width() - px(kStatePx);
  return {left, whole.top() + px(6), std::max(40.0, right - left), double(px(kTrackPx))};
}

QRectF KnobTracks::wordRect(int row, size_t word) const {
  const QFontMetrics metrics(look::font(12));
  double x = px(kNamePx);
  const auto& choices = m_of.knobs[static_cast<size_t>(row)].choices;
  for (size_t i = 0; i < word; ++i) x += metrics.horizontalAdvance(text(choices[i].word)) + px(14);
  return {x, rowRect(row).top() + px(5), metrics.horizontalAdvance(text(choices[word].word)) + 1.0 * px(10),
          double(px(20))};
}

double KnobTracks::xOf(int row, double value) const {
  const Knob& knob = m_of.knobs[static_cast<size_t>(row)];
  const QRectF track = trackRect(row);
  const double share = std::clamp((value - leastOf(knob)) / (*knob.most - leastOf(knob)), 0.0, 1.0);
  return track.left() + share * track.width();
}

// Steps of 1, 2 or 5 of a power of ten, about a hundredth of the track; never finer than the knob's own.
double KnobTracks::stepOf(const Knob& knob) const {
  const double own = knob.step.value_or(0);
  if (!hasRange(knob)) return std::max(own, 1.0);
  const double hundredth = (*knob.most - leastOf(knob)) / 100;
  double step = std::pow(10, std::floor(std::log10(hundredth)));
  for (const double factor : {5.0, 2.0}) {
    if (factor * step <= hundredth * 1.001) {
      step *= factor;
      break;
    }
  }
  return std::max(own, step);
}

double KnobTracks::valueAt(int row, double x) const {
  const Knob& knob = m_of.knobs[static_cast<size_t>(row)];
  const QRectF track = trackRect(row);
  const double step = stepOf(knob);
  const double raw = leastOf(knob) + (x - track.left()) / track.width() * (*knob.most - leastOf(knob));
  return std::clamp(std::round(raw / step) * step, knob.least.value_or(step), *knob.most);
}

QString KnobTracks::stateWords(const Knob& knob) const {
  const std::string asked = askedOf(knob);
  if (asked.empty()) return knob.isTurnable() ? tr("as it is, %1").arg(text(valueWords(knob))) : text(valueWords(knob));
  const auto number = parseNumber(asked);
  const QString words = knob.isNumber() && number ? text(valueText(*number, knob.unit)) : text(asked);
  const auto got = m_of.readBack.find(knob.id);
  const auto gotNumber = numberOf(m_of.readBack, knob.id);
  const bool isOther =
      got != m_of.readBack.end() && got->second != asked &&
      !(gotNumber && number && std::abs(*gotNumber - *number) <= knob.step.value_or(0) + 0.005 * *number);
  if (!isOther) return tr("asked %1").arg(words);
  return tr("asked %1, got %2").arg(words, gotNumber ? text(valueText(*gotNumber, knob.unit)) : text(got->second));
}

void KnobTracks::paintTrack(QPainter& painter, int row) const {
  const auto& t = theme();
  const Knob& knob = m_of.knobs[static_cast<size_t>(row)];
  const QRectF track = trackRect(row);
  const double y = track.center().y();
  painter.setPen(QPen(knob.isTurnable() ? t.strongLine : t.line, 2));
  painter.drawLine(QPointF(track.left(), y), QPointF(track.right(), y));
  painter.setFont(look::font(12));
  painter.setPen(t.softInk);
  const QRectF foot(track.left() - px(20), track.bottom() + px(1), track.width() + px(40), px(18));
  painter.drawText(foot.adjusted(px(20), 0, 0, 0), Qt::AlignLeft, text(knobNumber(leastOf(knob))));
  painter.drawText(foot.adjusted(0, 0, -px(20), 0), Qt::AlignRight, text(valueText(*knob.most, knob.unit)));
  if (knob.byDefault) {
    painter.setPen(QPen(t.softInk, 1.5));
    const double x = xOf(row, *knob.byDefault);
    painter.drawLine(QPointF(x, track.top()), QPointF(x, track.bottom()));
  }
  painter.setPen(QPen(t.ink, 1.5));
  if (knob.value) {
    painter.setBrush(t.ground);
    painter.drawEllipse(QPointF(xOf(row, *knob.value), y), px(4), px(4));
  }
  if (const auto got = numberOf(m_of.readBack, knob.id)) {
    const double x = xOf(row, *got);
    painter.setBrush(t.softInk);
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(triangleUnder({x, y + px(3)}));
  }
  if (const auto asked = parseNumber(askedOf(knob))) {
    const double x = xOf(row, *asked);
    painter.setBrush(t.ink);
    painter.setPen(Qt::NoPen);
    painter.drawRect(QRectF(x - px(3), track.top() - px(1), px(6), px(kTrackPx + 2)));
  }
}

void KnobTracks::paintWords(QPainter& painter, int row) const {
  const auto& t = theme();
  const Knob& knob = m_of.knobs[static_cast<size_t>(row)];
  const std::string asked = askedOf(knob);
  for (size_t i = 0; i < knob.choices.size(); ++i) {
    const QRectF box = wordRect(row, i);
    const bool isAsked = knob.choices[i].word == asked, isNow = knob.choices[i].word == knob.choice;
    painter.setPen(isAsked ? t.onInk() : isNow ? t.ink : t.softInk);
    if (isAsked) {
      painter.setBrush(t.ink);
      painter.drawRoundedRect(box, 3, 3);
    } else if (isNow) {
      painter.setBrush(Qt::NoBrush);
      painter.drawRoundedRect(box, 3, 3);
    }
    painter.setFont(look::font(12));
    painter.drawText(box, Qt::AlignCenter, text(knob.choices[i].word));
    const auto got = m_of.readBack.find(knob.id);
    if (got == m_of.readBack.end() || got->second != knob.choices[i].word) continue;
    painter.setBrush(t.softInk);
    painter.setPen(Qt::NoPen);
    painter.drawPolygon(triangleUnder({box.center().x(), box.bottom() + px(1)}));
  }
}

void KnobTracks::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  for (int row = 0; row < static_cast<int>(m_of.knobs.size()); ++row) {
    const Knob& knob = m_of.knobs[static_cast<size_t>(row)];
    const QRectF whole = rowRect(row);
    if (row == m_row) {
      painter.setPen(hasFocus() ? QPen(t.ink, 1) : QPen(Qt::NoPen));
      painter.setBrush(t.panel);
      painter.drawRect(whole.adjusted(0.5, 0.5, -0.5, -1.5));
    }
    painter.setPen(t.line);
    painter.drawLine(whole.bottomLeft(), whole.bottomRight());
    const QRectF name(px(kMarginPx), whole.top() + px(3), px(kNamePx - 3.0 * kMarginPx), px(20));
    painter.setFont(look::font(13, m_of.asked.contains(knob.id) ? QFont::DemiBold : QFont::Normal));
    painter.setPen(knob.isTurnable() ? t.ink : t.softInk);
    painter.drawText(name, Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text(knob.name), Qt::ElideRight, int(name.width())));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    // Why it cannot be turned is told whole, over track and state.
    const QRectF below(px(kMarginPx), whole.top() + px(22),
                       knob.isTurnable() ? name.width() : width() - px(2.0 * kMarginPx), px(20));
    painter.drawText(below, Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(knob.isTurnable() ? text(knob.id) : text(knob.whyNot),
                                                      Qt::ElideRight, int(below.width())));
    if (hasRange(knob) && knob.isTurnable()) paintTrack(painter, row);
    if (!knob.isNumber()) paintWords(painter, row);
    // Words say by themselves which is now and which is asked.
    if (!knob.isNumber()) continue;
    const QRectF state(width() - px(kStatePx - 10), whole.top() + px(3), px(kStatePx - 10.0 - kMarginPx), px(38));
    painter.setFont(look::font(12, m_of.asked.contains(knob.id) ? QFont::DemiBold : QFont::Normal));
    painter.setPen(m_of.asked.contains(knob.id) ? t.ink : t.softInk);
    painter.drawText(state, Qt::AlignRight | Qt::AlignTop | Qt::TextWordWrap, stateWords(knob));
  }
}

void KnobTracks::choose(int row) {
  if (m_of.knobs.empty()) return;
  m_row = std::clamp(row, 0, static_cast<int>(m_of.knobs.size()) - 1);
  m_dragged.clear();
  update();
  emit currentChanged();
}

// A person may ask only for what the knob can do; it says what that is.
void KnobTracks::ask(const Knob& knob, const std::string& value) {
  if (!knob.isTurnable()) return emit problem(text(knob.whyNot));
  const auto target = targetOf(knob, value);
  if (!target) return emit problem(text(target.error().message));
  emit problem({});
  // "65 W" is 65.
  emit asked(text(knob.id), text(knob.isNumber() ? knobNumber(target->number) : value));
}

void KnobTracks::moveBy(double steps) {
  const Knob* knob = current();
  if (knob == nullptr) return;
  if (knob->isNumber()) {
    const double from = parseNumber(askedOf(*knob)).value_or(knob->value.value_or(knob->least.value_or(0)));
    const double step = stepOf(*knob);
    const double to = std::round((from + steps * step) / step) * step;
    return ask(*knob, knobNumber(std::clamp(to, knob->least.value_or(to), knob->most.value_or(to))));
  }
  const std::string now = askedOf(*knob).empty() ? knob->choice : askedOf(*knob);
  const auto found =
      std::find_if(knob->choices.begin(), knob->choices.end(), [&](const KnobChoice& one) { return one.word == now; });
  const auto at = found - knob->choices.begin() + (steps > 0 ? 1 : -1);
  if (at >= 0 && at < static_cast<std::ptrdiff_t>(knob->choices.size()))
    ask(*knob, knob->choices[static_cast<size_t>(at)].word);
}

void KnobTracks::leave() {
  if (isAsked()) emit asked(text(current()->id), {});
}

void KnobTracks::type() {
  const Knob* knob = current();
  if (knob == nullptr) return;
  if (!knob->isTurnable()) return emit problem(text(knob->whyNot));
  const QRectF row = rowRect(m_row);
  m_line->setGeometry(
      QRect(width() - px(kStatePx - 10), int(row.top()) + px(3), px(kStatePx - 10 - kMarginPx), px(24)));
  m_line->setText(text(askedOf(*knob)));
  m_line->setAccessibleName(text(knob->name));
  m_line->show();
  m_line->setFocus();
  m_line->selectAll();
}

void KnobTracks::closeLine(bool isKept) {
  if (!m_line->isVisible()) return;
  const std::string typed = m_line->text().trimmed().toStdString();
  m_line->hide();
  setFocus();
  const Knob* knob = current();
  if (!isKept || knob == nullptr) return;
  if (typed.empty()) return leave();
  ask(*knob, typed);
}

void KnobTracks::keyPressEvent(QKeyEvent* event) {
  constexpr double kMany = 10;
  const double steps = event->modifiers().testFlag(Qt::ShiftModifier) ? kMany : 1;
  const Knob* knob = current();
  switch (event->key()) {
    case Qt::Key_Up:
      return choose(m_row - 1);
    case Qt::Key_Down:
      return choose(m_row + 1);
    case Qt::Key_Left:
      return moveBy(-steps);
    case Qt::Key_Right:
      return moveBy(steps);
    case Qt::Key_Home:
    case Qt::Key_End:
      if (knob != nullptr && hasRange(*knob))
        ask(*knob, knobNumber(event->key() == Qt::Key_Home ? knob->least.value_or(stepOf(*knob)) : *knob->most));
      return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
      return leave();
    case Qt::Key_F2:
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return type();
    case Qt::Key_Escape:
      if (m_line->isVisible()) return closeLine(false);
      break;
    default:
      if (!event->text().isEmpty() && event->text()[0].isDigit()) {
        type();
        if (m_line->isVisible()) m_line->setText(event->text());
        return;
      }
  }
  QWidget::keyPressEvent(event);
}

void KnobTracks::mousePressEvent(QMouseEvent* event) {
  closeLine(false);
  const QPointF at = event->position();
  choose(static_cast<int>((at.y() - 1) / px(kKnobRowPx)));
  setFocus();
  const Knob* knob = current();
  if (knob == nullptr || event->button() != Qt::LeftButton) return;
  for (size_t i = 0; i < knob->choices.size(); ++i) {
    if (wordRect(m_row, i).contains(at)) return ask(*knob, knob->choices[i].word);
  }
  const QRectF track = trackRect(m_row).adjusted(-px(6), -px(4), px(6), px(4));
  if (!hasRange(*knob) || !track.contains(at)) return;
  if (!knob->isTurnable()) return emit problem(text(knob->whyNot));
  m_dragged = knobNumber(valueAt(m_row, at.x()));
  update();
}

void KnobTracks::mouseMoveEvent(QMouseEvent* event) {
  if (m_dragged.empty() || current() == nullptr) return;
  m_dragged = knobNumber(valueAt(m_row, event->position().x()));
  update();
}

void KnobTracks::mouseReleaseEvent(QMouseEvent*) {
  const std::string value = std::exchange(m_dragged, {});
  if (!value.empty() && current() != nullptr) ask(*current(), value);
  update();
}

void KnobTracks::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->position().x() > width() - px(kStatePx)) type();
}

bool KnobTracks::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto row = static_cast<size_t>(std::max(0.0, (help->pos().y() - 1.0) / px(kKnobRowPx)));
    if (row >= m_of.knobs.size()) return true;
    const Knob& knob = m_of.knobs[row];
    QString words = text(knob.name) + QStringLiteral(" (") + text(knob.id) + QStringLiteral(")");
    if (knob.byDefault) words += tr("\nas delivered %1").arg(text(valueText(*knob.byDefault, knob.unit)));
    words += tr("\nnow %1").arg(text(valueWords(knob)));
    if (!knob.whyNot.empty()) words += QLatin1Char('\n') + text(knob.whyNot);
    QToolTip::showText(help->globalPos(), words, this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace ash

#include "moc_knob_tracks.cpp"
