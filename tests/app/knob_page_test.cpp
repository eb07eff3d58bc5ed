// SPDX-License-Identifier: GPL-3.0-or-later
// Knobs of a setup on Plan, by keys and mouse: asked for, refused with their range, left as they are.
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/look/theme.h"
#include "app/plan/knob_tracks.h"
#include "app/study/study_desk.h"
#include "model/knob_condition.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

/// A study on the simulated bench, and the knobs of its setup by Ctrl+T.
struct KnobDesk {
  KnobDesk() {
    setenv("XDG_CONFIG_HOME", desk.path("config").c_str(), 1);
    desk.ashg("run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases 'soak 5s'");
    shown.emplace(desk);
    shown->window.goTo(0);
    shown->window.desk().edit("bench", [](Study& study, StudyPlan& plan) {
      plan.bench = "larch12";
      study.setups[0].conditions = {{"panel", "mesh"}};
    });
    QTest::keyClick(&shown->window, Qt::Key_T, Qt::ControlModifier);
    REQUIRE(shown->waitFor([&] { return tracks()->isVisible() && tracks()->current() != nullptr; }));
  }
  KnobTracks* tracks() { return shown->window.findChild<KnobTracks*>(); }
  void go(const char* id) {
    QTest::keyClick(tracks(), Qt::Key_Up, Qt::NoModifier);
    for (int i = 0; i < 30; ++i) QTest::keyClick(tracks(), Qt::Key_Up);
    for (int i = 0; i < 30 && tracks()->current()->id != id; ++i) QTest::keyClick(tracks(), Qt::Key_Down);
    INFO(id);
    REQUIRE(tracks()->current()->id == id);
  }
  void type(const char* words) {
    QTest::keyClick(tracks(), Qt::Key_Return);
    auto* line = shown->window.findChild<QLineEdit*>(QStringLiteral("knob-value"));
    REQUIRE(line->isVisible());
    QTest::keyClicks(line, QLatin1String(words));
    QTest::keyClick(line, Qt::Key_Return);
  }
  Json conditions() { return shown->window.desk().study()->setups[0].conditions; }
  QString problem() {
    auto* label = shown->window.findChild<QLabel*>(QStringLiteral("knob-problem"));
    return label->isVisible() ? label->text() : QString();
  }

  Desk desk;
  std::optional<Shown> shown;
};

}  // namespace

TEST_CASE("aKnobIsAskedForByKeysAndLeftAgain") {
  KnobDesk at;
  at.go("cpu.power.limit");
  CHECK_FALSE(at.tracks()->isAsked());
  at.type("70 W");
  CHECK(at.conditions()["power_limit_w"] == 70);
  // Steps of a hundredth of 3 to 120 W, as a round number: 1 W; with Shift ten.
  QTest::keyClick(at.tracks(), Qt::Key_Right);
  CHECK(at.conditions()["power_limit_w"] == 71);
  QTest::keyClick(at.tracks(), Qt::Key_Left, Qt::ShiftModifier);
  CHECK(at.conditions()["power_limit_w"] == 61);
  QTest::keyClick(at.tracks(), Qt::Key_End);
  CHECK(at.conditions()["power_limit_w"] == 120);
  at.shown->window.desk().undoStack().undo();
  CHECK(at.conditions()["power_limit_w"] == 61);
  QTest::keyClick(at.tracks(), Qt::Key_Delete);
  CHECK_FALSE(at.conditions().contains("power_limit_w"));
  CHECK(at.conditions()["panel"] == "mesh");
  // As the run is told: what stands there is what its runs turn.
  at.go("cpu.clock.most");
  at.type("3000");
  const auto turned = knobConditions(at.conditions());
  REQUIRE(turned.size() == 1);
  CHECK(turned[0].setting == KnobSetting{"cpu.clock.most", "3000"});
}

