// SPDX-License-Identifier: GPL-3.0-or-later
// The Plan station by key and mouse: conditions, setups, procedure, the next run.
#include <QListWidget>
#include <QMenu>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/plan/cell_words.h"
#include "app/plan/next_panel.h"
#include "app/plan/plan_grid.h"
#include "app/study/run_column.h"
#include "model/load_way.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::PanelBook;
using tests::ShownPanels;

TEST_CASE("conditionsAreHeldChangedAndDroppedInTheTable") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  auto* held = shown.find<QTableWidget>("held");
  REQUIRE(held->rowCount() == 1);  // the row that adds
  shown.typeCell(held, 0, 0, "Fan duty");
  REQUIRE(shown.desk().plan().held.size() == 1);
  CHECK(shown.desk().plan().held[0].field == "fan_duty");
  CHECK(shown.desk().plan().held[0].target == 60);  // as the reference has it
  CHECK(held->item(0, 2)->text() == QStringLiteral("exact"));
  shown.typeCell(held, 0, 1, "55 %");
  CHECK(shown.desk().plan().held[0].target == 55);
  shown.typeCell(held, 0, 2, "± 2");
  CHECK(shown.desk().plan().held[0].tolerance == 2);
  CHECK(held->item(0, 2)->text() == QStringLiteral("± 2\u202F%"));
  shown.typeCell(held, 0, 2, "exact");
  CHECK(std::isnan(shown.desk().plan().held[0].tolerance));
  shown.typeCell(held, 0, 0, " ");
  CHECK(shown.desk().plan().held.empty());
  shown.desk().undoStack().undo();
  CHECK(shown.desk().plan().held.size() == 1);
}

TEST_CASE("stepsAreChangedCardByCardAndTheTextFollows") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  shown.desk().edit(QStringLiteral("start"), [](Study&, StudyPlan& plan) {
    plan.phases = "idle 1min, soak settled 8min..40min, measure 4min, cool 1min";
  });
  auto* boxes = form.find<QWidget>("step-boxes");
  const auto phases = [&] { return shown.desk().plan().phases; };
  boxes->setFocus();
  QTest::keyClick(boxes, Qt::Key_Home);
  QTest::keyClick(boxes, Qt::Key_Right);
  QTest::keyClick(boxes, Qt::Key_Plus);
  CHECK(phases() == "idle 1min, soak settled 8min..40min, measure 5min, measure 4min, cool 1min");
  // The card that was added is the selected one.
  QTest::keyClick(boxes, Qt::Key_Right, Qt::AltModifier);
  CHECK(phases() == "idle 1min, soak settled 8min..40min, measure 4min, measure 5min, cool 1min");
  QTest::keyClick(boxes, Qt::Key_Delete);
  CHECK(phases() == "idle 1min, soak settled 8min..40min, measure 4min, cool 1min");
  shown.desk().undoStack().undo();
  CHECK(phases() == "idle 1min, soak settled 8min..40min, measure 4min, measure 5min, cool 1min");
  // Enter opens the text with the step selected, which typing replaces.
  QTest::keyClick(boxes, Qt::Key_Home);
  QTest::keyClick(boxes, Qt::Key_Right);
  QTest::keyClick(boxes, Qt::Key_Return);
  auto* line = form.find<QLineEdit>("plan-phases");
  CHECK(line->selectedText() == QStringLiteral("soak settled 8min..40min"));
  QTest::keyClicks(line, "soak 20min");
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(phases() == "idle 1min, soak 20min, measure 4min, measure 5min, cool 1min");
}

TEST_CASE("phasesAreKeptUnderANameAndChosenAgain") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  QTest::mouseClick(form.find<QPushButton>("change-phases"), Qt::LeftButton);
  auto* line = form.find<QLineEdit>("plan-phases");
  form.type(line, QStringLiteral("idle 2min, soak 9min"));
  auto* name = form.find<QLineEdit>("procedure-name");
  form.type(name, QStringLiteral("short look"));
  QTest::keyClick(name, Qt::Key_Return);
  REQUIRE(shown.waitFor([&] { return !shown.desk().procedures().empty(); }));
  CHECK(shown.desk().procedures()[0].name == "short look");
  CHECK(book.open().procedure("short look")->text == "idle 2min, soak 9min");
  form.type(line, QStringLiteral("idle 1min"));
  QMenu* menu = form.find<QPushButton>("phase-presets")->menu();
  emit menu->aboutToShow();
  REQUIRE_FALSE(menu->actions().isEmpty());
  CHECK(menu->actions()[0]->text() == QStringLiteral("short look, version 1 of this book"));
  menu->actions()[0]->trigger();
  CHECK(line->text() == QStringLiteral("idle 2min, soak 9min"));
}

