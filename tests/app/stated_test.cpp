// SPDX-License-Identifier: GPL-3.0-or-later
// What is expected of a setup, typed on Plan, shown beside what came out, taken back and undone.
#include <QListWidget>
#include <catch2/catch.hpp>

#include "app/plan/plan_grid.h"
#include "app/standings/rank_view.h"
#include "tests/support/panel_book.h"

using namespace ash;
using namespace ash::tests;

namespace {

struct ShownStated : ShownPanels {
  using ShownPanels::ShownPanels;
  const std::vector<StatedFigure>& stated() { return desk().plan().stated; }
  void say(const QString& words) {
    auto* line = find<QLineEdit>("state");
    line->setFocus();
    QTest::keyClick(line, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(line, words);
    QTest::keyClick(line, Qt::Key_Return);
  }
  QString cell(const QString& head, const QString& row) {
    auto* table = find<QTableWidget>("figures");
    int column = -1;
    for (int c = 0; c < table->columnCount(); ++c) {
      if (table->horizontalHeaderItem(c)->text() == head) column = c;
    }
    for (int r = 0; r < table->rowCount(); ++r) {
      const auto* first = table->item(r, 0);
      if (first != nullptr && first->text().trimmed() == row && column > 0 && table->item(r, column) != nullptr)
        return table->item(r, column)->text();
    }
    return QStringLiteral("none");
  }
};

}  // namespace

TEST_CASE("anExpectationIsTypedDatedAndShownBesideWhatCameOut") {
  const PanelBook book;
  ShownStated shown(book);
  shown.say(QStringLiteral("CPU over room hot"));
  CHECK(shown.stated().empty());
  CHECK(shown.find<QLabel>("state-problem")->isVisible());
  CHECK(shown.text("state-problem").contains(QStringLiteral("44 to 48")));
  shown.say(QStringLiteral("CPU over room 1 to 500 K"));
  REQUIRE(shown.stated().size() == 1);
  CHECK(shown.stated()[0].setup == "solid");
  CHECK(shown.stated()[0].written.size() > 10);
  CHECK_FALSE(shown.find<QLabel>("state-problem")->isVisible());
  auto* list = shown.find<QListWidget>("stated");
  REQUIRE(list->count() == 1);
  CHECK(list->item(0)->text().contains(QStringLiteral("expected: CPU over room 1 to 500")));
  CHECK(list->item(0)->toolTip().contains(QStringLiteral("after the first run")));
  shown.say(QStringLiteral("claimed by the maker: CPU over room 2 K"));
  REQUIRE(shown.stated().size() == 2);
  shown.go(MainWindow::Standings);
  REQUIRE(shown.waitFor([&] { return shown.cell("solid", "claimed by the maker") == QStringLiteral("2"); }));
  CHECK(shown.cell("solid", "expected") == QStringLiteral("1–500"));
  auto* rank = shown.find<RankView>("rank");
  CHECK(rank->accessibleDescription().contains(QStringLiteral("claimed by the maker 2")));
}

TEST_CASE("anUndoDoesNotUnsayWhatWasSaidWithAResultThere") {
  const PanelBook book;
  ShownStated shown(book);
  shown.say(QStringLiteral("CPU over room 1 to 2 K"));
  REQUIRE(shown.stated().size() == 1);
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.stated().size() == 1);
  CHECK_FALSE(shown.stated()[0].takenBack.empty());
  // And it is in the book.
  CHECK(shown.waitFor([&] {
    const StudyPlan plan = planFromJson(book.open().studies()->front().plan);
    return plan.stated.size() == 1 && !plan.stated[0].takenBack.empty();
  }));
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  REQUIRE(shown.stated().size() == 1);
  CHECK(shown.stated()[0].takenBack.empty());
}

TEST_CASE("whatIsBeingTypedOfASetupWaitsThere") {
  const PanelBook book;
  ShownStated shown(book);
  auto* line = shown.find<QLineEdit>("state");
  line->setFocus();
  QTest::keyClicks(line, QStringLiteral("CPU over room 44"));
  auto* grid = shown.window.findChild<PlanGrid*>();
  grid->setFocus();
  QTest::keyClick(grid, Qt::Key_Down);
  CHECK(line->text().isEmpty());
  QTest::keyClick(grid, Qt::Key_Up);
  CHECK(line->text() == QStringLiteral("CPU over room 44"));
  CHECK(shown.stated().empty());
}

TEST_CASE("whatWasSaidWithAResultThereIsTakenBackInSightAndUndone") {
  const PanelBook book;
  ShownStated shown(book);
  shown.say(QStringLiteral("CPU over room 1 to 2 K"));
  REQUIRE(shown.stated().size() == 1);
  auto* list = shown.find<QListWidget>("stated");
  list->setFocus();
  list->setCurrentRow(0);
  QTest::keyClick(list, Qt::Key_Delete);
  REQUIRE(shown.stated().size() == 1);
  CHECK_FALSE(shown.stated()[0].takenBack.empty());
  CHECK(list->item(0)->text().contains(QStringLiteral("taken back")));
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  CHECK(shown.stated()[0].takenBack.empty());
  // A setup takes what was said of it along under its new name.
  auto* name = shown.find<QLineEdit>("setup-name");
  name->setFocus();
  QTest::keyClick(name, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(name, QStringLiteral("closed"));
  QTest::keyClick(name, Qt::Key_Return);
  CHECK(shown.stated()[0].setup == "closed");
}
