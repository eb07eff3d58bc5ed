// SPDX-License-Identifier: GPL-3.0-or-later
// A log of another program by mouse and key: dropped, pasted, understood, corrected, taken in, put beside a run.
#include <QCheckBox>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/plan/plan_grid.h"
#include "app/plan/plan_station.h"
#include "app/taking_in/beside_lane.h"
#include "app/taking_in/column_row.h"
#include "tests/support/desk.h"
#include "tests/support/drop.h"
#include "tests/support/words.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

double powerAt(double t) { return t < 120 || t > 1500 ? 9.0 : t > 700 && t < 760 ? 30.0 : 88.0; }

std::string logOf(const char* header, double (*value)(double), int rows) {
  std::string text = header;
  for (int i = 0; i < rows; ++i)
    text += std::to_string(i) + "," + std::to_string(30 + powerAt(i) / 3) + "," + std::to_string(value(i)) + "\n";
  return text;
}

/// A book with one run that was taken in, shown; the person's own memory is the folder's.
struct LogDesk : Desk {
  LogDesk() {
    qputenv("XDG_STATE_HOME", QByteArray::fromStdString(path("state")));
    qputenv("XDG_CACHE_HOME", QByteArray::fromStdString(path("cache")));
    write("first.csv", logOf("time,CPU [°C],CPU power [W]\n", powerAt, 1800));
    ashg("import first.csv --book b.ashbook --study panels --setup solid --load vector");
  }
  ~LogDesk() {
    qunsetenv("XDG_STATE_HOME");
    qunsetenv("XDG_CACHE_HOME");
  }
  QString file(const char* name) const { return QString::fromStdString(path(name)); }
};

struct ShownSheet : Shown {
  explicit ShownSheet(const Desk& desk) : Shown(desk) {}
  void drop(const QString& path, const QPoint& at) { tests::dropOn(window, path, at); }
  template <typename T>
  T* find(const char* name) {
    T* widget = window.findChild<T*>(QString::fromUtf8(name));
    REQUIRE(widget != nullptr);
    return widget;
  }
  bool isRead() {
    return waitFor([&] { return find<QPushButton>("log-take")->isEnabled(); });
  }
  void choose(const char* box, const QString& words) {
    auto* choice = find<QComboBox>(box);
    choice->setFocus();
    for (int i = 0; i < choice->count() && choice->currentText() != words; ++i) QTest::keyClick(choice, Qt::Key_Down);
    REQUIRE(choice->currentText() == words);
  }
  void press(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    QTest::keyClick(QApplication::focusWidget(), key, modifiers);
  }
};

}  // namespace

TEST_CASE("aLogThatIsDroppedIsUnderstoodInItsPlaceAndTakenIn") {
  const LogDesk desk;
  desk.write("mesh.csv", "Logged by hand\n" + logOf("time,CPU [°C],Probe [W]\n", powerAt, 1800) + "1800,n/a?,9\n");
  ShownSheet shown(desk);
  shown.drop(desk.file("mesh.csv"), {640, 400});
  REQUIRE(shown.isRead());
  CHECK(shown.window.page() == MainWindow::TakingIn);
  CHECK(shown.text("log-name") == QStringLiteral("mesh.csv"));
  CHECK(shown.text("log-about").contains(QStringLiteral("names in line 2")));
  CHECK(shown.text("log-problems").contains(QStringLiteral("line 1803, column 2")));
  CHECK(shown.text("log-foot").contains(QStringLiteral("into mesh / vector")));
  CHECK(shown.window.findChildren<ColumnRow*>().size() == 2);
  CHECK(shown.find<QComboBox>("role-CPU")->currentData() == QStringLiteral("cpu.temp"));
  CHECK(shown.find<QComboBox>("role-Probe")->currentData() == QString());
  // What no rule told is said by the person, and the lane is kept under it.
  shown.find<QComboBox>("role-Probe")->setFocus();
  for (int i = 0; i < 30 && shown.find<QComboBox>("role-Probe")->currentData() != QStringLiteral("cpu.power"); ++i) {
    REQUIRE(QApplication::focusWidget() == shown.find<QComboBox>("role-Probe"));
    shown.press(Qt::Key_Down);
    QCoreApplication::processEvents();
    REQUIRE(shown.isRead());
  }
  REQUIRE(shown.find<QComboBox>("role-Probe")->currentData() == QStringLiteral("cpu.power"));
  FormDriver form(shown.window);
  form.type(shown.find<QLineEdit>("log-room"), "warm");
  CHECK_FALSE(shown.find<QPushButton>("log-take")->isEnabled());
  CHECK(shown.text("log-foot").contains(QStringLiteral("22.5")));
  form.type(shown.find<QLineEdit>("log-room"), "22,5");
  CHECK(shown.find<QPushButton>("log-take")->isEnabled());
  shown.press(Qt::Key_Return, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return shown.window.page() == MainWindow::Plan; }));
  REQUIRE(shown.waitFor([&] { return shown.window.desk().runs().size() == 2; }));
  const Book book = desk.open();
  const auto run = book.readRun(book.runs()->back().info.id);
  REQUIRE(run);
  CHECK(run->facts.setup == "mesh");
  REQUIRE(run->log.find("cpu.power") != nullptr);
  CHECK(run->log.find("cpu.power")->values[200] == 88);
  const auto& events = run->facts.events;
  CHECK(std::any_of(events.begin(), events.end(),
                    [](const Event& one) { return one.role == "room.temp" && one.value == 22.5; }));
}

