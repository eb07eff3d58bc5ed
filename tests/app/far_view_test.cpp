// SPDX-License-Identifier: GPL-3.0-or-later
// The run over the whole screen: by keys there and back, what it says, and which figures it shows.
#include "app/watch/far_view.h"

#include <QAction>
#include <QMenu>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/watch/live_model.h"
#include "model/number_text.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

struct FarDesk {
  FarDesk() {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg(
        "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases "
        "'idle 1min, soak 8min, measure 5min'");
    shown.emplace(desk);
    REQUIRE(shown->waitFor([&] { return shown->window.live().hasRun(); }));
    shown->window.goTo(1);
    REQUIRE(shown->waitFor([&] { return shown->window.live().outcome().has_value(); }));
  }
  FarView* far() { return shown->window.findChild<FarView*>(QStringLiteral("far-view")); }
  void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QTest::keyClick(&shown->window, key, modifiers);
  }
  bool isLeft() {
    return shown->waitFor([&] { return far() == nullptr; });
  }

  Desk desk;
  std::optional<Shown> shown;
};

// How much of a picture is not its ground.
double inkOf(const QImage& picture) {
  const QRgb ground = picture.pixel(1, 1);
  qint64 inked = 0;
  for (int y = 0; y < picture.height(); y += 2) {
    for (int x = 0; x < picture.width(); x += 2) inked += picture.pixel(x, y) != ground;
  }
  return 4.0 * double(inked) / double(picture.width()) / picture.height();
}

}  // namespace

TEST_CASE("theRunIsReadFromAcrossTheRoomAndLeftByEsc") {
  FarDesk at;
  CHECK(at.far() == nullptr);
  at.press(Qt::Key_F11);
  REQUIRE(at.far() != nullptr);
  CHECK(at.far()->isVisible());
  CHECK(at.far()->geometry() == at.shown->window.rect());
  CHECK((at.shown->window.windowState() & Qt::WindowFullScreen));
  // What it says is what the run says: limit less the last reading.
  const LiveModel& model = at.shown->window.live();
  const std::string watched = model.info().watched;
  const double left = *model.limit(watched, "throttle") - model.latest(watched);
  CHECK(farWords(model).startsWith(QString::fromStdString(withUnit(left, 1, "K")) +
                                   QStringLiteral(" CPU, left to its limit.")));
  // Large: at 1280x800 a twentieth of the picture at least is ink.
  at.far()->resize(1280, 800);
  CHECK(inkOf(at.far()->grab().toImage()) > 0.05);
  QTest::keyClick(at.far(), Qt::Key_Escape);
  CHECK(at.isLeft());
  CHECK_FALSE((at.shown->window.windowState() & Qt::WindowFullScreen));
  // The same key again takes it away, too.
  at.press(Qt::Key_F11);
  REQUIRE(at.far() != nullptr);
  at.press(Qt::Key_F11);
  CHECK(at.isLeft());
}

TEST_CASE("figuresForARecordingAreChosenAndRemembered") {
  FarDesk at;
  at.press(Qt::Key_F11, Qt::ShiftModifier);
  REQUIRE(at.far() != nullptr);
  const QStringList usual = at.far()->chosen();
  CHECK(usual.contains(QString::fromStdString(at.shown->window.live().info().watched)));
  CHECK(usual.contains(QStringLiteral("cpu.power")));
  CHECK(usual.size() <= 6);
  // By the menu: the processor's power is taken off.
  QContextMenuEvent asks(QContextMenuEvent::Mouse, {100, 100}, at.far()->mapToGlobal(QPoint(100, 100)));
  QApplication::sendEvent(at.far(), &asks);
  auto* menu = at.far()->findChild<QMenu*>();
  REQUIRE(menu != nullptr);
  for (QAction* action : menu->actions()) {
    if (action->text() == QStringLiteral("Processor package power")) action->trigger();
  }
  menu->close();
  CHECK(at.far()->chosen().size() == usual.size() - 1);
  CHECK_FALSE(at.far()->chosen().contains(QStringLiteral("cpu.power")));
  // From one to the other at once.
  at.press(Qt::Key_F11);
  REQUIRE(at.shown->waitFor([&] { return at.far() != nullptr && at.far()->form() == FarForm::Across; }));
  QTest::keyClick(at.far(), Qt::Key_Escape);
  CHECK(at.isLeft());
  // The window has to be the one in front again, after the menu.
  REQUIRE(at.shown->waitFor([&] { return at.shown->window.isActiveWindow(); }));
  at.press(Qt::Key_F11, Qt::ShiftModifier);
  REQUIRE(at.far() != nullptr);
  CHECK(at.far()->chosen().size() == usual.size() - 1);
}
