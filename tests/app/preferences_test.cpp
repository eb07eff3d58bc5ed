// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet of preferences: by keys and mouse on the real window; each decision in force at once.
#include <QListWidget>
#include <catch2/catch.hpp>
#include <filesystem>

#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/shell/desktop.h"
#include "app/shell/settings.h"
#include "system/confirmed.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::FormDriver;
using tests::PanelBook;
using tests::ShortRun;
using tests::Shown;
using tests::ShownPanels;

namespace {

/// Settings of its own, gone afterwards.
struct OwnSettings {
  OwnSettings() {
    setenv("XDG_CONFIG_HOME", folder.path("config").c_str(), 1);
    setenv("XDG_STATE_HOME", folder.path("state").c_str(), 1);
  }
  tests::TempFolder folder;
};

QWidget* sheet(const MainWindow& window) { return window.findChild<QWidget*>(QStringLiteral("preferences")); }

}  // namespace

TEST_CASE("preferencesOpenByTheirKeyAndEscGoesBack") {
  const OwnSettings own;
  const ShortRun desk;
  Shown shown(desk);
  for (const Qt::Key station : {Qt::Key_1, Qt::Key_4, Qt::Key_6}) {
    QTest::keyClick(&shown.window, station, Qt::ControlModifier);
    QWidget* before = QApplication::focusWidget();
    QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
    REQUIRE(sheet(shown.window)->isVisible());
    // In the window, whole, and over the page.
    CHECK(sheet(shown.window)->parentWidget()->rect().contains(sheet(shown.window)->geometry()));
    const QPoint middle = sheet(shown.window)->mapTo(&shown.window, sheet(shown.window)->rect().center());
    QWidget* seen = shown.window.childAt(middle);
    CHECK((seen == sheet(shown.window) || sheet(shown.window)->isAncestorOf(seen)));
    CHECK(sheet(shown.window)->isAncestorOf(QApplication::focusWidget()));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
    CHECK_FALSE(sheet(shown.window)->isVisible());
    CHECK(QApplication::focusWidget() == before);
  }
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  QTest::keyClick(&shown.window, Qt::Key_2, Qt::ControlModifier);
  CHECK_FALSE(sheet(shown.window)->isVisible());
}

