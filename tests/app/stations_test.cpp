// SPDX-License-Identifier: GPL-3.0-or-later
// Standings, Write-up and the parts they are built from.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QImage>
#include <QListWidget>
#include <QPainter>
#include <QSet>
#include <QTextBrowser>
#include <catch2/catch.hpp>
#include <cmath>
#include <set>

#include "app/entry/entry_dock.h"
#include "app/look/parts.h"
#include "app/standings/rank_view.h"
#include "app/standings/standings_station.h"
#include "app/standings/trade_off.h"
#include "app/traces/trace_groups.h"
#include "app/traces/traces_station.h"
#include "report/answer/answer.h"
#include "tests/support/panel_book.h"

using namespace ash;
using tests::FormDriver;
using tests::PanelBook;
using tests::ShownPanels;

TEST_CASE("theStandingIsRankedByAnyFigureAgainstAnySetup") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(3);
  FormDriver form(shown.window);
  CHECK(shown.waitFor([&] { return shown.text("verdict").contains(QStringLiteral("mesh runs")); }, 3000));
  auto* rank = shown.find<RankView>("rank");
  CHECK(rank->accessibleDescription().startsWith(QStringLiteral("1. mesh")));
  form.choose(form.find<QComboBox>("standings-figure"), "CPU headroom");
  CHECK(rank->accessibleDescription().startsWith(QStringLiteral("1. mesh")));
  form.choose(form.find<QComboBox>("standings-figure"), "Noise");
  CHECK(rank->accessibleDescription().startsWith(QStringLiteral("1. solid")));
  form.choose(form.find<QComboBox>("standings-against"), "mesh");
  REQUIRE(shown.waitFor([&] { return shown.desk().plan().reference == "mesh"; }));
  REQUIRE(shown.waitFor([&] {
    return shown.text("verdict").contains(QStringLiteral("solid")) &&
           shown.text("verdict").contains(QStringLiteral("warmer"));
  }));
  auto* table = shown.find<QTableWidget>("figures");
  CHECK(table->columnCount() == 4);  // figure, two setups, one difference
}

TEST_CASE("everyFigureThatIsListedIsARowOfTheTableAndCanBeRankedBy") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(3);
  REQUIRE(shown.waitFor([&] { return !shown.text("verdict").isEmpty(); }, 3000));
  QStringList rows;
  QSet<QString> codes;
  for (const MetricGroup& group : metricGroups(shown.desk().report()->loads.front().comparison)) {
    rows << QString::fromStdString(group.title);
    for (const Figure& figure : group.metrics) {
      const QString unit = QString::fromStdString(figure.unit());
      rows << QString::fromStdString(figure.title()) + (unit.isEmpty() ? QString() : QStringLiteral(", ") + unit);
      codes << QString::fromStdString(figure.code());
    }
  }
  // What the bench has beside its processor: the air in its case, its regulators, its drive, both of its fans.
  for (const char* code :
       {"case.over_ambient_k", "board.vrm.headroom_k", "storage.over_ambient_k", "fan.rear", "cpu.throttled_share"}) {
    INFO(code);
    CHECK(codes.contains(QLatin1String(code)));
  }
  auto* table = shown.find<QTableWidget>("figures");
  QStringList told;
  for (int row = 0; row < table->rowCount(); ++row) told << table->item(row, 0)->text();
  CHECK(told == rows);
  auto* choice = shown.find<QComboBox>("standings-figure");
  QSet<QString> offered;
  for (int i = 0; i < choice->count(); ++i) offered << choice->itemData(i).toString();
  CHECK(offered == codes);
  CHECK(choice->count() == codes.size());
}

namespace {

/// Two coolers at two fan duties each.
struct LadderBook : tests::Desk {
  LadderBook() {
    Study study;
    study.name = "ladder";
    StudyPlan plan;
    plan.underTest = {"cooler", "fan_duty"};
    plan.equal = "noise";
    plan.bench = "larch12";
    study.loads = {{"All cores", {{"kind", "vector"}}}};
    for (const char* cooler : {"Teasel", "Plover"}) {
      for (const int duty : {40, 80}) {
        Setup setup;
        setup.name = std::string(cooler) + ", " + std::to_string(duty) + " %";
        setup.conditions = {{"cooler", cooler}, {"fan_mode", "fixed"}, {"fan_duty", duty}, {"power_limit_w", 65}};
        study.setups.push_back(setup);
      }
    }
    study.plan = planToJson(plan);
    REQUIRE(Book::create(path("b.ashbook"))->putStudy(Study(), study));
    for (const Setup& setup : study.setups) {
      ashg("run --book b.ashbook --study ladder --load 'All cores' --setup '" + setup.name +
           "' --sim larch12 --speed 100000 --phases 'idle 1min, soak 4min, measure 2min'");
    }
  }
};

}  // namespace

