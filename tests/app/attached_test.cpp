// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures by mouse and key: dropped on a setup and on a trace, pasted, opened over the page, taken off, undone.
#include <QClipboard>
#include <QListWidget>
#include <QMimeData>
#include <QToolButton>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/attached/picture_over.h"
#include "app/plan/plan_grid.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "tests/support/drop.h"
#include "tests/support/panel_book.h"

using namespace ash;
using namespace ash::tests;

namespace {

const QString kCamera = QStringLiteral(TEST_DATA "/pictures/camera.jpg");

struct ShownPictures : ShownPanels {
  using ShownPanels::ShownPanels;
  const std::vector<Attachment>& kept() { return desk().attachments(); }
  bool hasKept(size_t count) {
    return waitFor([&] { return kept().size() == count; });
  }
  size_t squares() {
    return static_cast<size_t>(window.findChildren<QToolButton*>(QStringLiteral("picture-square")).size());
  }
  long long setup(size_t index) { return desk().study()->setups[index].id; }
  QPoint middleOfCell(int row) {
    auto* grid = window.findChild<PlanGrid*>();
    REQUIRE(grid != nullptr);
    for (int y = 0; y < grid->height(); y += 4) {
      for (int x = 0; x < grid->width(); x += 8) {
        if (const auto cell = grid->cellUnder(QPointF(x, y)); cell && cell->first == row)
          return grid->mapTo(&window, QPoint(x + 6, y + 6));
      }
    }
    FAIL("no cell of row " << row);
    return {};
  }
};

}  // namespace

TEST_CASE("aPictureThatIsDroppedOnASetupIsASquareThatOpensOverThePage") {
  const PanelBook book;
  ShownPictures shown(book);
  dropOn(shown.window, kCamera, shown.middleOfCell(1));
  REQUIRE(shown.hasKept(1));
  CHECK(shown.kept()[0].setup == shown.setup(1));
  CHECK(shown.kept()[0].name == "camera.jpg");
  CHECK(shown.waitFor([&] { return shown.text("notice").contains(QStringLiteral("the place where it was taken")); }));
  CHECK(shown.squares() == 0);  // of the first setup, which is the one that is shown
  auto* grid = shown.window.findChild<PlanGrid*>();
  grid->setFocus();
  QTest::keyClick(grid, Qt::Key_Down);
  REQUIRE(shown.waitFor([&] { return shown.squares() == 1; }));
  auto* square = shown.find<QToolButton>("picture-square");
  CHECK(square->accessibleName().contains(QStringLiteral("camera.jpg")));
  QTest::mouseClick(square, Qt::LeftButton);
  auto* over = shown.find<PictureOver>("picture-over");
  CHECK(over->isVisible());
  CHECK(over->accessibleDescription().contains(QStringLiteral("mesh")));
  CHECK(over->accessibleDescription().contains(QStringLiteral("2026-11-03 19:04:11")));
  // It is drawn: upright, and the reddest at its right as the picture is.
  const auto middle = [&] { return over->grab().toImage().pixelColor(over->width() / 2, over->height() / 2 - 20); };
  CHECK(shown.waitFor([&] { return middle().blue() < 130 && middle() != over->grab().toImage().pixelColor(2, 2); }));
  QTest::keyClick(over, Qt::Key_Escape);
  CHECK_FALSE(over->isVisible());
  CHECK(shown.window.page() == MainWindow::Plan);
}

TEST_CASE("aPictureIsTakenOffAndComesBackByUndo") {
  const PanelBook book;
  ShownPictures shown(book);
  dropOn(shown.window, kCamera, shown.middleOfCell(0));
  REQUIRE(shown.hasKept(1));
  const std::string hash = shown.kept()[0].hash;
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.hasKept(0));
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  REQUIRE(shown.hasKept(1));
  REQUIRE(shown.waitFor([&] { return shown.squares() == 1; }));
  QTest::mouseClick(shown.find<QToolButton>("picture-square"), Qt::LeftButton);
  QTest::keyClick(shown.find<PictureOver>("picture-over"), Qt::Key_Delete);
  REQUIRE(shown.hasKept(0));
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.hasKept(1));
  CHECK(shown.kept()[0].hash == hash);
}

