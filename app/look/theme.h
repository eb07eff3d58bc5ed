// SPDX-License-Identifier: GPL-3.0-or-later
// Colours, measures and fonts of the window: the one place where they are written down.
#pragma once

#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

class QApplication;

namespace ash::look {

/// Tokens of one appearance. Ember means "at or over a limit" and the stop action, nothing else.
struct Theme {
  bool isDark = false;
  bool isStrong = false;  ///< of strong contrast
  QColor ground, panel, line, strongLine, ink, softInk, ember, emberWash;
  QColor plotGrid, shade, shade2, selected;

  static Theme paper();
  static Theme soot();
  /// The same with strong contrast: all writing at least 7 to 1 against whatever it may stand on, lines and the colours
  /// of setups at least 4.5 to 1 (WCAG 2.1, 1.4.6 and 1.4.11).
  Theme strong() const;

  /// The colour of a setup by its place in the study (below zero: of none of its setups, shown beside), its tint, and
  /// the text that may stand on ember.
  QColor series(int index) const;
  QColor seriesTint(int index) const;
  QColor onEmber() const { return isDark ? QColor(0x19, 0x18, 0x17) : QColor(0xFF, 0xFF, 0xFF); }
  QColor onInk() const { return panel; }
};

/// How far two colours stand apart, 1 to 21 (WCAG 2.1, *contrast ratio*).
double contrastRatio(const QColor& a, const QColor& b);

/// The theme in use; set once by applyTheme().
const Theme& theme();

/// Takes the scale (1 to 3; times `larger`) and the family from the desktop's font; Inter is preferred for its digits.
/// applyTheme() takes the application's own, if nobody has before.
void takeDesktopFont(const QFont& font, double larger = 1);

/// Palette, style sheet and fonts for the whole application.
void applyTheme(QApplication& app, const Theme& theme);

/// A measure of the design in px at 100 %, times the scale of the desktop's font.
int px(double designPx);

/// The interface font at a design size, with tabular digits where the font has them.
QFont font(double designPx, QFont::Weight weight = QFont::Normal);

}  // namespace ash::look