TEST_CASE("aColumnThatIsUncheckedIsLeftOut") {
  const LogDesk desk;
  desk.write("mesh.csv", logOf("time,CPU [°C],CPU power [W]\n", powerAt, 300));
  ShownSheet shown(desk);
  shown.drop(desk.file("mesh.csv"), {640, 400});
  REQUIRE(shown.isRead());
  auto* box = shown.find<QCheckBox>("take-CPU power");
  box->setFocus();
  QTest::keyClick(box, Qt::Key_Space);
  REQUIRE(
      shown.waitFor([&] { return shown.window.findChild<QComboBox*>(QStringLiteral("role-CPU power"))->isHidden(); }));
  REQUIRE(shown.isRead());
  QTest::mouseClick(shown.find<QPushButton>("log-take"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.window.desk().runs().size() == 2; }));
  const Book book = desk.open();
  const auto run = book.readRun(book.runs()->back().info.id);
  CHECK(run->log.find("cpu.temp") != nullptr);
  CHECK(run->log.find("cpu.power") == nullptr);
}

TEST_CASE("aLogDroppedOnACellIsOfThatCell") {
  const LogDesk desk;
  desk.write("again.csv", logOf("time,CPU [°C],CPU power [W]\n", powerAt, 300));
  ShownSheet shown(desk);
  REQUIRE(shown.waitFor([&] { return shown.window.page() == MainWindow::Plan && shown.window.plan()->isVisible(); }));
  auto* grid = shown.window.plan()->findChild<PlanGrid*>();
  REQUIRE(grid != nullptr);
  QPoint cell;
  for (int y = 0; y < grid->height() && cell.isNull(); y += 4) {
    const auto under = grid->cellUnder(QPointF(grid->width() / 2.0, y));
    if (under == std::pair(0, 0)) cell = {grid->width() / 2, y + 4};
  }
  REQUIRE_FALSE(cell.isNull());
  shown.drop(desk.file("again.csv"), grid->mapTo(&shown.window, cell));
  REQUIRE(shown.isRead());
  CHECK(shown.text("log-foot").contains(QStringLiteral("into solid / vector")));
}

TEST_CASE("whatIsNoLogIsSaidAndEscapeLeavesEverythingAsItWas") {
  const LogDesk desk;
  desk.write("picture.dat", std::string("\x89PNG\r\n\x1a\n\0\0\0\rIHDR", 16));
  ShownSheet shown(desk);
  const int before = shown.window.page();
  shown.drop(desk.file("picture.dat"), {640, 400});
  REQUIRE(shown.waitFor([&] { return shown.text("log-foot").contains(QStringLiteral("picture.dat")); }));
  CHECK_FALSE(shown.find<QPushButton>("log-take")->isEnabled());
  QTest::keyClick(shown.find<QWidget>("log-sheet"), Qt::Key_Escape);
  CHECK(shown.window.page() == before);
  // Nothing of the log before is left to be taken for it.
  desk.write("good.csv", logOf("time,CPU [°C],CPU power [W]\n", powerAt, 300));
  shown.drop(desk.file("good.csv"), {640, 400});
  REQUIRE(shown.isRead());
  CHECK(shown.window.findChildren<ColumnRow*>().size() == 2);
  CHECK(shown.text("log-problems").contains(QStringLiteral("No room temperature")));
  shown.drop(desk.file("picture.dat"), {640, 400});
  REQUIRE(shown.waitFor([&] { return shown.text("log-foot").contains(QStringLiteral("picture.dat")); }));
  CHECK(shown.window.findChildren<ColumnRow*>().isEmpty());
  CHECK(shown.text("log-problems").isEmpty());
  CHECK(desk.open().runs()->size() == 1);
}

