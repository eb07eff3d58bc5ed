// SPDX-License-Identifier: GPL-3.0-or-later
// The Readings page on the real window, driven by keys and mouse, on a stand-in machine.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QProcess>
#include <QTableWidget>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/readings/bench_rows.h"
#include "app/readings/which_one_panel.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;

namespace {

const QString kVrm = QStringLiteral("sys/devices/platform/board.656/hwmon/hwmon*/temp1_input");
const QString kCase = QStringLiteral("sys/devices/platform/board.656/hwmon/hwmon*/temp2_input");

/// A window on a stand-in machine that moves twenty times as fast as time, with the Readings page open.
struct OnStandIn {
  explicit OnStandIn(const Desk& desk) {
    machine.start(QStringLiteral(ASHG_PROGRAM),
                  {"stand-in", "machine", "--dir", QString::fromStdString(desk.path("root")), "--speed", "20"});
    REQUIRE(QTest::qWaitFor([&] { return std::filesystem::exists(desk.path("root/proc/stat")); }, 5'000));
    window =
        std::make_unique<MainWindow>(QStringLiteral(ASHG_PROGRAM), nullptr, QString::fromStdString(desk.path("root")));
    window->resize(1280, 800);
    window->openBook(desk.book());
    window->show();
    REQUIRE(QTest::qWaitFor([&] { return window->desk().hasBook(); }, 10'000));
    QTest::keyClick(window.get(), Qt::Key_6, Qt::ControlModifier);
    REQUIRE(QTest::qWaitFor([&] { return window->findChild<BenchRows*>() != nullptr; }, 5'000));
    rows = window->findChild<BenchRows*>();
    REQUIRE(QTest::qWaitFor([&] { return !rows->rowOf(kVrm).isEmpty(); }, 10'000));
  }
  ~OnStandIn() {
    window.reset();
    machine.terminate();
    machine.waitForFinished(5'000);
  }
  void click(const QString& id) { QTest::mouseClick(rows, Qt::LeftButton, {}, rows->rowOf(id).center()); }

  QProcess machine;
  std::unique_ptr<MainWindow> window;
  BenchRows* rows = nullptr;
};

}  // namespace

TEST_CASE("whatAReadingMeansIsSaidOnThePageAndKeptInTheBook") {
  const Desk desk;
  OnStandIn on(desk);
  on.click(kCase);
  REQUIRE(on.rows->selected() != nullptr);
  CHECK(on.rows->selected()->reading.role == "case.temp");
  FormDriver form(*on.window);
  auto* keep = form.find<QPushButton>("reading-keep");
  CHECK_FALSE(keep->isEnabled());  // nothing was changed
  form.choose(form.find<QComboBox>("reading-role"), "Exhaust air");
  form.type(form.find<QLineEdit>("reading-limit"), "48,5");
  REQUIRE(keep->isEnabled());
  QTest::mouseClick(keep, Qt::LeftButton);
  REQUIRE(QTest::qWaitFor(
      [&] { return on.rows->selected() != nullptr && on.rows->selected()->reading.role == "exhaust.temp"; }, 8'000));
  CHECK(on.rows->selected()->reading.limits.at("throttle") == 48.5);
  CHECK(on.rows->selected()->reading.origins.at("throttle") == "typed");
  const auto kept = desk.open().readingChoices("Larch 12 / Larch 12 board");
  REQUIRE(kept);
  CHECK(kept->at(kCase.toStdString()).role == "exhaust.temp");
  QTest::mouseClick(form.find<QPushButton>("reading-forget"), Qt::LeftButton);
  REQUIRE(QTest::qWaitFor(
      [&] { return on.rows->selected() != nullptr && on.rows->selected()->reading.role == "case.temp"; }, 8'000));
  CHECK(desk.open().readingChoices("Larch 12 / Larch 12 board")->empty());
}

TEST_CASE("rowsAreWalkedByKeysFoundBySearchAndTakenOutOfTheLog") {
  const Desk desk;
  OnStandIn on(desk);
  on.rows->setFocus();
  // The processor is where the heat begins, and its hottest core has the least left, once it has been read.
  REQUIRE(QTest::qWaitFor(
      [&] {
        on.rows->select({});
        QTest::keyClick(on.rows, Qt::Key_Down);
        return on.rows->selected() != nullptr && on.rows->selected()->reading.role == "cpu.temp";
      },
      5'000));
  const std::string first = on.rows->selected()->reading.id;
  QTest::keyClick(on.rows, Qt::Key_Down);
  CHECK(on.rows->selected()->reading.id != first);
  QTest::keyClick(on.rows, Qt::Key_Up);
  CHECK(on.rows->selected()->reading.id == first);
  auto* search = on.window->findChild<QLineEdit*>(QStringLiteral("reading-search"));
  const int all = on.rows->rowCount();
  QTest::keyClick(on.rows, Qt::Key_F, Qt::ControlModifier);
  QTest::keyClicks(search, "regulators no such");
  CHECK(on.rows->rowCount() == 0);
  search->clear();
  QTest::keyClicks(search, "vrm");
  CHECK(on.rows->rowCount() == 1);
  CHECK_FALSE(on.rows->rowOf(kVrm).isEmpty());
  search->clear();
  CHECK(on.rows->rowCount() == all);
  // Space takes the selected reading out of the log: it stays in the list of all.
  on.click(kVrm);
  QTest::keyClick(on.rows, Qt::Key_Space);
  REQUIRE(QTest::qWaitFor([&] { return on.rows->rowOf(kVrm).isEmpty(); }, 8'000));
  CHECK(desk.open().readingChoices("Larch 12 / Larch 12 board")->at(kVrm.toStdString()).isHidden);
  on.rows->setFilter(RowFilter::All);
  CHECK_FALSE(on.rows->rowOf(kVrm).isEmpty());
  on.click(kVrm);
  CHECK(on.rows->selected()->isHidden);
  QTest::keyClick(on.rows, Qt::Key_Space);
  CHECK(QTest::qWaitFor([&] { return on.rows->selected() != nullptr && !on.rows->selected()->isHidden; }, 8'000));
}

TEST_CASE("warmingTellsWhatAReadingMostLikelyIs") {
  const Desk desk;
  OnStandIn on(desk);
  auto* warm = on.window->findChild<QPushButton*>(QStringLiteral("warm"));
  REQUIRE(warm != nullptr);
  CHECK_FALSE(warm->isEnabled());  // of which one?
  on.click(kVrm);
  REQUIRE(warm->isEnabled());
  QTest::mouseClick(warm, Qt::LeftButton);
  CHECK_FALSE(warm->isEnabled());
  auto* likely = on.window->findChild<QLabel*>(QStringLiteral("most-likely"));
  REQUIRE(QTest::qWaitFor([&] { return likely->isVisible(); }, 60'000));
  INFO(likely->text().toStdString());
  // Warmed for eight seconds of twenty each, the regulators follow the processor; air and room could not.
  CHECK_FALSE(likely->text().contains("Not to be told"));
  CHECK_FALSE(likely->text().contains("Air at the intake"));
  CHECK(on.window->findChild<MovedList*>()->count() >= 4);
  CHECK(warm->isEnabled());
}

TEST_CASE("whatIsNotReadIsToldWithItsReason") {
  const Desk desk;
  const std::string zone = "root/sys/class/thermal/thermal_zone0";
  desk.write(zone + "/type", "radio\n");
  desk.write(zone + "/temp", "\n");
  desk.write("root/proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  MainWindow window(QStringLiteral(ASHG_PROGRAM), nullptr, QString::fromStdString(desk.path("root")));
  window.show();
  REQUIRE(QTest::qWaitForWindowExposed(&window));
  QTest::keyClick(&window, Qt::Key_6, Qt::ControlModifier);
  REQUIRE(QTest::qWaitFor([&] { return window.findChild<QPushButton*>(QStringLiteral("skipped-toggle")) != nullptr; },
                          5'000));
  auto* toggle = window.findChild<QPushButton*>(QStringLiteral("skipped-toggle"));
  auto* table = window.findChild<QTableWidget*>(QStringLiteral("skipped"));
  REQUIRE(QTest::qWaitFor([&] { return table->rowCount() == 1; }, 8'000));
  CHECK_FALSE(table->isVisible());
  QTest::mouseClick(toggle, Qt::LeftButton);
  CHECK(table->isVisible());
  CHECK(table->item(0, 1)->text() == "holds no number");
  // Without a book nothing that is said can be kept.
  CHECK_FALSE(window.findChild<QPushButton*>(QStringLiteral("reading-keep"))->isEnabled());
}
