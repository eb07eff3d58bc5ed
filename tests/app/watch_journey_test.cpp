// SPDX-License-Identifier: GPL-3.0-or-later
// Journeys through the real window by key and mouse: start, watch, note, stop, close and come back.
#include <QLabel>
#include <QTest>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/shell/main_window.h"
#include "app/shell/trail.h"
#include "app/watch/lanes.h"
#include "app/watch/start_form.h"
#include "app/watch/watch_station.h"
#include "book/book.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;
using tests::TempFolder;

namespace {

constexpr const char* kShortRun = "idle 30s, soak settled 2min..20min, measure 1min, cool 20s";

}  // namespace

TEST_CASE("aRunIsStartedByKeysAndFollowedToItsEnd") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
  CHECK(shown.window.findChild<QLabel*>(QStringLiteral("empty"))->isVisible());
  CHECK_FALSE(form.find<QPushButton>("start-run")->isEnabled());
  form.fill("Which side panel?", "mesh", "larch12", "vector", kShortRun, 400);
  REQUIRE(form.find<QPushButton>("start-run")->isEnabled());
  form.start();
  REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn(); }));
  CHECK(form.find<QPushButton>("stop-load")->isVisible());
  REQUIRE(shown.waitFor([&] { return shown.model().state() && std::isfinite(shown.model().state()->forecast.value); }));
  CHECK(shown.waitFor([&] { return shown.window.watch()->lanes()->visibleLaneCount() == 6; }));
  REQUIRE(shown.waitFor([&] { return shown.model().hasRun() && !shown.model().isGoingOn(); }));
  CHECK(*shown.model().outcome() == Outcome::Completed);
  CHECK_FALSE(form.find<QPushButton>("stop-load")->isVisible());
  CHECK(shown.text("banner").contains(QStringLiteral("completed")));
  CHECK(shown.text("run-title").contains(QStringLiteral("mesh")));
  // What the window shows is what the book holds.
  const auto runs = *desk.open().runs();
  REQUIRE(runs.size() == 1);
  CHECK(runs[0].info.setup == "mesh");
  CHECK(shown.model().series("cpu.temp").size() == static_cast<size_t>(runs[0].sampleCount));
  const auto log = *desk.open().readRun(runs[0].info.id);
  CHECK(shown.model().series("cpu.temp").v.back() == log.log.find("cpu.temp")->values.back());
}

TEST_CASE("oneKeyStopsTheLoadFromAnyStation") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  form.fill("s", "solid", "larch12", "vector", "soak 1h", 60);
  form.start();
  REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn() && shown.model().lastTimeS() > 20; }));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  CHECK_FALSE(shown.window.watch()->isVisible());
  CHECK(form.find<QPushButton>("stop-load")->isVisible());
  QTest::keyClick(&shown.window, Qt::Key_Period, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !shown.model().isGoingOn(); }));
  CHECK(*shown.model().outcome() == Outcome::StoppedByHand);
  CHECK(desk.open().runs()->front().info.outcome == Outcome::StoppedByHand);
  QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
  CHECK(shown.window.watch()->isVisible());
}

TEST_CASE("closingTheWindowDoesNotEndTheRunAndOpeningItAttachesAgain") {
  const Desk desk;
  double leftAtS = 0;
  {
    Shown shown(desk);
    FormDriver form(shown.window);
    form.fill("s", "mesh", "larch12", "vector", "soak 1h", 30);
    form.start();
    REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn() && shown.model().lastTimeS() > 30; }));
    leftAtS = shown.model().lastTimeS();
    shown.window.close();
  }
  QTest::qWait(500);
  CHECK(desk.open().runs()->front().info.outcome == Outcome::Running);
  Shown again(desk);
  REQUIRE(again.waitFor([&] { return again.model().isGoingOn() && again.model().lastTimeS() > leftAtS + 30; }));
  // Nothing is missing between the past of the book and the present of the socket, and nothing is there twice.
  const Series& series = again.model().series("cpu.temp");
  for (size_t i = 1; i < series.size(); ++i) CHECK(series.t[i] - series.t[i - 1] == Approx(0.5).margin(1e-6));
  CHECK(series.t.front() == 0);
  QTest::mouseClick(again.window.findChild<QPushButton*>(QStringLiteral("stop-load")), Qt::LeftButton);
  REQUIRE(again.waitFor([&] { return !again.model().isGoingOn(); }));
}

