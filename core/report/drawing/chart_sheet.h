// SPDX-License-Identifier: GPL-3.0-or-later
// What a chart is drawn on: it keeps where texts lie, so that none covers another.
#pragma once

#include <string>
#include <vector>

#include "model/label_places.h"
#include "report/drawing/chart_look.h"
#include "report/markup/markup.h"

namespace ash {

enum class Anchor { Start, Middle, End };

/// How a text is written.
struct ChartType {
  double px = 12;
  std::string colour;
  bool isBold = false;
};

/// A text at its place: x by its anchor, y the foot of its letters.
struct ChartText {
  double x = 0, y = 0;
  Anchor anchor = Anchor::Start;
  std::string words;
};

class ChartSheet {
 public:
  explicit ChartSheet(const ChartLook& look) : m_look(look) {}

  const ChartLook& look() const { return m_look; }
  const ChartPalette& palette() const { return m_look.palette(); }
  double font() const { return m_look.info().fontPx; }
  double line() const { return m_look.info().linePx; }
  /// Of rows of text.
  double rowPx() const { return kRowEm * font(); }

  ChartType soft() const { return {font(), std::string(palette().soft)}; }
  ChartType plain() const { return {font(), std::string(palette().ink)}; }
  ChartType strong() const { return {font(), std::string(palette().ink), true}; }
  ChartType ember() const { return {font(), std::string(palette().ember)}; }

  /// Writes it wherever it lies.
  void write(const ChartText& text, const ChartType& type);
  /// Writes it where it covers no other and stays inside `room`; false where it would not.
  bool writeIfFree(const ChartText& text, const ChartType& type, const LabelBox& room);
  /// Keeps texts off a place.
  void keepOff(const LabelBox& box) { m_taken.push_back(box); }

  void add(const Element& element) { m_drawn.add(element).lineEnd(); }
  void line(double x1, double y1, double x2, double y2, std::string_view colour, double width);
  void rectangle(const LabelBox& box, std::string_view colour, double opacity = 1);
  void path(const std::string& d, std::string_view colour, double width, const std::string& dashes = "",
            double opacity = 1);
  /// A point in the shape of its setup; one that is hollow shows the ground.
  void point(double x, double y, int setupIndex, bool isHollow = false);

  const Markup& drawn() const { return m_drawn; }

 private:
  static constexpr double kRowEm = 1.3;
  ChartLook m_look;
  Markup m_drawn;
  std::vector<LabelBox> m_taken;
};

/// The place that a text takes at most.
LabelBox boxOf(const ChartText& text, double px);

}  // namespace ash