TEST_CASE("aSetupIsGivenAWayOfItsOwnToCarryALoadOut") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  auto* way = form.find<QLineEdit>("way");
  auto* problem = form.find<QLabel>("way-problem");
  const auto spec = [&](const char* setup) { return wayOf(shown.desk().study()->loads[0], setup); };
  const auto enter = [&](const QString& words) {
    form.type(way, words);
    QTest::keyClick(way, Qt::Key_Return);
  };
  const std::string first = shown.desk().study()->setups[0].name;
  CHECK(way->text().isEmpty());
  CHECK(way->placeholderText() == QStringLiteral("vector here: as in every setup (vector)"));
  enter(QStringLiteral("steam work=3"));
  CHECK(problem->isVisible());
  CHECK(problem->text().contains(QStringLiteral("steam")));
  CHECK(spec(first.c_str()).empty());
  enter(QStringLiteral("graphics work=900"));
  CHECK_FALSE(problem->isVisible());
  CHECK(spec(first.c_str())["kind"] == "graphics");
  CHECK(cellWords(shown.desk(), first, "vector").lines.contains(QStringLiteral("by graphics")));
  // The other setup does as before; the way follows its setup's name.
  CHECK(spec(shown.desk().study()->setups[1].name.c_str()).empty());
  auto* name = form.find<QLineEdit>("setup-name");
  form.type(name, QStringLiteral("renamed"));
  QTest::keyClick(name, Qt::Key_Return);
  CHECK(spec("renamed")["kind"] == "graphics");
  shown.desk().undoStack().undo();
  CHECK(spec(first.c_str())["kind"] == "graphics");
  CHECK(way->text() == QStringLiteral("graphics work=900"));
  way->setFocus();
  QTest::keyClick(way, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClick(way, Qt::Key_Delete);
  QTest::keyClick(way, Qt::Key_Return);
  CHECK(spec(first.c_str()).empty());
  shown.desk().undoStack().undo();
  CHECK(spec(first.c_str())["kind"] == "graphics");
}

TEST_CASE("linesOfThePlanRefuseWhatTheyCannotTakeWithAReason") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  auto* problem = shown.find<QLabel>("plan-problem");
  const auto enter = [&](const char* field, const char* words) {
    form.type(form.find<QLineEdit>(field), words);
    QTest::keyClick(form.find<QLineEdit>(field), Qt::Key_Return);
  };
  enter("margin", "half");
  CHECK(problem->text().contains(QStringLiteral("number in K")));
  CHECK_FALSE(shown.desk().plan().marginK);
  enter("margin", "0,5 K");
  CHECK(problem->text().isEmpty());
  CHECK(shown.desk().plan().marginK == 0.5);
  enter("scatter", "some");
  CHECK(problem->text().contains(QStringLiteral("The scatter")));
  CHECK_FALSE(shown.desk().plan().repeatabilityK);
  enter("scatter", "0.3");
  CHECK(problem->text().isEmpty());
  CHECK(shown.desk().plan().repeatabilityK == 0.3);
  enter("stop-rules", "cpu.temp above 90");
  CHECK_FALSE(problem->text().isEmpty());
  CHECK(shown.desk().plan().stopRules.empty());
  enter("stop-rules", "cpu.temp > 98 for 3s, throttled > 20% of 60s");
  CHECK(shown.desk().plan().stopRules.size() == 2);
  enter("by-hand", "loudness");
  CHECK(problem->text().contains(QStringLiteral("loudness")));
  enter("by-hand", "noise 50 cm ±1.5, wall ±1 % at rest");
  REQUIRE(shown.desk().plan().byHand.size() == 2);
  CHECK(shown.desk().plan().byHand[0].plusMinus == 1.5);
  CHECK(shown.desk().plan().byHand[1].percent == 1);
  enter("under-test", "Panel, fan duty");
  CHECK(shown.desk().plan().underTest == std::vector<std::string>{"panel", "fan_duty"});
}

TEST_CASE("aSetupIsDuplicatedAndOneFieldChanged") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  auto* grid = shown.find<PlanGrid>("plan-grid");
  grid->setFocus();
  QTest::keyClick(grid, Qt::Key_Down);
  CHECK(grid->setup() == 1);
  QTest::mouseClick(shown.find<QPushButton>("duplicate-setup"), Qt::LeftButton);
  REQUIRE(shown.desk().study()->setups.size() == 3);
  CHECK(grid->setup() == 2);
  CHECK(shown.desk().study()->setups[2].name == "mesh, copy");
  auto* fields = shown.find<QTableWidget>("setup-fields");
  // Only what differs from the reference stands there: the panel.
  REQUIRE(fields->rowCount() == 2);
  CHECK(fields->item(0, 0)->text() == QStringLiteral("Panel"));
  shown.typeCell(fields, 0, 1, "perforated");
  CHECK(shown.desk().study()->setups[2].conditions["panel"] == "perforated");
  shown.typeCell(fields, 1, 0, "Paste");
  CHECK(shown.desk().study()->setups[2].conditions.contains("paste"));
  // It has no runs: it can be removed; the others cannot.
  auto* remove = shown.find<QPushButton>("remove-setup");
  REQUIRE(remove->isVisible());
  QTest::mouseClick(remove, Qt::LeftButton);
  CHECK(shown.desk().study()->setups.size() == 2);
  CHECK_FALSE(remove->isVisible());
}

