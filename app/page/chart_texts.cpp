// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/page/chart_texts.h"

#include <QFontMetricsF>
#include <QXmlStreamReader>

namespace ash {
namespace {

WrittenText textOf(const QString& element) {
  QXmlStreamReader reader(element);
  reader.readNextStartElement();
  const QXmlStreamAttributes at = reader.attributes();
  const auto value = [&](const char* name) { return at.value(QLatin1String(name)); };
  WrittenText text;
  text.at = {value("x").toDouble(), value("y").toDouble()};
  text.px = value("font-size").toDouble();
  text.colour = QColor(value("fill").toString());
  text.isBold = !value("font-weight").isEmpty();
  text.anchor = value("text-anchor").toString();
  text.words = reader.readElementText();
  return text;
}

}  // namespace

std::vector<WrittenText> takeTexts(QString& svg) {
  static const QString kStart = QStringLiteral("<text "), kEnd = QStringLiteral("</text>");
  std::vector<WrittenText> texts;
  QString left;
  qsizetype from = 0;
  for (qsizetype at = svg.indexOf(kStart); at >= 0; at = svg.indexOf(kStart, from)) {
    const qsizetype end = svg.indexOf(kEnd, at);
    if (end < 0) break;
    left += QStringView(svg).mid(from, at - from);
    from = end + kEnd.size();
    texts.push_back(textOf(svg.mid(at, from - at)));
  }
  svg = left + svg.mid(from);
  return texts;
}

void writeTexts(QPainter& painter, const std::vector<WrittenText>& texts, const QFont& font) {
  // A font's size is a whole number of px: it is set large and drawn smaller.
  constexpr double kSetPx = 64;
  for (const WrittenText& text : texts) {
    QFont set = font;
    set.setPixelSize(int(kSetPx));
    if (text.isBold) set.setWeight(QFont::DemiBold);
    const double wide = QFontMetricsF(set).horizontalAdvance(text.words);
    const double left = text.anchor == QLatin1String("end")      ? -wide
                        : text.anchor == QLatin1String("middle") ? -wide / 2
                                                                 : 0;
    painter.save();
    painter.translate(text.at);
    painter.scale(text.px / kSetPx, text.px / kSetPx);
    painter.setFont(set);
    painter.setPen(text.colour);
    painter.drawText(QPointF(left, 0), text.words);
    painter.restore();
  }
}

}  // namespace ash
