// SPDX-License-Identifier: GPL-3.0-or-later
// A study that runs until decided, on the Plan: what it costs, the switch, and that it stops by itself.
#include <QCheckBox>
#include <QLabel>
#include <QSpinBox>
#include <catch2/catch.hpp>

#include "app/plan/cell_words.h"
#include "app/plan/next_panel.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::FormDriver;
using tests::PanelBook;
using tests::ShownPanels;

TEST_CASE("thePlanSaysWhatItsRepeatsTellAndStopsWhenThatIsDecided") {
  const PanelBook book;  // two panels, kelvins apart, two repeats each
  ShownPanels shown(book);
  shown.go(0);
  auto* outlook = shown.find<QLabel>("outlook");
  REQUIRE(shown.waitFor([&] { return outlook->isVisible(); }));
  CHECK(outlook->text().startsWith(QStringLiteral("3 repeats tell ")));
  CHECK(outlook->text().contains(QStringLiteral("(6 runs, about ")));
  CHECK(outlook->toolTip().contains(QStringLiteral("of 4 runs of this study)")));
  auto* next = shown.window.findChild<NextPanel*>();
  REQUIRE(next != nullptr);
  REQUIRE(next->next());
  CHECK(shown.desk().runsToDo().size() == 2);
  auto* until = shown.find<QCheckBox>("until-decided");
  QTest::mouseClick(until, Qt::LeftButton, {}, QPoint(8, until->height() / 2));
  CHECK(shown.desk().plan().isUntilDecided);
  CHECK(shown.find<QSpinBox>("repeats")->text() == QStringLiteral("≤ 3"));
  REQUIRE(shown.waitFor([&] { return shown.desk().runsToDo().empty(); }));
  CHECK(shown.desk().savedRuns() == 2);
  CHECK(cellWords(shown.desk(), "mesh", "vector").lines.contains(QStringLiteral("decided after 2")));
  REQUIRE(shown.waitFor([&] { return !next->next(); }));
  // Taken back, all repeats are wanted again.
  shown.desk().undoStack().undo();
  CHECK_FALSE(until->isChecked());
  CHECK(shown.desk().runsToDo().size() == 2);
  REQUIRE(next->next());
}
