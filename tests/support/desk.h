// SPDX-License-Identifier: GPL-3.0-or-later
// A folder with a book, and the real window shown with it.
#pragma once

#include <QClipboard>
#include <QLabel>
#include <QTest>
#include <catch2/catch.hpp>
#include <cstdlib>

#include "app/shell/main_window.h"
#include "app/watch/watch_station.h"
#include "book/book.h"
#include "tests/support/form_driver.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

struct Desk : TempFolder {
  QString book() const { return QString::fromStdString(path("b.ashbook")); }
  Book open() const { return std::move(*Book::open(path("b.ashbook"), BookAccess::ReadOnly)); }
  /// Runs `ashg` in the folder; the run is in the book when it returns.
  void ashg(const std::string& arguments) const {
    const std::string command = "cd '" + path() + "' && '" + ASHG_PROGRAM + "' " + arguments + " >/dev/null 2>.err";
    const int raw = std::system(command.c_str());
    INFO(readFile(path(".err")));
    REQUIRE(raw == 0);
  }
};

/// With one short run of a study in the book.
struct ShortRun : Desk {
  ShortRun() { ashg("run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'soak 1min'"); }
};

/// A shown window with a book.
struct Shown {
  explicit Shown(const Desk& desk) : window(QStringLiteral(ASHG_PROGRAM)) {
    window.resize(1280, 800);
    window.openBook(desk.book());
    window.show();
    REQUIRE(QTest::qWaitForWindowExposed(&window));
    REQUIRE(waitFor([&] { return window.windowTitle().startsWith(QStringLiteral("b ")); }));
  }
  template <typename F>
  static bool waitFor(F condition, int patienceMs = 30'000) {
    return QTest::qWaitFor(condition, patienceMs);
  }
  LiveModel& model() { return window.watch()->model(); }
  QString text(const char* label) {
    const auto* found = window.findChild<QLabel*>(QLatin1String(label));
    INFO(label);
    REQUIRE(found != nullptr);
    return found->text();
  }

  MainWindow window;
};

}  // namespace ash::tests
