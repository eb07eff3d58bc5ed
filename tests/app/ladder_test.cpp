// SPDX-License-Identifier: GPL-3.0-or-later
// Ladders in the window, by keys: begun on Plan, answered on Watch, looked at again.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/ladder/ladder_row.h"
#include "app/plan/plan_station.h"
#include "app/study/study_desk.h"
#include "app/watch/ladder_strip.h"
#include "app/watch/pause_card.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

/// A study with one short run on the simulated bench, and its ladders on Plan by Ctrl+L.
struct LadderDesk {
  LadderDesk() {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg("run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases 'soak 5s'");
    shown.emplace(desk);
    shown->window.goTo(0);
    shown->window.desk().edit("bench", [](Study&, StudyPlan& plan) {
      plan.bench = "larch12";
      plan.speed = 60;
    });
    QTest::keyClick(&shown->window, Qt::Key_L, Qt::ControlModifier);
    form.emplace(shown->window);
    REQUIRE(shown->waitFor([&] { return row()->isVisible(); }));
  }
  LadderRow* row() { return shown->window.findChild<LadderRow*>(); }
  void fill(const char* field, const char* words) {
    auto* line = form->find<QLineEdit>(field);
    line->setFocus();
    QTest::keyClicks(line, QLatin1String(words));
  }
  std::vector<KeptLadder> kept() const { return *desk.open().ladders(); }

  Desk desk;
  std::optional<Shown> shown;
  std::optional<FormDriver> form;
};

}  // namespace

TEST_CASE("aLadderOfTwoHandSetStepsIsDrivenByKeys") {
  LadderDesk at;
  auto* question = at.form->find<QComboBox>("ladder-question");
  question->setFocus();
  for (int i = 0; i < 2; ++i) QTest::keyClick(question, Qt::Key_Down);
  CHECK(question->currentData().toString() == QStringLiteral("lowest-voltage"));
  at.fill("ladder-from", "1.2");
  at.fill("ladder-to", "1.1");
  at.fill("ladder-step", "0.1");
  at.fill("ladder-until", "cpu.temp > 120 for 5s");
  at.fill("ladder-rest", "5s");
  at.fill("ladder-hold", "20s");
  QTest::keyClick(at.form->find<QLineEdit>("ladder-hold"), Qt::Key_Return);
  // Each step asks for its value on Watch, and Enter says that it is set.
  for (const char* asked : {"Set core voltage to 1.2 V", "Set core voltage to 1.1 V"}) {
    INFO(asked);
    REQUIRE(at.shown->waitFor([&] {
      const auto* card = at.shown->window.findChild<PauseCard*>();
      return card != nullptr && card->isVisible() && at.shown->text("pause-words") == QLatin1String(asked);
    }));
    // Above the lanes stands how far the ladder is.
    auto* strip = at.shown->window.findChild<LadderStrip*>();
    const bool isFirst = QLatin1String(asked).endsWith(QStringLiteral("1.2 V"));
    const QString wanted =
        isFirst ? QStringLiteral("Run 1 of at most 2 · nothing is known yet · it waits for you at each step")
                : QStringLiteral("Run 2 of at most 2 · 1.2 V holds · it waits for you at each step");
    REQUIRE(at.shown->waitFor([&] { return strip->isVisible() && strip->words() == wanted; }));
    QTest::keyClick(at.form->find<QLineEdit>("pause-found"), Qt::Key_Return);
    REQUIRE(at.shown->waitFor([&] { return !at.shown->window.findChild<PauseCard*>()->isVisible(); }));
  }
  REQUIRE(at.shown->waitFor([&] { return at.kept().size() == 1 && at.kept().front().state["over"] == true; }));
  // From there a key leads to the whole of it.
  auto* strip = at.shown->window.findChild<LadderStrip*>();
  REQUIRE(at.shown->waitFor([&] { return strip->words() == QStringLiteral("2 runs · 1.1 V holds · over"); }));
  strip->setFocus();
  QTest::keyClick(strip, Qt::Key_Return);
  CHECK(at.row()->isVisible());
  REQUIRE(at.shown->waitFor([&] {
    const QString answer = at.shown->text("ladder-answer");
    return answer.startsWith(
               QStringLiteral("core voltage: 1.1 V holds, as far as it was to go; 1.1 V is chosen, with ")) &&
           answer.endsWith(QStringLiteral("K left to the limit of processor temperature."));
  }));
  // The setups of its steps stand in the plan; the arrow and Enter show the run of the second.
  const auto study = at.desk.open().study("s");
  REQUIRE(study);
  REQUIRE(study->setups.size() == 3);
  CHECK(study->setups[2].name == "Mesh, 1.1 V");
  QSignalSpy wanted(at.row(), &LadderRow::runWanted);
  at.row()->setFocus();
  QTest::keyClick(at.row(), Qt::Key_Right);
  QTest::keyClick(at.row(), Qt::Key_Return);
  REQUIRE(wanted.count() == 1);
  CHECK(at.desk.open().run(wanted[0][0].toString().toStdString())->info.setup == "Mesh, 1.1 V");
}