TEST_CASE("aPictureOnATraceIsAFlagAtItsMoment") {
  const PanelBook book;
  ShownPictures shown(book);
  shown.go(MainWindow::Traces);
  TraceLanes* lanes = shown.window.traces()->lanes();
  REQUIRE(shown.waitFor([&] { return lanes->laneCount() > 0; }));
  const double t = 300;  // s under load
  const QPoint place(static_cast<int>(lanes->pixelOf(t)), 60);
  dropOn(shown.window, kCamera, lanes->mapTo(&shown.window, place));
  REQUIRE(shown.hasKept(1));
  REQUIRE(shown.waitFor([&] { return lanes->flagCount() == 1; }));
  const Attachment& one = shown.kept()[0];
  const AnalyzedRun* run = shown.desk().figuresOf(one.run);
  REQUIRE(run != nullptr);
  CHECK(one.atS - run->figures.load->startS == Approx(t).margin(lanes->timeAt(1) - lanes->timeAt(-1)));
  // Its flag stands over that moment, and a press opens it.
  const QPointF flag = lanes->flagPlace(0);
  CHECK(flag.x() == Approx(lanes->pixelOf(t)).margin(16));
  QWidget* plot = lanes->childAt(flag.toPoint());
  QTest::mouseClick(plot, Qt::LeftButton, {}, plot->mapFrom(lanes, flag.toPoint()));
  auto* over = shown.find<PictureOver>("picture-over");
  CHECK(over->isVisible());
  QTest::keyClick(over, Qt::Key_Escape);
  REQUIRE_FALSE(over->isVisible());
  QTest::keyClick(lanes, Qt::Key_P);
  CHECK(over->isVisible());
  // Another station is not hidden behind it.
  shown.go(MainWindow::Plan);
  CHECK_FALSE(over->isVisible());
}

TEST_CASE("whatAPictureShowsIsTypedAsWordsOrAsAReadingAtItsMoment") {
  const PanelBook book;
  ShownPictures shown(book);
  shown.go(MainWindow::Traces);
  TraceLanes* lanes = shown.window.traces()->lanes();
  REQUIRE(shown.waitFor([&] { return lanes->laneCount() > 0; }));
  dropOn(shown.window, kCamera, lanes->mapTo(&shown.window, QPoint(static_cast<int>(lanes->pixelOf(300)), 60)));
  REQUIRE(shown.hasKept(1));
  const Attachment one = shown.kept()[0];
  REQUIRE(shown.waitFor([&] { return lanes->flagCount() == 1; }));
  QTest::keyClick(lanes, Qt::Key_P);
  auto* line = shown.find<QLineEdit>("picture-said");
  const auto type = [&](const QString& words) {
    line->setFocus();
    QTest::keyClicks(line, words);
    QTest::keyClick(line, Qt::Key_Return);
  };
  type(QStringLiteral("surface hinge 47,5"));
  const auto readings = [&] {
    std::vector<Event> found;
    const auto kept = book.open().readRun(one.run);
    REQUIRE(kept);
    for (const Event& event : kept->facts.events) {
      if (event.kind == EventKind::Reading) found.push_back(event);
    }
    return found;
  };
  REQUIRE(shown.waitFor([&] { return readings().size() == 1; }));
  CHECK(readings()[0].role.text() == "surface.hinge");
  CHECK(readings()[0].value == 47.5);
  CHECK(readings()[0].atS == Approx(one.atS));
  CHECK(readings()[0].extra["attachment"] == one.hash);
  REQUIRE(shown.waitFor([&] { return shown.kept()[0].text == "surface hinge 47,5"; }));
  type(QStringLiteral("the hinge, settled"));
  REQUIRE(shown.waitFor([&] { return shown.kept()[0].text == "the hinge, settled"; }));
  auto* over = shown.find<PictureOver>("picture-over");
  CHECK(over->isVisible());
  CHECK(over->accessibleName() == QStringLiteral("the hinge, settled"));
  CHECK(readings().size() == 1);
  QTest::keyClick(over, Qt::Key_Escape);
  QTest::keyClick(&shown.window, Qt::Key_Z, Qt::ControlModifier);
  CHECK(shown.waitFor([&] { return shown.kept()[0].text == "surface hinge 47,5"; }));
}