TEST_CASE("aTableInTheClipboardIsALogAndOtherWordsAreNot") {
  const LogDesk desk;
  ShownSheet shown(desk);
  QGuiApplication::clipboard()->setText(QStringLiteral("some words\nof a letter"));
  QTest::keyClick(&shown.window, Qt::Key_V, Qt::ControlModifier);
  CHECK(shown.window.page() != MainWindow::TakingIn);
  QString table = QStringLiteral("time\tCPU [°C]\n");
  for (int i = 0; i < 50; ++i) table += QStringLiteral("%1\t%2\n").arg(i).arg(40 + i % 3);
  QGuiApplication::clipboard()->setText(table);
  QTest::keyClick(&shown.window, Qt::Key_V, Qt::ControlModifier);
  CHECK(shown.window.page() == MainWindow::TakingIn);
  REQUIRE(shown.isRead());
  CHECK(shown.text("log-foot").startsWith(QStringLiteral("50 rows")));
}

TEST_CASE("aMetersLogIsFoundDraggedPutBesideAndTakenOffByUndo") {
  const LogDesk desk;
  desk.write("wall.csv",
             logOf(
                 "elapsed,Sensor [°C],P wall [W]\n", [](double t) { return 20 + 1.15 * powerAt(t + 33); }, 1500));
  ShownSheet shown(desk);
  shown.drop(desk.file("wall.csv"), {640, 400});
  REQUIRE(shown.isRead());
  shown.choose("log-as", QStringLiteral("a log beside a run"));
  REQUIRE(shown.waitFor([&] { return shown.find<BesideLane>("beside-lane")->isVisible(); }));
  REQUIRE(shown.isRead());
  auto* lane = shown.find<BesideLane>("beside-lane");
  CHECK(std::abs(lane->offsetS() - 33) < 1);
  CHECK(shown.text("log-foot").contains(QStringLiteral("by wall.power with cpu.power")));
  // Dragged to the left it begins earlier; an arrow key moves it by a second.
  const QPoint from = lane->rect().center();
  QTest::mousePress(lane, Qt::LeftButton, {}, from);
  QTest::mouseMove(lane, from - QPoint(40, 0));
  QTest::mouseRelease(lane, Qt::LeftButton, {}, from - QPoint(40, 0));
  REQUIRE(shown.isRead());
  const double dragged = lane->offsetS();
  CHECK(dragged < 0);
  QTest::keyClick(lane, Qt::Key_Right);
  REQUIRE(shown.waitFor([&] { return std::abs(lane->offsetS() - dragged - 1) < 0.02; }));
  REQUIRE(shown.isRead());
  FormDriver form(shown.window);
  form.type(shown.find<QLineEdit>("log-offset"), "soon");
  shown.press(Qt::Key_Tab);
  REQUIRE(shown.waitFor([&] { return shown.text("log-foot").contains(QStringLiteral("number of seconds")); }));
  CHECK_FALSE(shown.find<QPushButton>("log-take")->isEnabled());
  QTest::mouseClick(shown.find<QPushButton>("log-find"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return std::abs(lane->offsetS() - 33) < 1; }));
  REQUIRE(shown.isRead());
  QTest::mouseClick(shown.find<QPushButton>("log-take"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.window.page() == MainWindow::Plan; }));
  const std::string id = desk.open().runs()->front().info.id;
  const auto hasWall = [&] { return desk.open().readRun(id)->log.find("wall.power") != nullptr; };
  CHECK(hasWall());
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  CHECK(shown.waitFor([&] { return !hasWall(); }));
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(shown.waitFor(hasWall));
  // Somebody else put one of that name there meanwhile: undo takes off what redo has put there.
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !hasWall(); }));
  desk.ashg("import wall.csv --book b.ashbook --into " + id + " --offset 400");
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  const auto hasTwo = [&] { return desk.open().readRun(id)->log.find("wall.power (2)") != nullptr; };
  REQUIRE(shown.waitFor(hasTwo));
  QTest::qWait(500);  // what it is called now has to be heard
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return !hasTwo(); }));
  // That of the command line lies 400 s on: it is there still.
  const RunLog left = *desk.open().readRun(id);
  CHECK(std::isnan(left.log.find("wall.power")->values[100]));
  CHECK(std::isfinite(left.log.find("wall.power")->values[500]));
}
