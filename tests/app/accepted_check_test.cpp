// SPDX-License-Identifier: GPL-3.0-or-later
#include <QTableWidget>
#include <catch2/catch.hpp>

#include "report/markup/markup.h"
#include "report/page_blocks.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::PanelBook;

// A check is looked at and accepted for a reason; it stays in the list and goes onto the page with it.
TEST_CASE("aCheckIsAcceptedForAReasonAndStays") {
  const PanelBook book;
  book.ashg(
      "run --book b.ashbook --study panels --setup mesh --sim larch12 --speed 100000 --seed 9 --phases 'soak 30s' "
      "--stop-rule 'cpu.temp > 40 for 1s' || true");
  tests::Shown shown(book);
  StudyDesk& desk = shown.window.desk();
  REQUIRE(shown.waitFor([&] { return desk.report() && desk.report()->runs.size() == 5; }));
  shown.window.goTo(MainWindow::Standings);
  auto* checks = shown.window.findChild<QTableWidget*>(QStringLiteral("checks"));
  const int count = checks->rowCount();
  REQUIRE(count > 0);
  const QString found = checks->item(0, 2)->text(), effect = checks->item(0, 4)->text();
  const auto type = [&](const char* words) {
    checks->setFocus();
    checks->setCurrentCell(0, 4);
    QTest::keyClick(checks, Qt::Key_F2);
    const QPointer<QLineEdit> editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    REQUIRE(editor != nullptr);
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    if (*words == 0)
      QTest::keyClick(editor, Qt::Key_Delete);
    else
      QTest::keyClicks(editor, QLatin1String(words));
    QTest::keyClick(editor, Qt::Key_Return);
    REQUIRE(shown.waitFor([&] { return editor.isNull(); }, 5000));
    for (int turn = 0; turn < 5; ++turn) QTest::qWait(10);
  };
  type("it was meant to stop");
  REQUIRE(desk.plan().accepted.size() == 1);
  CHECK(desk.plan().accepted[0].reason == "it was meant to stop");
  CHECK(desk.plan().accepted[0].when.size() > 10);
  CHECK(checks->rowCount() == count);
  CHECK(checks->item(0, 2)->text() == found);
  CHECK(checks->item(0, 4)->text() == QStringLiteral("accepted: it was meant to stop"));
  // On the page, beside what was found.
  StudyReport report = *desk.report();
  report.plan = desk.plan();
  const std::string page = htmlPage(report);
  const size_t at = page.find(escaped(found.toStdString()));
  REQUIRE(at != std::string::npos);
  CHECK(page.substr(at + escaped(found.toStdString()).size(), 35).find("accepted by the tester") != std::string::npos);
  // Opened and closed as it is: nothing changes. Another reason takes its place, none takes it back.
  type("accepted: it was meant to stop");
  CHECK(desk.plan().accepted[0].reason == "it was meant to stop");
  type("by hand");
  REQUIRE(desk.plan().accepted.size() == 1);
  CHECK(desk.plan().accepted[0].reason == "by hand");
  type("");
  CHECK(desk.plan().accepted.empty());
  CHECK(checks->item(0, 4)->text() == effect);
  desk.undoStack().undo();
  CHECK(desk.plan().accepted.size() == 1);
}
