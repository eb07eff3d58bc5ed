// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/taking_in/head_view.h"

#include <QFontDatabase>
#include <QPainter>
#include <cmath>

#include "app/look/theme.h"

namespace ash {
using look::px;
using look::theme;
namespace {

QFont lineFont() {
  QFont font = QFontDatabase::systemFont(QFontDatabase::FixedFont);
  font.setPixelSize(px(12));
  return font;
}

// Lines of a log are bytes until shown: what is no UTF-8 is taken byte for byte.
QString shownText(const std::string& bytes, size_t from, size_t to) {
  const QByteArray part(bytes.data() + from, static_cast<qsizetype>(to - from));
  const QString words = QString::fromUtf8(part);
  return words.contains(QChar::ReplacementCharacter) ? QString::fromLatin1(part) : words;
}

int numberWidth() { return px(34); }

}  // namespace

HeadView::HeadView(QWidget* parent) : QWidget(parent) {
  setAccessibleName(tr("The first lines of the log"));
  setToolTip(
      tr("Underlined: what was read as time, as a unit, as a decimal mark. In ember: no row of readings, or no "
         "number."));
}

void HeadView::show(std::vector<HeadLine> lines) {
  m_lines = std::move(lines);
  setMinimumSize(sizeHint());
  update();
}

double HeadView::lineHeight() const { return std::ceil(QFontMetricsF(lineFont()).height() * 1.3); }

QSize HeadView::sizeHint() const {
  const QFontMetricsF metrics(lineFont());
  double widest = px(100);
  for (const HeadLine& line : m_lines)
    widest = std::max(widest, metrics.horizontalAdvance(shownText(line.text, 0, line.text.size())));
  return {static_cast<int>(widest) + numberWidth() + px(24),
          static_cast<int>(lineHeight() * static_cast<double>(m_lines.size())) + px(8)};
}

void HeadView::paintLine(QPainter& painter, const HeadLine& line, double top) const {
  const auto& t = theme();
  const QFontMetricsF metrics(lineFont());
  const double base = top + metrics.ascent() + px(2);
  const auto xOf = [&](size_t byte) {
    return numberWidth() + px(8) + metrics.horizontalAdvance(shownText(line.text, 0, byte));
  };
  painter.setPen(t.softInk);
  painter.drawText(QRectF(0, top, numberWidth(), lineHeight()), Qt::AlignRight | Qt::AlignVCenter,
                   QString::number(line.line));
  const bool isLeftOut = !line.marks.empty() && line.marks.front().kind == HeadMarkKind::LeftOut;
  painter.setPen(isLeftOut ? t.ember : t.ink);
  painter.drawText(QPointF(xOf(0), base), shownText(line.text, 0, line.text.size()));
  for (const HeadMark& mark : line.marks) {
    if (mark.kind == HeadMarkKind::LeftOut) continue;
    const double left = xOf(mark.from), right = std::max(xOf(mark.to), left + px(3));
    if (mark.kind == HeadMarkKind::Refused) {
      painter.fillRect(QRectF(left, top, right - left, lineHeight()), t.emberWash);
      painter.setPen(t.ember);
      painter.drawText(QPointF(left, base), shownText(line.text, mark.from, mark.to));
      continue;
    }
    painter.setPen(QPen(t.ink, mark.kind == HeadMarkKind::Time ? 2 : 1));
    painter.drawLine(QPointF(left, base + px(3)), QPointF(right, base + px(3)));
  }
}

void HeadView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setFont(lineFont());
  for (size_t i = 0; i < m_lines.size(); ++i)
    paintLine(painter, m_lines[i], px(4) + lineHeight() * static_cast<double>(i));
}

}  // namespace ash

#include "moc_head_view.cpp"
