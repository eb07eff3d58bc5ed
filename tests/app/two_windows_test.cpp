// SPDX-License-Identifier: GPL-3.0-or-later
// Two windows on one book: each sees what the other edits, and neither undoes it.
#include <QTest>
#include <QUndoStack>
#include <catch2/catch.hpp>

#include "app/plan/plan_station.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

struct SharedBook : Desk {
  SharedBook() {
    auto made = Book::create(path("b.ashbook"));
    Study study;
    study.name = "panels";
    study.question = "Which?";
    study.setups = {{"solid", Json::object(), {{"fan_duty", 60}}, Json::object()},
                    {"mesh", Json::object(), {{"fan_duty", 60}}, Json::object()}};
    study.loads = {{"vector", {{"kind", "vector"}}}};
    REQUIRE(made->putStudy({}, study));
  }
  Study inBook() const { return open().studies()->front(); }
};

void setDuty(Shown& shown, size_t setup, int duty) {
  shown.window.desk().edit(QStringLiteral("Change the duty"),
                           [&](Study& study, StudyPlan&) { study.setups[setup].conditions["fan_duty"] = duty; });
}

Json dutyOf(Shown& shown, size_t setup) {
  const Study* study = shown.window.desk().study();
  return study == nullptr ? Json() : study->setups.at(setup).conditions["fan_duty"];
}

}  // namespace

TEST_CASE("anEditInOneWindowIsSeenInTheOtherWithinASecond") {
  const SharedBook desk;
  Shown first(desk), second(desk);
  setDuty(first, 0, 45);
  CHECK(Shown::waitFor([&] { return dutyOf(second, 0) == 45; }, 1000));
  // And the other way round, by key: the question is typed in the second window.
  auto* question = second.window.plan()->findChild<QLineEdit*>(QStringLiteral("question"));
  second.window.goTo(MainWindow::Plan);
  question->setFocus();
  QTest::keyClick(question, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(question, "Which one is quieter?");
  QTest::keyClick(question, Qt::Key_Return);
  CHECK(Shown::waitFor([&] { return first.window.desk().study()->question == "Which one is quieter?"; }, 1500));
  CHECK(dutyOf(first, 0) == 45);
}

TEST_CASE("theOlderWindowUndoesNothingOfTheNewer") {
  const SharedBook desk;
  Shown first(desk), second(desk);
  // Both at once, before either has heard of the other.
  setDuty(first, 0, 45);
  setDuty(second, 1, 70);
  REQUIRE(Shown::waitFor([&] { return dutyOf(first, 1) == 70 && dutyOf(second, 0) == 45; }, 3000));
  CHECK(desk.inBook().setups[0].conditions["fan_duty"] == 45);
  CHECK(desk.inBook().setups[1].conditions["fan_duty"] == 70);
  // Undo takes back one's own field only.
  first.window.desk().undoStack().undo();
  REQUIRE(Shown::waitFor([&] { return desk.inBook().setups[0].conditions["fan_duty"] == 60; }, 3000));
  CHECK(desk.inBook().setups[1].conditions["fan_duty"] == 70);
}

TEST_CASE("anEditOfWhatHasMovedOnIsRefusedToldAndTakenOffTheStack") {
  const SharedBook desk;
  Shown first(desk), second(desk);
  setDuty(first, 0, 45);
  REQUIRE(Shown::waitFor([&] { return dutyOf(second, 0) == 45; }, 3000));
  // The undo of an edit that somebody has built upon.
  setDuty(second, 0, 50);
  REQUIRE(Shown::waitFor([&] { return dutyOf(first, 0) == 50; }, 3000));
  first.window.desk().undoStack().undo();
  auto* notice = first.window.findChild<QLabel*>(QStringLiteral("notice"));
  REQUIRE(Shown::waitFor([&] { return notice->isVisible(); }, 3000));
  CHECK(notice->text().contains(QStringLiteral("fan_duty was changed elsewhere meanwhile, to 50")));
  CHECK(Shown::waitFor([&] { return dutyOf(first, 0) == 50; }, 3000));
  CHECK(desk.inBook().setups[0].conditions["fan_duty"] == 50);
  CHECK(first.window.desk().undoStack().count() == 0);
}

TEST_CASE("aSetupThatWasRemovedIsNotMixedUpWithOneThatIsNew") {
  const SharedBook desk;
  Shown first(desk);
  first.window.desk().edit(QStringLiteral("Remove"), [](Study& study, StudyPlan&) { study.setups.pop_back(); });
  REQUIRE(Shown::waitFor([&] { return desk.inBook().setups.size() == 1; }, 3000));
  // A recorder makes a setup of its own, with a run.
  desk.ashg("run --book b.ashbook --study panels --setup third --sim larch12 --speed 100000 --phases 'idle 5s'");
  first.window.desk().undoStack().undo();
  REQUIRE(Shown::waitFor([&] { return desk.inBook().setups.size() == 3; }, 3000));
  CHECK(desk.open().runs()->front().info.setup == "third");
}
