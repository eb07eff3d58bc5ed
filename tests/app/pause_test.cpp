// SPDX-License-Identifier: GPL-3.0-or-later
// A run that waits for a person: the card on Watch, answered by keys and by the mouse; presets of a procedure on Plan.
#include <QLineEdit>
#include <QPushButton>
#include <QTest>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/shell/main_window.h"
#include "app/study/study_desk.h"
#include "app/watch/pause_card.h"
#include "app/watch/watch_station.h"
#include "book/book.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

/// Starts a run on Watch and finds the card.
struct PausedRun {
  explicit PausedRun(const Desk& desk, const char* phases) : shown(desk), form(shown.window) {
    QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
    card = shown.window.findChild<PauseCard*>();
    REQUIRE(card != nullptr);
    form.fill("s", "mesh", "larch12", "vector", phases, 20);
    form.start();
    REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn(); }));
    CHECK_FALSE(card->isVisible());
  }
  bool isOver() {
    return shown.waitFor([&] { return shown.model().hasRun() && !shown.model().isGoingOn(); });
  }
  Shown shown;
  FormDriver form;
  PauseCard* card = nullptr;
};

}  // namespace

TEST_CASE("aPauseIsACardThatAReadingAndEnterAnswer") {
  const Desk desk;
  PausedRun run(desk, "soak 10s, pause \"read the sound meter at 50 cm\", measure 10s");
  REQUIRE(run.shown.waitFor([&] { return run.card->isVisible(); }));
  CHECK(run.shown.text("pause-words") == QStringLiteral("read the sound meter at 50 cm"));
  // Large enough to be read from two metres, and not cut.
  const auto* words = run.shown.window.findChild<QLabel*>(QStringLiteral("pause-words"));
  CHECK(words->font().pixelSize() >= 24);
  CHECK(run.shown.waitFor([&] { return words->height() >= words->heightForWidth(words->width()); }, 5000));
  const double fromS = run.shown.model().lastTimeS();
  REQUIRE(run.shown.waitFor([&] { return run.shown.model().lastTimeS() > fromS + 20; }));  // the lanes go on
  CHECK(run.shown.text("pause-waited").contains(QStringLiteral("load and log go on")));
  auto* found = run.form.find<QLineEdit>("pause-found");
  REQUIRE(found->hasFocus());
  // What cannot be a reading is said, and the pause goes on.
  QTest::keyClicks(found, QStringLiteral("noise very loud"));
  QTest::keyClick(found, Qt::Key_Return);
  QTest::qWait(300);
  CHECK(run.card->isVisible());
  QTest::keyClick(found, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(found, QStringLiteral("noise 38.5 50cm"));
  QTest::keyClick(found, Qt::Key_Return);
  REQUIRE(run.shown.waitFor([&] { return !run.card->isVisible(); }));
  REQUIRE(run.isOver());
  CHECK(*run.shown.model().outcome() == Outcome::Completed);
  const auto kept = desk.open().readRun(desk.open().runs()->front().info.id);
  REQUIRE(kept);
  const auto noise = std::find_if(kept->facts.events.begin(), kept->facts.events.end(),
                                  [](const Event& event) { return event.role == Role("noise"); });
  REQUIRE(noise != kept->facts.events.end());
  CHECK(noise->value == 38.5);
  CHECK(noise->atS >= fromS + 20);
}

TEST_CASE("aPauseIsDoneByAPressAndEndsByItself") {
  const Desk desk;
  PausedRun run(desk, "soak 10s, pause \"turn the fan down\", 2 x (measure 5s, pause \"look\" at most 30s), cool 5s");
  REQUIRE(run.shown.waitFor([&] { return run.card->isVisible(); }));
  QTest::mouseClick(run.form.find<QPushButton>("pause-done"), Qt::LeftButton);
  REQUIRE(run.shown.waitFor([&] { return run.shown.text("pause-words") == QStringLiteral("look"); }));
  CHECK(run.shown.text("pause-waited").contains(QStringLiteral("goes on by itself in")));
  REQUIRE(run.isOver());
  CHECK_FALSE(run.card->isVisible());
  const auto kept = desk.open().readRun(desk.open().runs()->front().info.id);
  REQUIRE(kept);
  const auto unanswered = std::count_if(kept->facts.events.begin(), kept->facts.events.end(), [](const Event& event) {
    return event.text == "Pause ended: nobody has answered within its time.";
  });
  CHECK(unanswered == 2);
  CHECK(kept->facts.phases.size() == 7);
}