TEST_CASE("theLevelOfALevelledFieldCanBeChosenWithinWhatWasMeasured") {
  const LadderBook book;
  tests::Shown shown(book);
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().report() && shown.window.desk().report()->runs.size() == 4; }));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  FormDriver form(shown.window);
  auto* level = form.find<QDoubleSpinBox>("standings-level");
  const auto comparison = [&] { return shown.window.desk().report()->loads.at(0).comparison; };
  REQUIRE(comparison().equalBy == "noise");
  REQUIRE(level->isVisible());
  CHECK(level->text() == QStringLiteral("the middle"));
  CHECK(comparison().equalAt == Approx((comparison().equalFrom + comparison().equalTo) / 2));
  const double wanted = std::round(10 * (comparison().equalFrom + 1)) / 10;
  form.type(level, QString::number(wanted, 'f', 1));
  QTest::keyClick(level, Qt::Key_Return);
  REQUIRE(shown.waitFor([&] { return comparison().equalAt == Approx(wanted); }));
  CHECK(shown.waitFor([&] { return shown.text("verdict").contains(QString::number(wanted, 'f', 1)); }));
  // Beyond what was measured there is nothing to choose.
  CHECK(level->maximum() <= comparison().equalTo + 1e-9);
  CHECK(level->minimum() >= comparison().equalFrom - 0.1 - 1e-9);
  shown.window.desk().undoStack().undo();
  REQUIRE(shown.waitFor([&] { return shown.window.desk().plan().equal == "noise"; }));
  // As run there is no level, but what each factor does.
  form.choose(form.find<QComboBox>("standings-equal"), "as run");
  REQUIRE(shown.waitFor([&] { return !comparison().equalBy; }));
  CHECK(shown.waitFor([&] { return !level->isVisible(); }));
  CHECK(
      shown.waitFor([&] { return shown.text("verdict").contains(QStringLiteral("Cooler Plover instead of Teasel")); }));
}

TEST_CASE("aCheckLeadsToTheRunsItMeans") {
  const PanelBook book;
  book.ashg(
      "run --book b.ashbook --study panels --setup mesh --sim larch12 --speed 100000 --seed 9 --phases 'soak 30s' "
      "--stop-rule 'cpu.temp > 40 for 1s' || true");
  tests::Shown shown(book);
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().report() && shown.window.desk().report()->runs.size() == 5; }));
  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  auto* checks = shown.window.findChild<QTableWidget*>(QStringLiteral("checks"));
  REQUIRE(checks->rowCount() > 0);
  CHECK(checks->item(0, 0)->text() == QStringLiteral("!!"));
  const QStringList runs = checks->item(0, 0)->data(Qt::UserRole).toStringList();
  checks->setFocus();
  checks->setCurrentCell(0, 0);
  QTest::keyClick(checks, Qt::Key_Return);
  REQUIRE(shown.waitFor([&] { return shown.window.page() == MainWindow::Traces; }));
  std::set<std::string> wanted;
  for (const QString& run : runs) wanted.insert(run.toStdString());
  CHECK(shown.window.traces()->choice().runs == wanted);
}

TEST_CASE("blocksAreLeftOutMovedAndCommentedByKeys") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(4);
  FormDriver form(shown.window);
  auto* list = shown.find<QListWidget>("blocks");
  const auto ids = [&] {
    QStringList all;
    for (int i = 0; i < list->count(); ++i) all << list->item(i)->data(Qt::UserRole).toString();
    return all;
  };
  const auto select = [&](const QString& id) {
    list->setFocus();
    list->setCurrentRow(static_cast<int>(ids().indexOf(id)));
  };
  auto* preview = shown.find<QTextBrowser>("preview");
  CHECK(preview->toPlainText().contains(QStringLiteral("Method")));
  select("method");
  QTest::keyClick(list, Qt::Key_Space);
  REQUIRE(shown.waitFor([&] { return shown.desk().plan().writeUp.leftOut == std::vector<std::string>{"method"}; }));
  CHECK_FALSE(preview->toPlainText().contains(QStringLiteral("figures by method"), Qt::CaseInsensitive));
  // Caveats go along whatever is pressed.
  select("caveats");
  QTest::keyClick(list, Qt::Key_Space);
  QTest::qWait(50);
  CHECK(shown.desk().plan().writeUp.leftOut.size() == 1);
  const auto before = ids().indexOf("result");
  select("result");
  QTest::keyClick(&shown.window, Qt::Key_Down, Qt::AltModifier);
  CHECK(ids().indexOf("result") == before + 1);
  CHECK(ids().first() == QStringLiteral("question"));
  select("answer");
  form.type(form.find<QPlainTextEdit>("block-comment"), "A desk is no stage.");
  QTest::keyClick(form.find<QPlainTextEdit>("block-comment"), Qt::Key_Return, Qt::ControlModifier);
  CHECK(shown.desk().plan().writeUp.comments.at("answer") == "A desk is no stage.");
  CHECK(preview->toPlainText().contains(QStringLiteral("A desk is no stage.")));
  shown.desk().undoStack().undo();
  CHECK_FALSE(preview->toPlainText().contains(QStringLiteral("A desk is no stage.")));
}

