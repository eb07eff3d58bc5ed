// SPDX-License-Identifier: GPL-3.0-or-later
// A first start and another appearance: the ways in, tried on the real window.
#include <QTest>
#include <catch2/catch.hpp>

#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/shell/desktop.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

TEST_CASE("anotherAppearanceKeepsTheBookAndTheStation") {
  const Desk desk;
  desk.ashg("run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'soak 1min'");
  Desktop desktop(desk.book(), QStringLiteral(ASHG_PROGRAM));
  desktop.show(false);
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->desk().study() != nullptr; }, 10'000));
  QTest::keyClick(desktop.window(), Qt::Key_4, Qt::ControlModifier);
  QTest::keyClick(desktop.window(), Qt::Key_K, Qt::ControlModifier);
  auto* line = desktop.window()->findChild<QLineEdit*>(QStringLiteral("finder-line"));
  REQUIRE(line != nullptr);
  QTest::keyClicks(line, "dark appearance");
  QTest::keyClick(line, Qt::Key_Return);
  REQUIRE(QTest::qWaitFor([] { return look::theme().isDark; }, 5'000));
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->desk().study() != nullptr; }, 10'000));
  CHECK(desktop.window()->page() == MainWindow::Standings);
  CHECK(Settings().appearance() == QStringLiteral("dark"));
  Settings().setAppearance({});
  look::applyTheme(*qApp, look::Theme::paper());
}

TEST_CASE("closingTheWindowInTheMiddleOfAnEditKeepsIt") {
  const Desk desk;
  desk.ashg("run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'soak 1min'");
  {
    Shown shown(desk);
    FormDriver form(shown.window);
    QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
    form.type(form.find<QLineEdit>("question"), "Does it hold?");
  }
  CHECK(desk.open().studies()->front().question == "Does it hold?");
}

TEST_CASE("justLoggingStartsARecordingWithoutALoad") {
  MainWindow window(QStringLiteral(ASHG_PROGRAM));
  window.show();
  REQUIRE(QTest::qWaitFor([&] { return window.findChild<QPushButton*>(QStringLiteral("log-now")) != nullptr; }, 3'000));
  auto* log = window.findChild<QPushButton*>(QStringLiteral("log-now"));
  REQUIRE(QTest::qWaitFor([&] { return log->isVisible(); }, 3'000));
  QTest::mouseClick(log, Qt::LeftButton);
  REQUIRE(QTest::qWaitFor([&] { return window.live().isGoingOn() && window.live().lastTimeS() > 1; }, 20'000));
  CHECK(window.page() == MainWindow::Watch);
  REQUIRE(window.live().state());
  CHECK_FALSE(window.live().state()->isLoadOn);
  FormDriver(window).enter("room 22.4");
  REQUIRE(QTest::qWaitFor([&] { return !window.live().events().empty(); }, 5'000));
  CHECK(window.live().events().back().role == "room.temp");
  QTest::keyClick(&window, Qt::Key_Period, Qt::ControlModifier);
  REQUIRE(QTest::qWaitFor([&] { return !window.live().isGoingOn(); }, 10'000));
  CHECK(*window.live().outcome() == Outcome::StoppedByHand);
}

TEST_CASE("aScoreTypedAfterTheRunIsKeptWithoutAMoment") {
  const Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'soak 2min, measure 1min'");
  Shown shown(desk);
  REQUIRE(shown.waitFor([&] { return shown.window.live().hasRun(); }));
  FormDriver form(shown.window);
  form.enter("score 11493");
  const auto events = [&] {
    const auto book = desk.open();
    return book.readRun(book.runs()->front().info.id)->facts.events;
  };
  const auto scored = [&] {
    const auto all = events();
    return std::any_of(all.begin(), all.end(),
                       [](const Event& event) { return event.role == "score" && event.value == 11493; });
  };
  REQUIRE(shown.waitFor(scored));
  REQUIRE(shown.waitFor([&] {
    const auto& report = shown.window.desk().report();
    return report && !report->loads.empty() && report->loads[0].comparison.rows[0].metrics.contains("score");
  }));
  CHECK(form.find<QLineEdit>("entry")->text().isEmpty());
  // A void typed after the run can be undone.
  form.enter("void left a cable in the fan");
  REQUIRE(shown.waitFor([&] { return desk.open().runs()->front().info.outcome == Outcome::Void; }));
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  shown.window.plan()->focusGrid();
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return desk.open().runs()->front().info.outcome == Outcome::Completed; }));
}
