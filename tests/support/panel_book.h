// SPDX-License-Identifier: GPL-3.0-or-later
// A book with a small finished study: two panels, two repeats each, on the simulated bench.
#pragma once

#include <QPointer>
#include <QTableWidget>

#include "app/plan/plan_station.h"
#include "tests/support/desk.h"

namespace ash::tests {

struct PanelBook : Desk {
  PanelBook() {
    for (const char* setup : {"solid", "mesh"}) {
      for (const char* seed : {"1", "2"})
        ashg(std::string("run --book b.ashbook --study panels --setup ") + setup +
             " --sim larch12 --speed 100000 --seed " + seed +
             " --phases 'idle 1min, soak settled 8min..40min, measure 4min, cool 1min'");
    }
  }
};

/// The window with that book, its figures worked out.
struct ShownPanels : Shown {
  explicit ShownPanels(const PanelBook& book) : Shown(book) {
    REQUIRE(waitFor([&] { return window.desk().report() && window.desk().report()->runs.size() == 4; }));
  }
  StudyDesk& desk() { return window.desk(); }
  void go(int station) { QTest::keyClick(&window, static_cast<Qt::Key>(Qt::Key_1 + station), Qt::ControlModifier); }
  template <typename T>
  T* find(const char* name) {
    T* widget = window.template findChild<T*>(QLatin1String(name));
    REQUIRE(widget != nullptr);
    return widget;
  }
  /// Opens a table's cell by F2, types into it, ends with Enter.
  void typeCell(QTableWidget* table, int row, int column, const QString& words) {
    table->setFocus();
    table->setCurrentCell(row, column);
    QTest::keyClick(table, Qt::Key_F2);
    const QPointer<QLineEdit> editor = qobject_cast<QLineEdit*>(QApplication::focusWidget());
    REQUIRE(editor != nullptr);
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(editor, words);
    QTest::keyClick(editor, Qt::Key_Return);
    // A cell is taken a moment after the table has closed its editor.
    REQUIRE(waitFor([&] { return editor.isNull(); }, 5000));
    for (int turn = 0; turn < 5; ++turn) QTest::qWait(10);
  }
};

}  // namespace ash::tests
