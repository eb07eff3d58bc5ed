// SPDX-License-Identifier: GPL-3.0-or-later
// The words of a chart, apart from its drawing: drawn as text they stay text on paper, where a drawing's become
// outlines.
#pragma once

#include <QPainter>
#include <QString>
#include <vector>

namespace ash {

struct WrittenText {
  QString words, anchor;  ///< anchor: "start", "middle" or "end" of SVG; empty as "start"
  QPointF at;             ///< by its anchor, at the foot of its letters
  double px = 12;
  QColor colour;
  bool isBold = false;
};

/// Takes the <text> elements out of a drawing of ours.
std::vector<WrittenText> takeTexts(QString& svg);

/// Writes them into a painter whose units are those of the drawing.
void writeTexts(QPainter& painter, const std::vector<WrittenText>& texts, const QFont& font);

}  // namespace ash