TEST_CASE("aBlockLeftOutIsTakenThoughAReportComesAtTheSameMoment") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(4);
  auto* list = shown.find<QListWidget>("blocks");
  const auto rowOf = [&](const QString& id) {
    for (int i = 0; i < list->count(); ++i)
      if (list->item(i)->data(Qt::UserRole).toString() == id) return i;
    return -1;
  };
  list->setFocus();
  list->setCurrentRow(rowOf("method"));
  QTest::keyClick(list, Qt::Key_Space);
  emit shown.desk().reportChanged();  // fills the list anew
  REQUIRE(
      shown.waitFor([&] { return shown.desk().plan().writeUp.leftOut == std::vector<std::string>{"method"}; }, 3000));
  CHECK(list->item(rowOf("method"))->checkState() == Qt::Unchecked);
}

TEST_CASE("aPageThatCannotBeWrittenSaysWhy") {
  const PanelBook book;
  ShownPanels shown(book);
  shown.go(4);
  FormDriver form(shown.window);
  form.type(form.find<QLineEdit>("export-path"), "/no such folder/page.html");
  QTest::mouseClick(form.find<QPushButton>("export"), Qt::LeftButton);
  auto* notice = shown.find<QLabel>("notice");
  REQUIRE(shown.waitFor([&] { return notice->isVisible(); }));
  CHECK(notice->text().contains(QStringLiteral("/no such folder/page.html")));
  CHECK(shown.text("written").isEmpty());
}

TEST_CASE("onlyWhatNothingBeatsIsABestTradeOff") {
  // Noise and temperature: lower is better in both. The third is beaten by the second.
  CHECK(bestTradeOffs({{30, 60}, {35, 50}, {36, 55}, {40, 45}}, false, false) == std::vector<size_t>{0, 1, 3});
  // Price and speed: cheap and fast.
  CHECK(bestTradeOffs({{10, 100}, {20, 90}, {5, 50}}, false, true) == std::vector<size_t>{2, 0});
  // Equal in both: neither beats the other.
  CHECK(bestTradeOffs({{1, 1}, {1, 1}}, false, false).size() == 2);
  CHECK(bestTradeOffs({}, false, false).empty());
}

TEST_CASE("repeatsThatWereCompletedAreOneBandOthersAreLines") {
  const PanelBook book;
  ShownPanels shown(book);
  StudyReport report = *shown.desk().report();
  TraceChoice choice;
  for (const auto& run : report.runs) choice.runs.insert(run->run.name);
  CHECK(traceGroups(report, choice).size() == 2);
  auto cut = std::make_shared<AnalyzedRun>(*report.runs[1]);
  cut->run.facts.outcome = Outcome::MachineWentDown;
  report.runs[1] = cut;
  report.summaries[1].info.outcome = Outcome::MachineWentDown;
  const auto groups = traceGroups(report, choice);
  REQUIRE(groups.size() == 3);
  CHECK(groups[0].runs.size() == 1);
  CHECK(groups[1].endMark.startsWith(QStringLiteral("went down")));
  CHECK(groups[1].dash != groups[0].dash);
  CHECK(groups[2].label == QStringLiteral("mesh, repeats 1, 2"));
  // A band holds its mean between its lowest and highest.
  const Band band = traceOf(groups[2], "cpu.temp", choice);
  REQUIRE(band.t.size() > 100);
  for (size_t i = 0; i < band.t.size(); ++i) CHECK((band.low[i] <= band.mean[i] && band.mean[i] <= band.high[i]));
  choice.runs.clear();
  CHECK(traceGroups(report, choice).empty());
}