TEST_CASE("whatAKnobCannotDoIsRefusedWithItsRange") {
  KnobDesk at;
  at.go("cpu.power.limit");
  at.type("500");
  CHECK(at.problem().contains(QStringLiteral("120")));
  CHECK_FALSE(at.conditions().contains("power_limit_w"));
  at.type("warm");
  CHECK_FALSE(at.problem().isEmpty());
  CHECK_FALSE(at.conditions().contains("power_limit_w"));
  at.type("65");
  CHECK(at.problem().isEmpty());
  CHECK(at.conditions()["power_limit_w"] == 65);
}

// The kernel tells no least of a real machine's power limits (Documentation/power/powercap/powercap.rst).
TEST_CASE("aKnobWithoutALeastHasATrackFromNothing") {
  KnobTracks tracks(nullptr);
  KnobsOfSetup of;
  Knob knob;
  knob.id = "cpu.power.limit";
  knob.name = "Power limit";
  knob.unit = "W";
  knob.value = 65;
  knob.most = 120;
  of.knobs = {knob};
  tracks.show(of);
  tracks.resize(800, 100);
  QStringList values;
  QObject::connect(&tracks, &KnobTracks::asked, [&](const QString&, const QString& value) { values += value; });
  QTest::keyClick(&tracks, Qt::Key_End);
  QTest::keyClick(&tracks, Qt::Key_Home);
  QTest::keyClick(&tracks, Qt::Key_Right);
  const int left = look::px(252), right = tracks.width() - look::px(150);
  QTest::mouseClick(&tracks, Qt::LeftButton, {}, {(3 * left + right) / 4, look::px(14)});
  // The most; one step of 1 W, as nothing can be asked; one above what is now; a quarter of the track.
  CHECK(values == QStringList({"120", "1", "66", "30"}));
}

TEST_CASE("wordsAndTracksAreChosenByTheMouse") {
  KnobDesk at;
  at.go("cpu.governor");
  QTest::keyClick(at.tracks(), Qt::Key_Left);
  CHECK(at.conditions()["cpu.governor"] == "powersave");
  QTest::keyClick(at.tracks(), Qt::Key_Left);
  CHECK(at.conditions()["cpu.governor"] == "performance");
  QTest::keyClick(at.tracks(), Qt::Key_Left);
  CHECK(at.conditions()["cpu.governor"] == "performance");
  // The middle of the first track: from 3 to 120 W.
  at.go("cpu.power.limit");
  const int left = look::px(252), right = at.tracks()->width() - look::px(150);
  QTest::mouseClick(at.tracks(), Qt::LeftButton, {}, {(left + right) / 2, look::px(14)});
  CHECK(at.conditions()["power_limit_w"].get<double>() == Approx(61.5).margin(2));
  auto* leave = at.shown->window.findChild<QPushButton*>(QStringLiteral("knob-leave"));
  CHECK(leave->isEnabled());
  QTest::mouseClick(leave, Qt::LeftButton);
  CHECK_FALSE(at.conditions().contains("power_limit_w"));
  QTest::keyClick(at.tracks(), Qt::Key_Escape);
  CHECK_FALSE(at.tracks()->isVisible());
}

TEST_CASE("aRunTurnsWhatThePlanAsksAndThePageShowsWhatItGot") {
  KnobDesk at;
  at.go("cpu.power.limit");
  at.type("65");
  REQUIRE(at.shown->waitFor([&] {
    const auto studies = *at.desk.open().studies();
    return studies[0].setups[0].conditions.contains("power_limit_w");
  }));
  at.desk.ashg(
      "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --phases 'soak 30s'");
  const auto book = at.desk.open();
  const RunLog run = *book.readRun(book.runs()->back().info.id);
  const auto turned = std::find_if(run.facts.events.begin(), run.facts.events.end(),
                                   [](const Event& event) { return event.kind == EventKind::Setting; });
  REQUIRE(turned != run.facts.events.end());
  CHECK(turned->extra["asked"] == "65");
  CHECK(turned->extra["read_back"] == "65");
}