TEST_CASE("theProcedureIsChangedInItsOwnGrammar") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  FormDriver form(shown.window);
  auto* change = shown.find<QPushButton>("change-phases");
  auto* line = shown.find<QLineEdit>("plan-phases");
  QTest::mouseClick(change, Qt::LeftButton);
  form.type(line, "soak forever");
  const std::string before = shown.desk().plan().phases;
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(shown.desk().plan().phases == before);
  CHECK(line->isVisible());  // it stays open with its reason
  form.type(line, "idle 2min, soak settled 5min..20min, measure 5min");
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(shown.desk().plan().phases == "idle 2min, soak settled 5min..20min, measure 5min");
  CHECK_FALSE(line->isVisible());
}

TEST_CASE("theNextRunAsksForTheChangeByHandFirst") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  auto* start = shown.find<QPushButton>("plan-start");
  auto* confirm = shown.find<QPushButton>("confirm-change");
  // Two repeats of three are done; the order goes on with the setup that is fitted, or asks for the other one.
  REQUIRE(shown.waitFor([&] { return shown.window.plan()->nextPanel()->next().has_value(); }));
  CHECK(shown.window.plan()->nextPanel()->next()->setup == "solid");
  CHECK(confirm->isVisible());
  CHECK_FALSE(start->isEnabled());
  QTest::mouseClick(confirm, Qt::LeftButton);
  CHECK(start->isEnabled());
  CHECK_FALSE(confirm->isVisible());
  // Another cell may be taken before the order.
  shown.window.plan()->showCell("mesh", "vector");
  QTest::mouseClick(shown.find<QPushButton>("run-this-cell"), Qt::LeftButton);
  CHECK(shown.window.plan()->nextPanel()->next()->setup == "mesh");
  CHECK(shown.window.plan()->nextPanel()->next()->repeat == 3);
  CHECK(start->isEnabled());  // mesh was run last: nothing to change
  CHECK(shown.window.plan()->request().setup == QStringLiteral("mesh"));
}

TEST_CASE("aCellSaysItsFigureItsRunsAndWhatBefellThem") {
  const PanelBook book;
  ShownPanels shown(book);
  const CellWords words = cellWords(shown.desk(), "mesh", "vector");
  const auto& row = shown.desk().report()->loads[0].comparison.rows[1];
  CHECK(row.setup == "mesh");
  CHECK(words.figure.startsWith(QString::number(row.metrics.at("cpu.over_ambient_k").value, 'f', 1)));
  CHECK(words.lines.first() == QStringLiteral("2 of 3 done"));
  CHECK_FALSE(words.isHot);
  const look::ColumnSpec column = columnOfRun(shown.desk(), shown.desk().runs()[0]);
  CHECK(column.state == look::ColumnState::Done);
  const auto& figures = *shown.desk().figuresOf(shown.desk().runs()[0].info.id)->figures.channel("cpu.temp");
  CHECK(column.usedK == Approx(*figures.overAmbientK).epsilon(1e-9));
  CHECK(*column.limitK == Approx(*figures.overAmbientK + *figures.headroomK).epsilon(1e-9));
  CHECK(cellWords(shown.desk(), "no such setup", "vector").figure.isEmpty());
}

TEST_CASE("aLogThatWasTakenInStandsInItsCellAsARunThatWasMade") {
  const Desk desk;
  std::string log = "time,CPU [°C],CPU power [W],Room [°C]\n";
  for (int i = 0; i < 1500; ++i)
    log += std::to_string(i) + (i < 120 ? ",40,9,22\n" : i < 600 ? ",69,88,22\n" : ",70,88,22\n");
  desk.write("mesh.csv", log);
  desk.ashg("import mesh.csv --book b.ashbook --study s --setup mesh --load vector");
  tests::Shown shown(desk);
  REQUIRE(tests::Shown::waitFor([&] { return shown.window.desk().report() != nullptr; }));
  const CellWords words = cellWords(shown.window.desk(), "mesh", "vector");
  CHECK(words.figure.startsWith(QStringLiteral("48.0")));  // 70 °C in a room of 22
  CHECK(words.lines.first() == QStringLiteral("1 of 3 done"));
  for (const QString& line : words.lines) CHECK_FALSE(line.contains(QStringLiteral("taken in")));
}