TEST_CASE("whatIsWrongWithALadderIsSaidBesideItsButton") {
  LadderDesk at;
  auto* climb = at.form->find<QPushButton>("ladder-climb");
  CHECK(climb->isEnabled());
  at.fill("ladder-until", "warm");
  CHECK_FALSE(climb->isEnabled());
  CHECK(at.shown->text("ladder-problem").contains(QStringLiteral("\"warm\"")));
  at.form->find<QLineEdit>("ladder-until")->clear();
  at.fill("ladder-from", "ten");
  CHECK(at.shown->text("ladder-problem") == QStringLiteral("“ten” is no number."));
  at.form->find<QLineEdit>("ladder-from")->clear();
  // What only the bench can tell comes from who climbs.
  at.fill("ladder-to", "5000");
  CHECK(climb->isEnabled());
  QTest::mouseClick(climb, Qt::LeftButton);
  const bool isSaid =
      at.shown->waitFor([&] { return at.shown->text("ladder-problem").contains(QStringLiteral("120 W")); });
  INFO(at.shown->text("ladder-problem").toStdString());
  REQUIRE(isSaid);
  // It stays when the plan is shown anew.
  at.shown->window.desk().edit("speed", [](Study&, StudyPlan& plan) { plan.speed = 30; });
  at.shown->waitFor([] { return false; }, 300);
  CHECK(at.shown->text("ladder-problem").contains(QStringLiteral("120 W")));
  CHECK(at.kept().empty());
  // A question that asks for something has a field for it, with its unit.
  auto* question = at.form->find<QComboBox>("ladder-question");
  CHECK_FALSE(at.form->find<QLineEdit>("ladder-wanted")->isVisible());
  at.form->choose(question, question->itemText(question->findData(QStringLiteral("quiet"))));
  CHECK(at.form->find<QLineEdit>("ladder-wanted")->isVisible());
  CHECK(at.form->find<QLineEdit>("ladder-wanted")->accessibleName() == QStringLiteral("Noise, dBA"));
  QTest::keyClick(at.form->find<QLineEdit>("ladder-knob"), Qt::Key_Escape);
  CHECK_FALSE(at.row()->isVisible());
}

TEST_CASE("aLadderThatWasCutOffGoesOnByAPress") {
  LadderDesk at;
  at.fill("ladder-from", "60");
  at.fill("ladder-to", "100");
  at.fill("ladder-step", "40");
  at.fill("ladder-rest", "5s");
  at.fill("ladder-hold", "60s");
  QTest::mouseClick(at.form->find<QPushButton>("ladder-climb"), Qt::LeftButton);
  // Its first run appears on Watch like any other; it is stopped there.
  REQUIRE(at.shown->waitFor([&] { return at.shown->model().isGoingOn(); }));
  QTest::keyClick(&at.shown->window, Qt::Key_Period, Qt::ControlModifier);
  REQUIRE(at.shown->waitFor([&] { return !at.shown->model().isGoingOn() && at.shown->model().hasRun(); }));
  CHECK(at.kept().front().state["over"] == false);
  at.shown->window.goTo(0);
  auto* goOn = at.form->find<QPushButton>("ladder-go-on");
  REQUIRE(at.shown->waitFor([&] { return goOn->isVisible() && goOn->isEnabled(); }));
  QTest::mouseClick(goOn, Qt::LeftButton);
  REQUIRE(at.shown->waitFor([&] { return at.kept().front().state["over"] == true; }, 60'000));
  CHECK(at.kept().size() == 1);
  // The step that was stopped was done again.
  CHECK(at.desk.open().runs()->size() == 4);
  CHECK(at.kept().front().state["steps"].size() == 2);
}
