// SPDX-License-Identifier: GPL-3.0-or-later
// The window on small screens and with large fonts: it never needs more than the screen has, and what is not shown is
// scrolled to.
#include <QApplication>
#include <QLabel>
#include <QLayout>
#include <QScrollArea>
#include <QStackedWidget>
#include <catch2/catch.hpp>

#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/shell/trail.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

constexpr int kDesignPx = 13;
constexpr QSize kScreens[] = {{1024, 600}, {1280, 800}, {1366, 768}, {2560, 1440}};

/// The desktop's font in so many percent of the usual, as long as it lives.
class FontScale {
 public:
  explicit FontScale(int percent) : m_before(QApplication::font()) {
    QFont font = m_before;
    font.setPixelSize(qRound(kDesignPx * percent / 100.0));
    apply(font);
    // Not what is asked, but what is drawn.
    REQUIRE(std::abs(look::px(100) - percent) <= 4);
  }
  FontScale(const FontScale&) = delete;
  FontScale& operator=(const FontScale&) = delete;
  ~FontScale() { apply(m_before); }

 private:
  static void apply(const QFont& font) {
    look::takeDesktopFont(font);
    look::applyTheme(*qApp, look::Theme::paper());
  }
  QFont m_before;
};

/// Two setups with long names, each measured once: the words of a verdict go over several lines.
struct MeasuredRun : Desk {
  MeasuredRun() {
    for (const char* setup :
         {"The tall cooler with two fans, behind the mesh panel", "The flat one it came with, panel on"})
      ashg(std::string("run --book b.ashbook --study s --setup '") + setup +
           "' --load vector --sim larch12 --speed 1e5 --phases 'idle 1min, soak settled 8min..30min, measure 3min'");
  }
};

// What of a widget can be seen in its window.
QRect seenOf(const QWidget* widget) {
  QRect seen = widget->rect();
  QPoint at;
  for (const QWidget* in = widget; !in->isWindow(); in = in->parentWidget()) {
    at += in->pos();
    seen &= in->parentWidget()->rect().translated(-at);
  }
  return seen;
}

void collect(const QLayout& layout, std::vector<QWidget*>& widgets) {
  for (int i = 0; i < layout.count(); ++i) {
    if (QWidget* widget = layout.itemAt(i)->widget()) widgets.push_back(widget);
    if (const QLayout* inner = layout.itemAt(i)->layout()) collect(*inner, widgets);
  }
}

QString nameOf(const QWidget& widget) {
  const auto* label = qobject_cast<const QLabel*>(&widget);
  const QString words = label != nullptr ? label->text().left(30) : widget.objectName();
  return QStringLiteral("%1 (%2)").arg(QLatin1String(widget.metaObject()->className()), words);
}

// Which two of a layout's parts lie over each other; empty = none.
QString overlapsIn(const QWidget& window) {
  for (const QWidget* box : window.findChildren<QWidget*>()) {
    if (box->layout() == nullptr || !box->isVisible() || qobject_cast<const QStackedWidget*>(box) != nullptr) continue;
    std::vector<QWidget*> parts;
    collect(*box->layout(), parts);
    std::erase_if(parts, [](const QWidget* part) { return !part->isVisible(); });
    for (size_t i = 0; i < parts.size(); ++i) {
      for (size_t j = i + 1; j < parts.size(); ++j) {
        if (parts[i]->geometry().intersects(parts[j]->geometry()))
          return nameOf(*parts[i]) + " over " + nameOf(*parts[j]);
      }
    }
  }
  return {};
}

}  // namespace

TEST_CASE("theTrailKeepsItsStationsAndStopApartAtAnyWidthAndFont") {
  for (const int percent : {100, 150, 200}) {
    const FontScale scale(percent);
    for (const QSize& screen : kScreens) {
      INFO(percent << " % at " << screen.width());
      Trail trail(nullptr);
      trail.setMachine("Larch 12", "20 readings");
      trail.setBook("studio", "Which side panel of the mixing box lets the heat out?");
      for (int station = 0; station < 5; ++station) trail.setStationLine(station, "18 of 18 runs, and more words");
      trail.showLoad(true, false);
      trail.resize(screen.width(), trail.height());
      trail.show();
      QTest::qWait(1);  // for the layout
      REQUIRE(trail.minimumSizeHint().width() <= screen.width());
      std::vector<QWidget*> all;
      for (auto* button : trail.findChildren<QAbstractButton*>()) all.push_back(button);
      REQUIRE(all.size() == 8);
      for (size_t i = 0; i < all.size(); ++i) {
        INFO(all[i]->objectName().toStdString());
        CHECK(trail.rect().contains(all[i]->geometry()));
        for (size_t j = i + 1; j < all.size(); ++j) CHECK_FALSE(all[i]->geometry().intersects(all[j]->geometry()));
      }
      // The words of what stops a load are never cut.
      auto* stop = trail.findChild<QPushButton*>(QStringLiteral("stop-load"));
      REQUIRE(stop->isVisible());
      CHECK(stop->width() >= QFontMetrics(stop->font()).horizontalAdvance(stop->text()));
      CHECK(stop->text().startsWith(QStringLiteral("Stop load")));
    }
  }
}

TEST_CASE("noPageNeedsMoreThanTheScreenAndNothingOnItLiesOverItsNeighbour") {
  const MeasuredRun desk;
  for (const int percent : {100, 150, 200}) {
    const FontScale scale(percent);
    Shown shown(desk);
    for (const QSize& screen : kScreens) {
      shown.window.resize(screen);
      for (int page = 0; page < 6; ++page) {
        INFO(percent << " % at " << screen.width() << ", page " << page);
        QTest::keyClick(&shown.window, static_cast<Qt::Key>(Qt::Key_1 + page), Qt::ControlModifier);
        REQUIRE(shown.window.page() == page);
        QTest::qWait(20);
        CHECK(shown.window.minimumSizeHint().width() <= screen.width());
        CHECK(shown.window.minimumSizeHint().height() <= screen.height());
        CHECK(shown.window.size() == screen);
        // A page is laid out in several turns.
        shown.waitFor([&] { return overlapsIn(shown.window).isEmpty(); }, 5000);
        CHECK(overlapsIn(shown.window).toStdString() == "");
      }
      // What starts a run is far at the right, and below: it is brought into sight with the keys.
      QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
      for (auto* button : shown.window.plan()->findChildren<QPushButton*>()) {
        if (!button->isVisibleTo(shown.window.plan()) || !button->isEnabled() || button->focusPolicy() == Qt::NoFocus)
          continue;
        INFO(percent << " % at " << screen.width() << ": " << button->text().toStdString());
        button->setFocus(Qt::TabFocusReason);
        QTest::qWait(1);
        CHECK_FALSE(seenOf(button).isEmpty());
      }
    }
  }
}

TEST_CASE("aWindowThatGoesWithTheKeysInAFieldFollowsThemNoMore") {
  const MeasuredRun desk;
  for (int page = 0; page < 6; ++page) {
    INFO("page " << page);
    auto shown = std::make_unique<Shown>(desk);
    QTest::keyClick(&shown->window, static_cast<Qt::Key>(Qt::Key_1 + page), Qt::ControlModifier);
    // Whatever takes the keys there, as long as it is going.
    for (int tab = 0; tab < 4; ++tab) QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
    CHECK(QApplication::focusWidget() != nullptr);
    // Over the whole window, and so still there when the pages have gone.
    if (page == 1) QTest::keyClick(&shown->window, Qt::Key_F11);
    shown.reset();
    CHECK(QApplication::focusWidget() == nullptr);
  }
}
