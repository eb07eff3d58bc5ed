// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked, chosen on Plan by keys; its answer over Standings and first on the page.
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/study/study_desk.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

/// One setup on the simulated bench, run once.
struct AskedDesk {
  AskedDesk() {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg(
        "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases "
        "'idle 1min, soak settled 8min..30min, measure 5min'");
    shown.emplace(desk);
    shown->window.goTo(0);
  }
  QComboBox* kind() { return shown->window.findChild<QComboBox*>(QStringLiteral("asks")); }
  QLineEdit* target() { return shown->window.findChild<QLineEdit*>(QStringLiteral("asks-target")); }
  void choose(const char* words) {
    kind()->setFocus();
    for (int i = 0; i < kind()->count(); ++i) QTest::keyClick(kind(), Qt::Key_Up);
    for (int i = 0; i < kind()->count() && !kind()->currentText().startsWith(QLatin1String(words)); ++i)
      QTest::keyClick(kind(), Qt::Key_Down);
    INFO(words);
    REQUIRE(kind()->currentText().startsWith(QLatin1String(words)));
  }
  void type(const char* words) {
    target()->selectAll();
    QTest::keyClicks(target(), QLatin1String(words));
    QTest::keyClick(target(), Qt::Key_Return);
  }
  StudyQuestion asked() { return shown->window.desk().plan().asks; }

  Desk desk;
  std::optional<Shown> shown;
};

}  // namespace

TEST_CASE("aQuestionIsChosenByKeysAndAnsweredOnStandings") {
  AskedDesk at;
  CHECK_FALSE(at.target()->isVisible());
  at.choose("holds in a room");
  CHECK(at.asked() == StudyQuestion{QuestionKind::HoldsInRoom, {}});
  REQUIRE(at.shown->waitFor([&] { return at.target()->isVisible(); }));
  at.type("warm");
  auto* problem = at.shown->window.findChild<QLabel*>(QStringLiteral("plan-problem"));
  CHECK(problem->text().contains(QStringLiteral("35 °C")));
  CHECK(at.asked() == StudyQuestion{QuestionKind::HoldsInRoom, {}});
  at.type("12,5");
  CHECK(at.asked() == StudyQuestion{QuestionKind::HoldsInRoom, 12.5});
  CHECK(problem->text().isEmpty());
  at.shown->window.goTo(3);
  auto* verdict = at.shown->window.findChild<QLabel*>(QStringLiteral("verdict"));
  REQUIRE(verdict != nullptr);
  REQUIRE(at.shown->waitFor(
      [&] { return verdict->text().startsWith(QStringLiteral("Yes: Mesh stays below its limit in a room of 12.5")); }));
  // A step back asks without a target again, and the answer is that of an open question.
  at.shown->window.desk().undoStack().undo();
  CHECK(at.asked() == StudyQuestion{QuestionKind::HoldsInRoom, {}});
  CHECK(at.shown->waitFor([&] { return verdict->text().startsWith(QStringLiteral("CPU ")); }));
}

TEST_CASE("anotherKindOfQuestionDropsATargetInAnotherUnit") {
  AskedDesk at;
  at.choose("holds in a room");
  at.type("35 °C");
  at.choose("holds at a noise");
  CHECK(at.asked() == StudyQuestion{QuestionKind::HoldsAtNoise, {}});
  at.choose("which is best");
  CHECK(at.asked() == StudyQuestion{QuestionKind::WhichIsBest, {}});
  CHECK(at.shown->waitFor([&] { return !at.target()->isVisible(); }));
}
