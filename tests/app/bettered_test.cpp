// SPDX-License-Identifier: GPL-3.0-or-later
// What was seen in the built program and bettered: words that can be read to their end, scales that fit, keys that go
// where they are meant to.
#include <QHeaderView>
#include <QListWidget>
#include <QScrollArea>
#include <QScrollBar>
#include <QTableWidget>
#include <QTest>
#include <catch2/catch.hpp>

#include "app/finder/finder.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/next_panel.h"
#include "app/traces/trace_lanes.h"
#include "app/watch/budget_panel.h"
#include "model/number_text.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::FormDriver;
using tests::PanelBook;
using tests::ShownPanels;

TEST_CASE("bytesAreWrittenAsBytes") {
  CHECK(bytesWords(83'401'360'128.0) == "83.4\u202FGB");
  CHECK(bytesWords(20e6) == "20\u202FMB");
  CHECK(bytesWords(999) == "999\u202FB");
  CHECK(bytesWords(1500) == "1.5\u202FkB");
  CHECK(bytesWords(999'600) == "1\u202FMB");
  CHECK(bytesWords(1.25e13) == "12.5\u202FTB");
  CHECK(bytesWords(kMissing) == numberText(kMissing, 0));
}

TEST_CASE("aRuleOnTheDriveIsToldInBytes") {
  LiveModel model;
  BudgetPanel panel(model, nullptr);
  auto batch = std::make_shared<LiveBatch>();
  batch->begun = std::make_shared<LiveRunInfo>();
  LiveState state;
  LiveRule drive;
  drive.text = "disk < 20MB";
  drive.threshold = 20e6;
  drive.value = 83.42e9;
  drive.distance = 83.4e9;
  state.rules = {drive};
  batch->state = state;
  model.take(batch);
  const QString words = panel.findChild<QLabel*>(QStringLiteral("rules"))->text();
  CHECK(words.contains(QStringLiteral("20\u202FMB")));
  CHECK(words.contains(QStringLiteral("83.4\u202FGB away")));
  CHECK_FALSE(words.contains(QLatin1Char('%')));
}

TEST_CASE("aTypedRoomIsTheFootOfTheColumns") {
  LiveModel model;
  auto batch = std::make_shared<LiveBatch>();
  auto info = std::make_shared<LiveRunInfo>();
  info->watched = "cpu.temp";
  info->roomC = 21;
  batch->begun = info;
  batch->samples["cpu.temp"] = {{1, 2}, {60, 61}};
  model.take(batch);
  CHECK(model.roomC() == 21);
  auto typed = std::make_shared<LiveBatch>();
  Event room;
  room.kind = EventKind::Reading;
  room.role = "room.temp";
  room.value = 22.5;
  typed->events = {room};
  model.take(typed);
  CHECK(model.roomC() == 22.5);
  BudgetPanel panel(model, nullptr);
  emit model.changed();
  bool isOverRoom = false;
  for (const QLabel* label : panel.findChildren<QLabel*>())
    isOverRoom |= label->text().contains(QStringLiteral("K over room"));
  CHECK(isOverRoom);
  // What is read counts before what was typed.
  auto read = std::make_shared<LiveBatch>();
  read->samples["room.temp"] = {{3}, {23}};
  model.take(read);
  CHECK(model.roomC() == 23);
}

TEST_CASE("aFinderThatFindsNothingSaysSo") {
  const PanelBook book;
  ShownPanels shown(book);
  QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
  auto* line = shown.find<QLineEdit>("finder-line");
  QTest::keyClicks(line, "zzz");
  auto* list = shown.find<QListWidget>("finder-list");
  REQUIRE(list->count() == 1);
  CHECK(list->item(0)->text().startsWith(QStringLiteral("Nothing is called “zzz”.")));
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(shown.find<Finder>("finder")->isVisible());
  QTest::keyClick(line, Qt::Key_Escape);
}

TEST_CASE("keysGoToTheStationThatWasChosen") {
  const PanelBook book;
  ShownPanels shown(book);
  FormDriver form(shown.window);
  for (const int station : {0, 2, 3, 4}) {
    shown.go(station);
    INFO(station);
    REQUIRE(ShownPanels::waitFor([&] { return QApplication::focusWidget() != nullptr; }, 2000));
    auto* pages = shown.window.findChild<QStackedWidget*>();
    CHECK(pages->currentWidget()->isAncestorOf(QApplication::focusWidget()));
  }
  shown.go(2);
  CHECK(QApplication::focusWidget() == shown.find<TraceLanes>("trace-lanes"));
}

TEST_CASE("aLaneIsFittedToWhatIsShownAndHeldByAKey") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(2);
  auto* lanes = shown.find<TraceLanes>("trace-lanes");
  REQUIRE(ShownPanels::waitFor([&] { return lanes->laneCount() > 0 && lanes->isVisible(); }));
  QTest::qWait(50);
  const auto size = [&] { return lanes->valueRange(0).second - lanes->valueRange(0).first; };
  const double whole = size();
  // Into the plateau, where the temperature moves by tenths.
  lanes->setCursor(700);
  lanes->setFocus();
  for (int i = 0; i < 12; ++i) QTest::keyClick(lanes, Qt::Key_Plus);
  const double fitted = size();
  CHECK(fitted < 0.3 * whole);
  QTest::keyClick(lanes, Qt::Key_H);
  CHECK(lanes->holdsScale());
  QTest::keyClick(lanes, Qt::Key_0);
  CHECK(size() == Approx(fitted));
  QTest::keyClick(lanes, Qt::Key_H);
  CHECK(size() == Approx(whole));
}

TEST_CASE("everyRemarkAndTheReasonOfARefusalCanBeRead") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(0);
  auto many = std::make_shared<ReadinessList>();
  for (const char* name : {"Processor temperature", "Room", "Other load", "Power", "Loads", "Space for the log"})
    many->push_back(
        {name, "wrong", false, "This is what is wrong with it, and this is how it is mended, in a sentence."});
  shown.desk().takeReadiness(many);
  auto* scroll = shown.find<QScrollArea>("readiness-scroll");
  QTest::qWait(50);
  auto* words = shown.find<QLabel>("readiness");
  // All of the label can be reached: what does not fit is scrolled to.
  CHECK(words->height() >= words->heightForWidth(words->width()));
  CHECK(scroll->viewport()->height() + scroll->verticalScrollBar()->maximum() >= words->height());
  auto* next = shown.window.findChild<NextPanel*>();
  const QString reason = QStringLiteral(
      "The load render of this book has a command that nobody has confirmed on this "
      "machine (kind: command; command: ./render --all --with many words); see `ashg "
      "book allow b.ashbook` and confirm with --all.");
  next->setProblem(reason);
  QTest::qWait(50);
  auto* problem = shown.find<QLabel>("plan-start-problem");
  REQUIRE(problem->isVisible());
  CHECK(problem->height() >= problem->heightForWidth(problem->width()));
  CHECK(problem->width() > next->width() / 2);
}

TEST_CASE("namesOfFiguresAreWholeAndNoVerdictIsCut") {
  const PanelBook book;
  ShownPanels shown(book);
  for (const QSize size : {QSize(1280, 800), QSize(1100, 700)}) {
    shown.window.resize(size);
    shown.go(3);
    auto* table = shown.find<QTableWidget>("figures");
    REQUIRE(shown.waitFor([&] { return table->rowCount() > 5 && table->columnCount() > 2; }));
    QTest::qWait(50);
    if (size.width() == 1280) CHECK(table->horizontalScrollBar()->maximum() == 0);
    int names = 0;
    for (int row = 0; row < table->rowCount(); ++row) {
      if (table->item(row, 0) == nullptr || table->columnSpan(row, 0) > 1) continue;
      ++names;
      const QString name = table->item(row, 0)->text();
      const QFontMetrics metrics(table->item(row, 0)->font().bold() ? look::font(12, QFont::Bold) : look::font(12));
      // As the table draws it: within its cell, in as many lines as that takes.
      const QRect cell(0, 0, table->columnWidth(0) - 8, 1000);
      INFO(name.toStdString() << " in " << table->columnWidth(0));
      CHECK(metrics.boundingRect(cell, Qt::TextWordWrap, name).height() <= table->rowHeight(row));
      // Never in two lines while there is room beside.
      const bool hasRoom = table->horizontalHeader()->length() + 60 < table->viewport()->width();
      if (hasRoom) CHECK(table->rowHeight(row) == table->verticalHeader()->defaultSectionSize());
    }
    CHECK(names > 5);
  }
}

TEST_CASE("aLoadThatIsAWholeLineLeavesTheReadinessItsRoom") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.window.resize(1280, 800);
  shown.go(0);
  shown.desk().edit("name", [](Study& study, StudyPlan& plan) {
    study.loads.front().name =
        "command command=\"./encode.sh --threads 8 --passes 2\" env.PRESET=slow score.fps=\"avg ([0-9.]+) fps\"";
    plan.repeats = 9;
  });
  auto* title = shown.find<QLabel>("next-run");
  REQUIRE(shown.waitFor([&] { return title->text().contains(QStringLiteral("score.fps")); }));
  QTest::qWait(50);
  CHECK(title->height() >= title->heightForWidth(title->width()));
  CHECK(shown.find<QScrollArea>("readiness-scroll")->width() > 300);
}

TEST_CASE("copiedTablesHoldNoFormulas") {
  auto* table = look::plainTable({QStringLiteral("name"), QStringLiteral("K")}, nullptr);
  table->setRowCount(1);
  table->setItem(0, 0, new QTableWidgetItem(QStringLiteral("=HYPERLINK(\"x\")")));
  table->setItem(0, 1, new QTableWidgetItem(QStringLiteral("-3.5")));
  table->show();
  QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
  CHECK(QApplication::clipboard()->text() == QStringLiteral("name\tK\n'=HYPERLINK(\"x\")\t-3.5\n"));
  delete table;
}
