// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QFontInfo>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/look/parts.h"
#include "model/setup_colours.h"

namespace ash::look {
namespace {

constexpr double kDesignFontPx = 13;

/// What applyTheme() set. Function-local: there is one look per process, as there is one QApplication.
struct InUse {
  Theme theme = Theme::paper();
  QString family;
  double scale = 1;
};
InUse& inUse() {
  static InUse state;
  return state;
}

constexpr std::array kPaperTints = {0xC9D5E0, 0xDFCFDC, 0xC6DDDD, 0xD3D7DA, 0xE8DEC4, 0xE0CAD3, 0xD0DDCE, 0xD0D0E6};
constexpr std::array kSootTints = {0x3D5269, 0x573F54, 0x2C4F50, 0x454B50, 0x5A4C26, 0x573242, 0x3D4F39, 0x3F3F60};

template <size_t N>
QColor pick(const std::array<int, N>& colours, int index) {
  return QColor(QRgb(0xFF000000U | static_cast<unsigned>(colours[static_cast<size_t>(std::max(0, index)) % N])));
}

QPalette paletteOf(const Theme& t) {
  QPalette palette;
  palette.setColor(QPalette::Window, t.panel);
  palette.setColor(QPalette::WindowText, t.ink);
  palette.setColor(QPalette::Base, t.panel);
  palette.setColor(QPalette::AlternateBase, t.ground);
  palette.setColor(QPalette::Text, t.ink);
  palette.setColor(QPalette::PlaceholderText, t.softInk);
  palette.setColor(QPalette::Button, t.panel);
  palette.setColor(QPalette::ButtonText, t.ink);
  palette.setColor(QPalette::Highlight, t.ink);
  palette.setColor(QPalette::HighlightedText, t.panel);
  palette.setColor(QPalette::ToolTipBase, t.panel);
  palette.setColor(QPalette::ToolTipText, t.ink);
  palette.setColor(QPalette::Disabled, QPalette::ButtonText, t.softInk);
  palette.setColor(QPalette::Disabled, QPalette::Text, t.softInk);
  return palette;
}

QString styleOf(const Theme& t) {
  const QString sheet = QStringLiteral(R"(
QWidget { color: %ink; }
QMainWindow, QDialog { background: %panel; }
QToolTip { background: %panel; color: %ink; border: 1px solid %strong; padding: 4px; }
QLineEdit, QComboBox, QDoubleSpinBox, QPlainTextEdit { background: %panel; border: 1px solid %strong; border-radius: 3px; padding: 3px 6px; min-height: %fieldpx; }
QLineEdit:focus, QComboBox:focus, QDoubleSpinBox:focus, QPlainTextEdit:focus { border: 2px solid %ink; padding: 2px 5px; }
QComboBox QAbstractItemView { background: %panel; border: 1px solid %strong; selection-background-color: %selected; selection-color: %ink; }
QPushButton { background: %panel; border: 1px solid %strong; border-radius: 3px; padding: 4px 12px; min-height: %fieldpx; }
QPushButton:hover { border-color: %ink; }
QPushButton:focus { border: 2px solid %ink; padding: 3px 11px; }
QPushButton:disabled { color: %soft; border-color: %line; }
QComboBox:disabled { color: %soft; }
QPushButton[role="main"] { background: %ink; color: %panel; border-color: %ink; font-weight: 600; }
QPushButton[role="main"]:focus { border: 2px solid %panel; outline: 2px solid %ink; }
QPushButton[role="main"]:disabled { background: %line; border-color: %line; color: %soft; }
QPushButton[role="stop"] { background: %ember; color: %onember; border: 1px solid %ember; font-weight: 700; }
QPushButton[role="stop"]:focus { border: 2px solid %ink; }
QPushButton[role="segment"] { border-radius: 0; font-size: %smallpx; }
QPushButton[role="segment"]:checked { background: %ink; color: %panel; border-color: %ink; font-weight: 600; }
QPushButton[role="segment"]:focus { border: 2px solid %ink; padding: 3px 11px; }
QPushButton[role="segment"]:checked:focus { border: 2px solid %soft; }
QPushButton[role="quiet"] { border: 1px solid transparent; background: transparent; padding: 2px 6px; text-decoration: underline; }
QPushButton[role="quiet"]:focus { border: 2px solid %ink; padding: 1px 5px; }
QLineEdit[role="heading"] { border: 1px solid transparent; background: transparent; padding: 3px 6px; }
QLineEdit[role="heading"]:hover { border: 1px solid %strong; }
QLineEdit[role="heading"]:focus { border: 2px solid %ink; padding: 2px 5px; background: %panel; }
QTableWidget { background: transparent; border: 0; selection-background-color: %selected; selection-color: %ink; outline: 0; }
QTableWidget:focus { border: 1px solid %ink; }
QTableWidget::item { padding: 0 4px; border-bottom: 1px solid %line; }
QTableWidget QLineEdit { min-height: 0; padding: 0 4px; }
QHeaderView { background: transparent; }
QHeaderView::section { background: transparent; color: %soft; border: 0; border-bottom: 1px solid %strong; padding: 3px 4px; }
QListWidget { background: transparent; border: 0; outline: 0; selection-background-color: %selected; selection-color: %ink; }
QListWidget:focus { border: 1px solid %ink; }
QComboBox::drop-down { border: 0; width: %droppx; }
QComboBox::down-arrow { image: none; width: 0; height: 0; border-left: 4px solid %panel; border-right: 4px solid %panel; border-top: 5px solid %ink; margin-right: 6px; }
QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button { width: 0; border: 0; }
QListView::indicator { margin-right: 4px; width: %boxpx; height: %boxpx; border: 1px solid %strong; border-radius: 2px; background: %panel; image: none; }
QListView::indicator:checked { background: %ink; border: 1px solid %ink; image: url(:/ash/tick-%appearance.xpm); }
QTextBrowser { background: #FFFFFF; border: 1px solid %strong; color: #24211E; }
QCheckBox::indicator { width: %boxpx; height: %boxpx; border: 1px solid %strong; border-radius: 2px; background: %panel; }
QCheckBox::indicator:checked { background: %ink; border-color: %ink; image: url(:/ash/tick-%appearance.xpm); }
QCheckBox:focus { border: 1px solid %ink; border-radius: 3px; }
QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
QScrollBar::handle:vertical { background: %strong; border-radius: 4px; min-height: 24px; margin: 1px; }
QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
QScrollBar::handle:horizontal { background: %strong; border-radius: 4px; min-width: 24px; margin: 1px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QMenu { background: %panel; border: 1px solid %strong; }
QMenu::item:selected { background: %selected; color: %ink; }
QSpinBox { background: %panel; border: 1px solid %strong; border-radius: 3px; padding: 3px 6px; min-height: %fieldpx; }
QSpinBox:focus { border: 2px solid %ink; padding: 2px 5px; }
QLabel[soft="true"] { color: %soft; }
QLabel[problem="true"] { color: %ink; font-weight: 600; }
QScrollArea { border: 0; background: transparent; }
)");
  QString filled = sheet;
  // A colour of the sheet makes a field's placeholder half as strong; the palette says the same without that.
  if (t.isStrong) filled.remove(QStringLiteral("QWidget { color: %ink; }"));
  const std::pair<const char*, QString> tokens[] = {
      {"%appearance", t.isDark ? QStringLiteral("dark") : QStringLiteral("light")},
      {"%panel", t.panel.name()},
      {"%selected", t.selected.name()},
      {"%strong", t.strongLine.name()},
      {"%line", t.line.name()},
      {"%ink", t.ink.name()},
      {"%soft", t.softInk.name()},
      {"%onember", t.onEmber().name()},
      {"%ember", t.ember.name()},
      {"%droppx", QString::number(px(18)) + QStringLiteral("px")},
      {"%boxpx", QString::number(px(13)) + QStringLiteral("px")},
      {"%smallpx", QString::number(px(12)) + QStringLiteral("px")},
      {"%fieldpx", QString::number(px(18)) + QStringLiteral("px")}};
  for (const auto& [token, value] : tokens) filled.replace(QLatin1String(token), value);
  return filled;
}

}  // namespace

Theme Theme::paper() {
  Theme t;
  t.ground = QColor(0xF2, 0xF0, 0xEC);
  t.panel = QColor(0xFB, 0xFA, 0xF8);
  t.line = QColor(0xD9, 0xD4, 0xCC);
  t.strongLine = QColor(0xBD, 0xB6, 0xAB);
  t.ink = QColor(0x24, 0x21, 0x1E);
  t.softInk = QColor(0x5C, 0x55, 0x4E);
  t.ember = QColor(0xC4, 0x45, 0x1A);
  t.emberWash = QColor(0xF6, 0xDE, 0xD3);
  t.plotGrid = QColor(0xEC, 0xE8, 0xE1);
  t.shade = QColor(0xF3, 0xF0, 0xEA);
  t.shade2 = QColor(0xEA, 0xE6, 0xDE);
  t.selected = QColor(0xE9, 0xE4, 0xDB);
  return t;
}

Theme Theme::soot() {
  Theme t;
  t.isDark = true;
  t.ground = QColor(0x19, 0x18, 0x17);
  t.panel = QColor(0x23, 0x21, 0x20);
  t.line = QColor(0x3A, 0x36, 0x33);
  t.strongLine = QColor(0x57, 0x51, 0x4C);
  t.ink = QColor(0xEC, 0xE7, 0xE1);
  t.softInk = QColor(0xB3, 0xAB, 0xA2);
  t.ember = QColor(0xF0, 0x70, 0x3F);
  t.emberWash = QColor(0x4A, 0x26, 0x18);
  t.plotGrid = QColor(0x2C, 0x2A, 0x28);
  t.shade = QColor(0x28, 0x26, 0x24);
  t.shade2 = QColor(0x30, 0x2D, 0x2A);
  t.selected = QColor(0x35, 0x31, 0x2E);
  return t;
}

Theme Theme::strong() const {
  Theme t = *this;
  t.isStrong = true;
  t.ground = t.panel = isDark ? QColor(Qt::black) : QColor(Qt::white);
  t.ink = isDark ? QColor(Qt::white) : QColor(Qt::black);
  t.softInk = isDark ? QColor(0xE4, 0xE4, 0xE4) : QColor(0x2E, 0x2E, 0x2E);
  t.line = isDark ? QColor(0x8C, 0x8C, 0x8C) : QColor(0x6E, 0x6E, 0x6E);
  t.strongLine = isDark ? QColor(0xC8, 0xC8, 0xC8) : QColor(0x3C, 0x3C, 0x3C);
  t.plotGrid = isDark ? QColor(0x50, 0x50, 0x50) : QColor(0xB4, 0xB4, 0xB4);
  t.shade = isDark ? QColor(0x16, 0x16, 0x16) : QColor(0xF4, 0xF4, 0xF4);
  t.shade2 = isDark ? QColor(0x26, 0x26, 0x26) : QColor(0xE6, 0xE6, 0xE6);
  t.selected = isDark ? QColor(0x30, 0x30, 0x30) : QColor(0xE0, 0xE0, 0xE0);
  t.ember = isDark ? QColor(0xFF, 0x9A, 0x70) : QColor(0x8E, 0x2A, 0x06);
  t.emberWash = isDark ? QColor(0x3C, 0x18, 0x0A) : QColor(0xFF, 0xE6, 0xDA);
  return t;
}

double contrastRatio(const QColor& a, const QColor& b) {
  const auto luminance = [](const QColor& colour) {
    const auto linear = [](double part) {
      return part <= 0.03928 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(colour.redF()) + 0.7152 * linear(colour.greenF()) + 0.0722 * linear(colour.blueF());
  };
  const auto [darker, lighter] = std::minmax({luminance(a), luminance(b)});
  return (lighter + 0.05) / (darker + 0.05);
}

QColor Theme::series(int index) const {
  if (index < 0) return softInk;
  QColor colour(QRgb(0xFF000000U | setupColour(index, isDark)));
  constexpr double kLeastRatio = 4.5;
  constexpr int kStepPercent = 106;
  for (int step = 0; isStrong && step < 40 && contrastRatio(colour, panel) < kLeastRatio; ++step)
    colour = isDark ? colour.lighter(kStepPercent) : colour.darker(kStepPercent);
  return colour;
}
QColor Theme::seriesTint(int index) const {
  if (index < 0) return shade2;
  return isDark ? pick(kSootTints, index) : pick(kPaperTints, index);
}

const Theme& theme() { return inUse().theme; }

void takeDesktopFont(const QFont& font, double larger) {
  const QFontInfo desktop(font);
  InUse& state = inUse();
  state.scale = std::clamp(larger * desktop.pixelSize() / kDesignFontPx, 1.0, 3.0);
  const QStringList families = QFontDatabase::families();
  state.family = families.contains(QStringLiteral("Inter")) ? QStringLiteral("Inter") : desktop.family();
}

void applyTheme(QApplication& app, const Theme& chosen) {
  keepLabelsPlain(&app);
  InUse& state = inUse();
  state.theme = chosen;
  if (state.family.isEmpty()) takeDesktopFont(QApplication::font());
  QApplication::setStyle(QStringLiteral("Fusion"));
  QApplication::setPalette(paletteOf(chosen));
  QApplication::setFont(font(kDesignFontPx));
  app.setStyleSheet(styleOf(chosen));
}

int px(double designPx) { return static_cast<int>(std::lround(designPx * inUse().scale)); }

QFont font(double designPx, QFont::Weight weight) {
  QFont result(inUse().family.isEmpty() ? QApplication::font().family() : inUse().family);
  result.setPixelSize(px(designPx));
  result.setWeight(weight);
  return result;
}

}  // namespace ash::look