TEST_CASE("theEntryDockCompletesRefusesAndRemembers") {
  EntryDock dock(nullptr);
  EntryDock::Context context;
  context.run = "mesh, repeat 2";
  context.moment = "at 12:31";
  context.isLive = true;
  context.byHand = {{"noise", "50 cm", OwedReading::When::Settled}};
  context.owed = context.byHand;
  dock.setContext(context);
  dock.show();
  auto* line = dock.findChild<QLineEdit*>(QStringLiteral("entry"));
  auto* preview = dock.findChild<QLabel*>(QStringLiteral("entry-preview"));
  QStringList kept;
  QObject::connect(&dock, &EntryDock::entered, [&](const QString& entered) { kept << entered; });
  line->setFocus();
  QTest::keyClicks(line, "no");
  QTest::keyClick(line, Qt::Key_Tab);
  CHECK(line->text() == QStringLiteral("noise "));
  QTest::keyClicks(line, "36.4 5");
  QTest::keyClick(line, Qt::Key_Tab);
  CHECK(line->text() == QStringLiteral("noise 36.4 50cm"));
  CHECK(preview->text().contains(QStringLiteral("noise 36.4\u202FdBA at 50 cm")));
  CHECK(preview->text().contains(QStringLiteral("Not settled yet")));
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(kept == QStringList{QStringLiteral("noise 36.4 50cm")});
  // It stays until it is kept.
  CHECK_FALSE(line->text().isEmpty());
  dock.showAnswer(true, {});
  CHECK(line->text().isEmpty());
  QTest::keyClicks(line, "noise loud");
  CHECK(preview->text().contains(QStringLiteral("needs a number")));
  QTest::keyClick(line, Qt::Key_Return);
  CHECK(kept.size() == 1);
  QTest::keyClick(line, Qt::Key_Escape);
  QTest::keyClick(line, Qt::Key_Up);
  CHECK(line->text() == QStringLiteral("noise 36.4 50cm"));
  QTest::keyClick(line, Qt::Key_Down);
  CHECK(line->text().isEmpty());
  auto* chip = dock.findChild<QPushButton*>(QStringLiteral("owed-noise"));
  REQUIRE(chip != nullptr);
  QTest::mouseClick(chip, Qt::LeftButton);
  CHECK(line->text() == QStringLiteral("noise "));
  context.run.clear();
  dock.setContext(context);
  CHECK_FALSE(line->isEnabled());
}

TEST_CASE("everySetupHasASignOfItsOwn") {
  std::set<QByteArray> shapes;
  for (int setup = 0; setup < 8; ++setup) {
    QImage image(20, 20, QImage::Format_ARGB32);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    look::paintSetupSign(painter, setup, {10, 10}, 14);
    painter.end();
    QByteArray shape;
    for (int y = 0; y < 20; ++y) {
      for (int x = 0; x < 20; ++x) shape += image.pixelColor(x, y).alpha() > 127 ? '#' : '.';
    }
    CHECK(shape.contains('#'));
    shapes.insert(shape);
  }
  CHECK(shapes.size() == 8);
}

TEST_CASE("segmentsAreChosenByMouseAndByKey") {
  look::Segments segments("Scale", {"°C", "over room", "headroom"}, nullptr);
  segments.show();
  int told = -1;
  QObject::connect(&segments, &look::Segments::changed, [&](int index) { told = index; });
  CHECK(segments.chosen() == 0);
  auto* last = segments.findChild<QPushButton*>(QStringLiteral("scale-headroom"));
  QTest::mouseClick(last, Qt::LeftButton);
  CHECK(told == 2);
  segments.activateWindow();
  REQUIRE(QTest::qWaitForWindowActive(&segments));
  last->setFocus();
  QTest::keyClick(last, Qt::Key_Left);
  CHECK(segments.chosen() == 1);
  segments.setChoiceEnabled(0, false, "no room");
  CHECK(segments.findChild<QPushButton*>(QStringLiteral("scale-°C"))->toolTip() == QStringLiteral("no room"));
}

namespace {

/// Counts how often it was filled in.
class CountingStation : public StudyStation {
 public:
  explicit CountingStation(StudyDesk& desk) : StudyStation(desk, nullptr) {}
  using StudyStation::refreshIfStale;
  using StudyStation::refreshWhenSeen;
  int count = 0;

 protected:
  void refresh() override { ++count; }
};

}  // namespace

TEST_CASE("aStationIsFilledInWhenItIsSeenAndNoOftenerThanNeeded") {
  StudyDesk desk(nullptr);
  CountingStation station(desk);
  station.refreshWhenSeen();
  station.refreshWhenSeen();
  CHECK(station.count == 0);
  station.show();
  CHECK(station.count == 1);
  station.refreshWhenSeen();
  CHECK(station.count == 2);
  station.hide();
  station.show();  // nothing has changed meanwhile
  CHECK(station.count == 2);
  station.hide();
  station.refreshWhenSeen();
  CHECK(station.count == 2);
  station.refreshIfStale();  // somebody asks it for something before it is seen
  station.show();
  CHECK(station.count == 3);
}
