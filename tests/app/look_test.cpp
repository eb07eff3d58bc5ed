// SPDX-License-Identifier: GPL-3.0-or-later
// The budget column painted into a picture and looked at pixel by pixel.
#include <QImage>
#include <QPainter>
#include <catch2/catch.hpp>
#include <set>

#include "app/look/budget_column.h"
#include "app/look/parts.h"
#include "app/look/theme.h"

using namespace ash::look;

namespace {

constexpr int kWidth = 80, kFoot = 180;

QImage painted(const ColumnSpec& column, const Theme& theme, double width = 28) {
  QImage image(kWidth, 200, QImage::Format_RGB32);
  image.fill(theme.panel);
  QPainter painter(&image);
  paintBudgetColumn(painter, column, 20, kFoot, width, 2, theme);
  return image;
}

int count(const QImage& image, const QColor& colour) {
  int pixels = 0;
  for (int y = 0; y < image.height(); ++y) {
    for (int x = 0; x < image.width(); ++x) pixels += image.pixelColor(x, y) == colour;
  }
  return pixels;
}

ColumnSpec column(double usedK, std::optional<double> limitK = 70.0) {
  ColumnSpec spec;
  spec.usedK = usedK;
  spec.limitK = limitK;
  spec.fill = QColor(0x1C, 0x7C, 0x7D);
  spec.state = stateOfHeadroom(usedK, limitK);
  return spec;
}

}  // namespace

TEST_CASE("theFillStandsForTheKelvinUsed") {
  const Theme theme = Theme::paper();
  const ColumnSpec spec = column(40);
  // 40 K · 2 px high, 28 px less twice the inset of 4 wide; lines cover its rims.
  CHECK(count(painted(spec, theme), spec.fill) == Approx(80 * 20).margin(60));
  CHECK(count(painted(column(20), theme), spec.fill) == Approx(40 * 20).margin(60));
}

TEST_CASE("emberIsOnlyWhereALimitIsReached") {
  for (const Theme& theme : {Theme::paper(), Theme::soot()}) {
    CHECK(count(painted(column(40), theme), theme.ember) == 0);
    CHECK(count(painted(column(69), theme), theme.ember) > 100);
    CHECK(count(painted(column(75), theme), theme.ember) > 100);
    ColumnSpec tripped = column(40);
    tripped.state = ColumnState::Tripped;
    CHECK(count(painted(tripped, theme), theme.ember) >= 120);  // a filled square of 12
  }
}

TEST_CASE("statesFollowTheHeadroom") {
  CHECK(stateOfHeadroom(60, 70) == ColumnState::Live);
  CHECK(stateOfHeadroom(68.6, 70) == ColumnState::AtLimit);
  CHECK(stateOfHeadroom(71, 70) == ColumnState::OverLimit);
  CHECK(stateOfHeadroom(200, {}) == ColumnState::Live);
}

TEST_CASE("aPlannedColumnIsHollowAndAVoidOneHasNoColour") {
  const Theme theme = Theme::paper();
  ColumnSpec spec = column(40);
  spec.state = ColumnState::Planned;
  CHECK(count(painted(spec, theme), spec.fill) == 0);
  spec.state = ColumnState::Void;
  CHECK(count(painted(spec, theme), spec.fill) == 0);
  CHECK(count(painted(spec, theme), theme.shade2) > 500);
}

TEST_CASE("setupsKeepEightColoursApart") {
  for (const Theme& theme : {Theme::paper(), Theme::soot()}) {
    std::set<QRgb> colours;
    for (int i = 0; i < 8; ++i) colours.insert(theme.series(i).rgb());
    CHECK(colours.size() == 8);
    CHECK_FALSE(colours.contains(theme.ember.rgb()));
    CHECK(theme.series(8) == theme.series(0));
  }
}

// Ratios of the standard's own examples first (WCAG 2.1: black on white is 21; G18's #767676 on white is 4.54).
TEST_CASE("strongContrastHoldsWhatTheStandardAsksFor") {
  using ash::look::contrastRatio;
  CHECK(contrastRatio(Qt::black, Qt::white) == Approx(21));
  CHECK(contrastRatio(QColor(0x76, 0x76, 0x76), Qt::white) == Approx(4.54).margin(0.005));
  for (const Theme& usual : {Theme::paper(), Theme::soot()}) {
    const Theme theme = usual.strong();
    for (const QColor& ground : {theme.ground, theme.panel, theme.shade, theme.shade2, theme.selected}) {
      CHECK(contrastRatio(theme.ink, ground) >= 7);
      CHECK(contrastRatio(theme.softInk, ground) >= 7);
    }
    CHECK(contrastRatio(theme.ember, theme.panel) >= 7);
    CHECK(contrastRatio(theme.onEmber(), theme.ember) >= 7);
    CHECK(contrastRatio(theme.line, theme.panel) >= 4.5);
    CHECK(contrastRatio(theme.strongLine, theme.panel) >= 4.5);
    std::set<QRgb> colours;
    for (int i = 0; i < 8; ++i) {
      CHECK(contrastRatio(theme.series(i), theme.panel) >= 4.5);
      colours.insert(theme.series(i).rgb());
    }
    CHECK(colours.size() == 8);
    CHECK(theme.isDark == usual.isDark);
  }
}

TEST_CASE("aLongNameIsBrokenBetweenWordsAndANumberKeepsItsUnit") {
  const QFont font = ash::look::font(12);
  const QFontMetrics metrics(font);
  const auto wide = [&](const char* words) { return metrics.horizontalAdvance(QString::fromUtf8(words)) + 2; };
  const QString name = QStringLiteral("Plover, 100 %");
  CHECK(ash::look::inTwoLines(name, font, wide("Plover, 100 %")) == name);
  CHECK(ash::look::inTwoLines(name, font, wide("Plover, 100")) == QStringLiteral("Plover,\n100 %"));
  CHECK(ash::look::inTwoLines(QStringLiteral("Mesh + dust filter"), font, wide("Mesh + dust")) ==
        QStringLiteral("Mesh + dust\nfilter"));
  // Of a long end the last letters stay.
  const QString elided =
      ash::look::inTwoLines(QStringLiteral("Case with a very long description"), font, wide("Case with"));
  CHECK(elided.startsWith(QStringLiteral("Case with\n")));
  CHECK(elided.endsWith(QStringLiteral("tion")));
}