TEST_CASE("aPictureThatIsDroppedOnARunBelongsToIt") {
  const PanelBook book;
  ShownPictures shown(book);
  auto* runs = shown.find<QListWidget>("cell-runs");
  REQUIRE(shown.waitFor([&] { return runs->count() == 2; }));
  const QPoint second = runs->viewport()->mapTo(&shown.window, runs->visualItemRect(runs->item(1)).center());
  dropOn(shown.window, kCamera, second);
  REQUIRE(shown.hasKept(1));
  CHECK(shown.kept()[0].run == runs->item(1)->data(Qt::UserRole).toString().toStdString());
  CHECK(std::isnan(shown.kept()[0].atS));
  CHECK(shown.waitFor([&] { return shown.text("notice").contains(QStringLiteral("solid, vector, repeat 2")); }));
}

TEST_CASE("aPictureThatIsDroppedOnWatchBelongsToTheMomentOfItsRun") {
  const PanelBook book;
  ShownPictures shown(book);
  auto* list = shown.find<QListWidget>("cell-runs");
  REQUIRE(shown.waitFor([&] { return list->count() == 2; }));
  list->setCurrentRow(0);
  const std::string wanted = list->item(0)->data(Qt::UserRole).toString().toStdString();
  QTest::mouseClick(shown.find<QPushButton>("show-run"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] {
    const LiveModel& live = shown.window.live();
    return live.hasRun() && live.info().id == wanted && live.lastTimeS() > 60;
  }));
  REQUIRE(shown.window.page() == MainWindow::Watch);
  dropOn(shown.window, kCamera, {600, 400});
  REQUIRE(shown.hasKept(1));
  CHECK(shown.kept()[0].run == shown.window.live().info().id);
  CHECK(shown.kept()[0].atS == Approx(shown.window.live().lastTimeS()));
}

TEST_CASE("aPictureInTheClipboardIsKeptWithTheSelectedSetup") {
  const PanelBook book;
  ShownPictures shown(book);
  QImage image(300, 200, QImage::Format_RGB32);
  image.fill(Qt::darkCyan);
  QGuiApplication::clipboard()->setImage(image);
  QTest::keyClick(&shown.window, Qt::Key_V, Qt::ControlModifier);
  REQUIRE(shown.hasKept(1));
  CHECK(shown.kept()[0].setup == shown.setup(0));
  CHECK(shown.kept()[0].type == "image/png");
  CHECK(shown.kept()[0].extra["width"] == 300);
}

TEST_CASE("aBrokenPictureIsASentenceAndNothingIsLost") {
  const PanelBook book;
  book.write("broken.png", std::string("\x89PNG\r\n\x1a\n and then nothing", 26));
  ShownPictures shown(book);
  dropOn(shown.window, kCamera, shown.middleOfCell(0));
  REQUIRE(shown.hasKept(1));
  dropOn(shown.window, QString::fromStdString(book.path("broken.png")), shown.middleOfCell(0));
  REQUIRE(shown.waitFor([&] { return shown.text("notice").contains(QStringLiteral("broken.png cannot be read")); }));
  CHECK(shown.kept().size() == 1);
  // On a page that it cannot belong to, it is said where it can.
  shown.go(MainWindow::Standings);
  dropOn(shown.window, kCamera, {600, 400});
  CHECK(shown.waitFor([&] { return shown.text("notice").contains(QStringLiteral("with a setup")); }));
  CHECK(shown.kept().size() == 1);
}