TEST_CASE("anotherAppearanceAndAnotherSizeAreInForceAtOnceWithTheSheetStillThere") {
  const OwnSettings own;
  const ShortRun desk;
  Desktop desktop(desk.book(), QStringLiteral(ASHG_PROGRAM));
  desktop.show();
  const auto isUp = [&] { return desktop.window()->desk().study() != nullptr; };
  REQUIRE(QTest::qWaitFor(isUp, 10'000));
  const int before = look::px(100);
  QTest::keyClick(desktop.window(), Qt::Key_Comma, Qt::ControlModifier);
  const auto press = [&](const char* name) {
    auto* button = desktop.window()->findChild<QPushButton*>(QString::fromUtf8(name));
    REQUIRE(button != nullptr);
    QTest::mouseClick(button, Qt::LeftButton);
  };
  press("appearance-dark");
  REQUIRE(QTest::qWaitFor([] { return look::theme().isDark; }, 5'000));
  REQUIRE(QTest::qWaitFor(isUp, 10'000));
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->showsPreferences(); }, 5'000));
  CHECK(desktop.window()->findChild<QPushButton*>(QStringLiteral("appearance-dark"))->isChecked());
  press("contrast-strong");
  REQUIRE(QTest::qWaitFor([] { return look::theme().isStrong; }, 5'000));
  CHECK(look::theme().isDark);
  REQUIRE(QTest::qWaitFor(isUp, 10'000));
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->showsPreferences(); }, 5'000));
  CHECK(desktop.window()->findChild<QPushButton*>(QStringLiteral("contrast-strong"))->isChecked());
  CHECK(Settings().hasStrongContrast());
  // A field's placeholder is writing, too.
  const auto* folder = desktop.window()->findChild<QLineEdit*>(QStringLiteral("books-folder"));
  const QColor placeholder = folder->palette().color(QPalette::PlaceholderText);
  CHECK(placeholder.alpha() == 255);
  CHECK(look::contrastRatio(placeholder, look::theme().panel) >= 7);
  press("contrast-usual");
  REQUIRE(QTest::qWaitFor([] { return !look::theme().isStrong; }, 5'000));
  REQUIRE(QTest::qWaitFor(isUp, 10'000));
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->showsPreferences(); }, 5'000));
  press("text-size-150\u202F%");
  REQUIRE(QTest::qWaitFor([&] { return look::px(100) != before; }, 5'000));
  CHECK(look::px(100) == Approx(1.5 * before).margin(1));
  REQUIRE(QTest::qWaitFor(isUp, 10'000));
  REQUIRE(QTest::qWaitFor([&] { return desktop.window()->showsPreferences(); }, 5'000));
  // Still no more than the window has.
  CHECK(desktop.window()->rect().contains(
      QRect(sheet(*desktop.window())->mapTo(desktop.window(), QPoint()), sheet(*desktop.window())->size())));
  press("text-size-as the desktop");
  REQUIRE(QTest::qWaitFor([&] { return look::px(100) == before; }, 5'000));
}

TEST_CASE("whatWasAllowedIsListedAndTakenBackByItsKey") {
  const OwnSettings own;
  const ActivePart touch{"load a", ActiveKind::Command, "touch x", {{"command", "touch x"}}};
  const ActivePart knob{"setup a", ActiveKind::Knob, "pwm1", {{"knobs", {{"pwm1", 128}}}}};
  REQUIRE(confirm({touch, knob}));
  const ShortRun desk;
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  auto* list = shown.window.findChild<QListWidget*>(QStringLiteral("allowed"));
  REQUIRE(shown.waitFor([&] { return list->count() == 2; }));
  CHECK(list->item(0)->text().endsWith(QStringLiteral("· knob · knobs.pwm1: 128")));
  CHECK(list->item(1)->text().endsWith(QStringLiteral("· command · command: touch x")));
  FormDriver form(shown.window);
  CHECK_FALSE(form.find<QPushButton>("take-back")->isEnabled());
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(1)).center());
  CHECK(form.find<QPushButton>("take-back")->isEnabled());
  QTest::keyClick(list, Qt::Key_Delete);
  REQUIRE(shown.waitFor([&] { return list->count() == 1; }));
  CHECK(unconfirmedOf({touch, knob}) == std::vector<ActivePart>{touch});
}

TEST_CASE("aNewBookIsOfferedInTheChosenFolderAndAWrongOneIsSaid") {
  const OwnSettings own;
  const ShortRun desk;
  Shown shown(desk);
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  form.type(form.find<QLineEdit>("books-folder"), "/no such folder");
  QTest::keyClick(form.find<QLineEdit>("books-folder"), Qt::Key_Return);
  CHECK(shown.text("books-folder-wrong").contains(QStringLiteral("no folder /no such folder")));
  CHECK(Settings().booksFolder() == QDir::homePath());
  std::filesystem::create_directories(desk.path("books"));
  form.type(form.find<QLineEdit>("books-folder"), desk.path("books").c_str());
  QTest::keyClick(form.find<QLineEdit>("books-folder"), Qt::Key_Return);
  CHECK_FALSE(shown.window.findChild<QLabel*>(QStringLiteral("books-folder-wrong"))->isVisible());
  CHECK(Settings().booksFolder().toStdString() == desk.path("books"));
  // Gone since: the person's own folder again.
  std::filesystem::remove(desk.path("books"));
  CHECK(Settings().booksFolder() == QDir::homePath());
}

TEST_CASE("aPriceGetsTheCurrencyOfThePreferencesWhereItsStudyHasNone") {
  const OwnSettings own;
  const PanelBook desk;
  ShownPanels shown(desk);
  FormDriver form(shown.window);
  shown.go(0);
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  form.type(form.find<QLineEdit>("currency"), "CHF");
  QTest::keyClick(form.find<QLineEdit>("currency"), Qt::Key_Return);
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
  auto* table = form.find<QTableWidget>("setup-fields");
  const auto rowOf = [&](const QString& name) {
    for (int row = 0; row < table->rowCount(); ++row)
      if (table->item(row, 0)->text() == name) return row;
    return -1;
  };
  REQUIRE(shown.waitFor([&] { return table->rowCount() > 0; }));
  shown.typeCell(table, table->rowCount() - 1, 0, "price");
  REQUIRE(shown.waitFor([&] { return rowOf(QStringLiteral("Price")) >= 0; }));
  shown.typeCell(table, rowOf(QStringLiteral("Price")), 1, "129");
  const auto inBook = [&](const char* field) {
    return desk.open().studies()->front().setups[0].conditions.value(field, Json());
  };
  // The field is there, empty, before its value is.
  REQUIRE(shown.waitFor([&] { return inBook("price") == 129; }));
  CHECK(inBook("currency") == "CHF");
}

TEST_CASE("whatIsRememberedOfImportsAndOfBooksIsForgotten") {
  const OwnSettings own;
  const ShortRun desk;
  own.folder.write("state/ash-gauge/columns.json", R"({"T1": {"role": "cpu.temp", "unit": "°C"}, "T2": {"role": ""}})");
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return shown.text("remembered") == QStringLiteral("2 columns"); }));
  FormDriver form(shown.window);
  QTest::mouseClick(form.find<QPushButton>("forget-columns"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.text("remembered") == QStringLiteral("nothing"); }));
  CHECK_FALSE(std::filesystem::exists(own.folder.path("state/ash-gauge/columns.json")));
  CHECK_FALSE(form.find<QPushButton>("forget-columns")->isEnabled());
  CHECK(shown.text("recent-books") == QStringLiteral("1 book"));
  QTest::mouseClick(form.find<QPushButton>("forget-books"), Qt::LeftButton);
  CHECK(shown.text("recent-books") == QStringLiteral("0 books"));
  CHECK(Settings().recentBooks().isEmpty());
}

TEST_CASE("escClosesWhatIsSeenWhateverElseWasOpenBefore") {
  const OwnSettings own;
  const ShortRun desk;
  Shown shown(desk);
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  QWidget* before = QApplication::focusWidget();
  const auto find = [&](const char* name) { return shown.window.findChild<QWidget*>(QLatin1String(name)); };
  // Preferences over the tour, help over preferences: one at a time.
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  QTest::mouseClick(shown.window.findChild<QPushButton*>(QStringLiteral("take-tour")), Qt::LeftButton);
  REQUIRE(find("tour")->isVisible());
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  CHECK_FALSE(find("tour")->isVisible());
  QTest::keyClick(&shown.window, Qt::Key_F1);
  CHECK_FALSE(find("preferences")->isVisible());
  REQUIRE(find("help")->isVisible());
  QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
  CHECK_FALSE(find("help")->isVisible());
  CHECK(QApplication::focusWidget() == before);
  // Wherever the keys are.
  QTest::keyClick(&shown.window, Qt::Key_Comma, Qt::ControlModifier);
  before->setFocus();
  QTest::keyClick(before, Qt::Key_Escape);
  CHECK_FALSE(find("preferences")->isVisible());
}

TEST_CASE("preferencesAreThereBeforeAnyBookIs") {
  const OwnSettings own;
  MainWindow window(QStringLiteral(ASHG_PROGRAM));
  window.resize(1280, 800);
  window.show();
  REQUIRE(QTest::qWaitForWindowExposed(&window));
  QTest::keyClick(&window, Qt::Key_Comma, Qt::ControlModifier);
  REQUIRE(sheet(window) != nullptr);
  CHECK(sheet(window)->isVisible());
  CHECK(window.findChild<QLabel*>(QStringLiteral("recent-books"))->text() == QStringLiteral("0 books"));
  QTest::mouseClick(window.findChild<QPushButton*>(QStringLiteral("show-instruments")), Qt::LeftButton);
  CHECK(window.page() == MainWindow::Readings);
  CHECK_FALSE(sheet(window)->isVisible());
}
