// SPDX-License-Identifier: GPL-3.0-or-later
// Earlier work beside a study, chosen by the finder and taken away by undo.
#include <QDialogButtonBox>
#include <QListWidget>
#include <QTableWidget>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/standings/rank_view.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::Shown;

namespace {

// A load of 88 W that ends so many kelvin over a room of 22 °C.
std::string warmUp(double overRoomK) {
  std::string text = "time,CPU [°C],CPU power [W],Room [°C]\n";
  for (int i = 0; i < 1500; ++i) {
    const bool isLoaded = i >= 120;
    text += std::to_string(i) + "," +
            std::to_string(22 + (isLoaded ? overRoomK * (1 - std::exp(-(i - 120) / 60.0)) : 0)) +
            (isLoaded ? ",88,22\n" : ",9,22\n");
  }
  return text;
}

struct TwoBooks : Desk {
  TwoBooks() {
    qputenv("XDG_STATE_HOME", QByteArray::fromStdString(path("state")));
    write("a.csv", warmUp(50));
    write("b.csv", warmUp(40));
    ashg("import a.csv --book b.ashbook --study panels --setup solid --load vector");
    ashg("import b.csv --book b.ashbook --study coolers --setup copper --load vector");
    ashg("import b.csv --book older.ashbook --study towers --setup tall --load vector");
  }
  ~TwoBooks() { qunsetenv("XDG_STATE_HOME"); }
};

// Types into the finder, once it is there, and takes the first that answers.
void find(MainWindow& window, const char* words) {
  const auto line = [&] { return window.findChild<QLineEdit*>(QStringLiteral("finder-line")); };
  REQUIRE(Shown::waitFor([&] { return line() != nullptr && line()->isVisible(); }));
  QTest::keyClicks(line(), QLatin1String(words));
  QTest::keyClick(line(), Qt::Key_Return);
}

}  // namespace

TEST_CASE("aSetupOfAnotherStudyIsShownBesideAndTakenAwayByUndo") {
  const TwoBooks desk;
  Shown shown(desk);
  shown.window.desk().chooseStudy(QStringLiteral("panels"));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return shown.window.desk().report() != nullptr; }));
  auto* rank = shown.window.findChild<RankView*>();
  REQUIRE(shown.waitFor([&] { return rank->accessibleDescription().contains(QStringLiteral("solid")); }));
  QTest::mouseClick(shown.window.findChild<QPushButton*>(QStringLiteral("also-show")), Qt::LeftButton);
  find(shown.window, "copper");
  REQUIRE(shown.waitFor(
      [&] { return rank->accessibleDescription().contains(QStringLiteral("beside, not ranked: copper of coolers")); }));
  // Not among the ranked, and in the table with its difference against the reference.
  CHECK(shown.text("verdict").contains(QStringLiteral("solid")));
  CHECK_FALSE(shown.text("verdict").contains(QStringLiteral("copper")));
  auto* table = shown.window.findChild<QTableWidget*>(QStringLiteral("figures"));
  REQUIRE(table->columnCount() == 4);
  CHECK(table->horizontalHeaderItem(2)->text().contains(QStringLiteral("copper")));
  bool hasDifference = false;
  for (int row = 0; row < table->rowCount(); ++row) {
    const QTableWidgetItem* name = table->item(row, 0);
    const bool isOverRoom = name != nullptr && name->text().contains(QStringLiteral("over room"));
    if (isOverRoom && table->item(row, 3) != nullptr)
      hasDifference |= table->item(row, 3)->text().startsWith(QStringLiteral("10.0"));
  }
  CHECK(hasDifference);
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !rank->accessibleDescription().contains(QStringLiteral("copper")); }));
  CHECK(shown.window.desk().plan().alsoShown.empty());
}

TEST_CASE("aSetupOfAnotherBookIsKeptWithThePathFromThisBook") {
  const TwoBooks desk;
  Shown shown(desk);
  shown.window.desk().chooseStudy(QStringLiteral("panels"));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return shown.window.desk().report() != nullptr; }));
  QTest::mouseClick(shown.window.findChild<QPushButton*>(QStringLiteral("also-show")), Qt::LeftButton);
  find(shown.window, "another book");
  auto* dialog = shown.window.findChild<QDialog*>(QStringLiteral("ask-file"));
  REQUIRE(dialog != nullptr);
  REQUIRE(QTest::qWaitForWindowExposed(dialog));
  auto* name = dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
  name->setFocus();
  QTest::keyClicks(name, QStringLiteral("older.ashbook"));  // it lies beside this book
  auto* buttons = dialog->findChild<QDialogButtonBox*>();
  REQUIRE(Shown::waitFor([&] { return buttons->button(QDialogButtonBox::Open)->isEnabled(); }));
  QTest::mouseClick(buttons->button(QDialogButtonBox::Open), Qt::LeftButton);
  find(shown.window, "tall");
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().report() && !shown.window.desk().report()->earlier.empty(); }));
  const AlsoShown& also = shown.window.desk().plan().alsoShown.front();
  CHECK(also.book == "older.ashbook");
  CHECK(also.study == "towers");
  CHECK(shown.window.desk().report()->earlier.front().label == "tall of towers, older");
  CHECK(shown.window.desk().report()->earlier.front().runs.size() == 1);
}
