// SPDX-License-Identifier: GPL-3.0-or-later
// The window after a crash, with a book it may only read, with a queue, and standing still while a rule acts.
#include <sqlite3.h>

#include <QLabel>
#include <QPushButton>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/interrupted/interrupted_panel.h"
#include "app/plan/cell_words.h"
#include "app/plan/plan_station.h"
#include "load/activity.h"
#include "model/study_plan.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/desk.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

const char* const kRun =
    "run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'soak 3min'";

void sql(const Desk& desk, const char* statement) {
  sqlite3* database = nullptr;
  REQUIRE(sqlite3_open(desk.path("b.ashbook").c_str(), &database) == SQLITE_OK);
  CHECK(sqlite3_exec(database, statement, nullptr, nullptr, nullptr) == SQLITE_OK);
  sqlite3_close(database);
}

}  // namespace

TEST_CASE("anInterruptedRunIsShownWithItsLastMinuteUntilItWasSeen") {
  const Desk desk;
  desk.ashg(kRun);
  sql(desk, "UPDATE run SET outcome = 'running', recorder_boot = 'another'");
  Shown shown(desk);
  auto* panel = shown.window.findChild<InterruptedPanel*>();
  REQUIRE(shown.waitFor([&] { return panel->isVisible(); }));
  CHECK(shown.text("interrupted-reason") == QStringLiteral("The machine was started anew while the run was going on."));
  auto* minute = panel->findChild<LastMinuteView*>();
  CHECK(minute->accessibleName().startsWith(QStringLiteral("The last minute: Processor temperature ")));
  CHECK(desk.open().runs()->front().info.outcome == Outcome::MachineWentDown);
  FormDriver form(shown.window);
  QTest::mouseClick(form.find<QPushButton>("interrupted-look"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.window.page() == MainWindow::Watch && shown.model().hasRun(); }));
  QTest::mouseClick(form.find<QPushButton>("interrupted-seen"), Qt::LeftButton);
  CHECK_FALSE(panel->isVisible());
}

TEST_CASE("aBookThatWasClosedInOrderShowsNoSuchPanel") {
  const Desk desk;
  desk.ashg(kRun);
  Shown shown(desk);
  REQUIRE(shown.waitFor([&] { return shown.window.desk().study() != nullptr; }));
  CHECK_FALSE(shown.window.findChild<InterruptedPanel*>()->isVisible());
}

TEST_CASE("aBookOfANewerVersionIsShownAndItsEditsAreRefused") {
  const Desk desk;
  desk.ashg(kRun);
  sql(desk, "PRAGMA user_version = 9");
  Shown shown(desk);
  QLabel* notice = shown.window.findChild<QLabel*>(QStringLiteral("notice"));
  REQUIRE(shown.waitFor([&] { return notice->text().contains(QStringLiteral("opened for reading only")); }));
  REQUIRE(shown.waitFor([&] { return shown.window.desk().study() != nullptr; }));
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  form.type(form.find<QLineEdit>("question"), "Does it hold?");
  QTest::keyClick(form.find<QLineEdit>("question"), Qt::Key_Return);
  REQUIRE(shown.waitFor([&] { return notice->text().startsWith(QStringLiteral("Cannot")); }));
  CHECK(desk.open().studies()->front().question.empty());
}

TEST_CASE("allThatAreLeftRunOneAfterTheOther") {
  const Desk desk;
  {
    auto book = Book::create(desk.path("b.ashbook"));
    StudyPlan plan;
    plan.repeats = 2;
    plan.phases = "idle 10s, soak 1min, measure 20s";
    plan.bench = "larch12";
    plan.speed = 20;  // more than four seconds a run, where the window looks for runs of others once a second
    plan.byHand = {{"noise", "50 cm", OwedReading::When::Settled}};
    Study study;
    study.name = "s";
    study.plan = planToJson(plan);
    study.setups = {{"solid"}, {"mesh"}};
    study.loads = {{"vector", {{"kind", "vector"}}}};
    REQUIRE(book->putStudy(Study(), study));
  }
  Shown shown(desk);
  REQUIRE(shown.waitFor([&] { return shown.window.desk().study() != nullptr; }));
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  FormDriver form(shown.window);
  auto* confirm = form.find<QPushButton>("confirm-change");
  if (confirm->isVisible()) QTest::mouseClick(confirm, Qt::LeftButton);
  auto* queue = form.find<QPushButton>("plan-queue");
  REQUIRE(shown.waitFor([&] { return queue->isVisible() && queue->isEnabled(); }));
  QTest::mouseClick(queue, Qt::LeftButton);
  // The window follows a run that the queue started.
  REQUIRE(shown.waitFor([&] { return shown.window.live().isGoingOn(); }));
  const auto doneRuns = [&] {
    const auto runs = desk.open().runs();
    return std::count_if(runs->begin(), runs->end(),
                         [](const RunSummary& run) { return run.info.outcome == Outcome::Completed; });
  };
  REQUIRE(shown.waitFor([&] { return doneRuns() == 4; }));
  // Nobody typed the noise: the runs stay open and say so.
  REQUIRE(shown.waitFor([&] {
    return cellWords(shown.window.desk(), "solid", "vector").lines.contains(QStringLiteral("open, 2 still to take"));
  }));
}

TEST_CASE("aRuleEndsTheLoadWhileTheWindowStandsStill") {
  const Bench bench;
  bench.write("root/proc/stat", "cpu  100 0 100 800 0 0 0 0 0 0\n");
  bench.write("root/sys/class/hwmon/hwmon0/name", "k10temp\n");
  const std::string sensor = bench.write("root/sys/class/hwmon/hwmon0/temp1_input", "45000\n");
  bench.write("root/sys/class/hwmon/hwmon0/temp1_label", "Tctl\n");
  const pid_t recorder =
      bench.start({"run", "--book", "b.ashbook", "--study", "s", "--setup", "x", "--root", "root", "--threads", "1",
                   "--interval", "0.1", "--phases", "soak 60s", "--stop-rule", "cpu.temp > 90 for 1s"});
  REQUIRE(Bench::waitUntil([] { return activeLoads().size() == 1; }, 10));
  const int load = activeLoads()[0].pid;
  const pid_t window = fork();
  if (window == 0) {
    execl(ASH_GAUGE_PROGRAM, ASH_GAUGE_PROGRAM, bench.path("b.ashbook").c_str(), nullptr);
    _exit(127);
  }
  std::this_thread::sleep_for(std::chrono::seconds(2));
  REQUIRE(isRunning(window));
  kill(window, SIGSTOP);
  std::ofstream(sensor) << "95000\n";
  const double hotS = monotonicS();
  CHECK(Bench::waitUntil([&] { return !isRunning(load); }, 5));
  const double tookS = monotonicS() - hotS;
  WARN("95 °C for 1 s, window stopped: the load was gone after " << tookS << " s");
  // A second for the rule, two intervals, and what ending a process takes.
  CHECK(tookS < 2);
  CHECK(Bench::wait(recorder, 5) == 1);
  kill(window, SIGKILL);
  waitpid(window, nullptr, 0);
}