TEST_CASE("aNoteIsKeptWithItsMomentAndAPhaseEndedByHand") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  form.fill("s", "mesh", "larch12", "vector", "idle 30min, soak 1h", 20);
  form.start();
  REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn() && shown.model().lastTimeS() > 5; }));
  auto* note = form.find<QLineEdit>("entry");
  form.enter("note coil whine");
  REQUIRE(shown.waitFor([&] { return !shown.model().events().empty(); }));
  CHECK(shown.model().events().back().text == "coil whine");
  REQUIRE(shown.waitFor([&] { return note->text().isEmpty(); }));
  QTest::mouseClick(form.find<QPushButton>("end-phase"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.model().phases().size() == 2; }));
  CHECK(shown.model().phases()[1].kind == PhaseKind::Soak);
  QTest::keyClick(&shown.window, Qt::Key_Period, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !shown.model().isGoingOn(); }));
}

TEST_CASE("aRunThatCannotStartSaysWhyBesideTheButton") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  form.fill("s", "mesh", "larch12", "vector", "soak 1h", 20);
  // The book goes away under the window.
  std::filesystem::remove_all(desk.path());
  form.start();
  REQUIRE(shown.waitFor([&] { return !shown.text("start-problem").isEmpty(); }));
  CHECK(shown.text("start-problem").contains(QStringLiteral("b.ashbook")));
  CHECK(form.find<QPushButton>("start-run")->isEnabled());
}

TEST_CASE("theFormTellsWhatIsMissingBeforeItStarts") {
  const Desk desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  auto* start = form.find<QPushButton>("start-run");
  form.type(form.find<QComboBox>("study")->lineEdit(), "s");
  CHECK_FALSE(start->isEnabled());
  CHECK(start->toolTip().startsWith(QStringLiteral("Name the setup")));
  form.type(form.find<QComboBox>("setup")->lineEdit(), "x");
  CHECK(start->isEnabled());
  form.type(form.find<QLineEdit>("phases"), "soak forever");
  CHECK_FALSE(start->isEnabled());
  form.type(form.find<QLineEdit>("phases"), "soak 5min");
  form.type(form.find<QLineEdit>("room-typed"), "warm");
  CHECK_FALSE(start->isEnabled());
  form.type(form.find<QLineEdit>("room-typed"), "22,5");
  CHECK(start->isEnabled());
  CHECK(shown.window.watch()->form()->request().roomC == 22.5);
}

TEST_CASE("everyStationIsReachedByKeyAndByMouse") {
  const Desk desk;
  Shown shown(desk);
  for (int i = 0; i < 5; ++i) {
    QTest::keyClick(&shown.window, static_cast<Qt::Key>(Qt::Key_1 + i), Qt::ControlModifier);
    int checked = 0;
    for (auto* station : shown.window.findChildren<TrailButton*>()) checked += station->isChecked();
    CHECK(checked == 1);
  }
  auto* watch = shown.window.findChild<TrailButton*>(QStringLiteral("station-Watch"));
  QTest::mouseClick(watch, Qt::LeftButton);
  CHECK(watch->isChecked());
  CHECK(shown.window.watch()->isVisible());
}

TEST_CASE("aFileThatIsNoBookIsRefusedInTheWindow") {
  const TempFolder folder;
  MainWindow window(QStringLiteral(ASHG_PROGRAM));
  window.openBook(QString::fromStdString(folder.write("letter.ashbook", std::string(5000, 'x'))));
  window.show();
  const auto problem = [&] { return window.findChild<QLabel*>(QStringLiteral("start-page-problem")); };
  REQUIRE(QTest::qWaitFor([&] { return problem() != nullptr && !problem()->text().isEmpty(); }, 5000));
  CHECK(problem()->text().contains(QStringLiteral("is no book")));
}

TEST_CASE("aFinishedRunIsToldWholeWhenWatchIsFirstLookedAt") {
  const Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'idle 1min, soak 5min'");
  Shown shown(desk);
  // The run is there before its station is made.
  REQUIRE(shown.waitFor([&] { return shown.window.live().hasRun() && shown.window.live().lastTimeS() > 300; }));
  REQUIRE(shown.window.findChild<QLabel*>(QStringLiteral("fans")) == nullptr);
  QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
  CHECK(shown.text("fans").contains(QStringLiteral("RPM")));
  CHECK(shown.text("room").contains(QStringLiteral("Room")));
  CHECK_FALSE(shown.text("slowed").isEmpty());
  CHECK_FALSE(shown.window.findChild<QPushButton*>(QStringLiteral("end-phase"))->isVisible());
}
