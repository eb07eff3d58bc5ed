// SPDX-License-Identifier: GPL-3.0-or-later
// The whole work by key and mouse: a new study, two setups, runs on the simulated bench, a typed reading, the
// standings, the exported page; and every figure of that page held against `ashg compare`.
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QTableWidget>
#include <QTest>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/finder/finder.h"
#include "app/plan/next_panel.h"
#include "app/plan/plan_station.h"
#include "app/standings/standings_station.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "model/json.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "tests/support/desk.h"

using namespace ash;
using tests::Desk;
using tests::FormDriver;
using tests::Shown;

namespace {

constexpr const char* kQuickRun = "idle 30s, soak settled 2min..12min, measure 1min, cool 20s";

QString text(const std::string& utf8) { return QString::fromStdString(utf8); }

// Makes a study of two setups by typing it into the form.
void typeStudy(Shown& shown) {
  FormDriver form(shown.window);
  REQUIRE(form.find<QLineEdit>("new-study-name")->isVisible());
  QTest::keyClicks(form.find<QLineEdit>("new-study-name"), "Which side panel?");
  form.type(form.find<QLineEdit>("new-study-question"), "Does a mesh panel keep it cooler?");
  auto* setups = form.find<QPlainTextEdit>("new-study-setups");
  setups->setFocus();
  QTest::keyClicks(setups, "Solid");
  QTest::keyClick(setups, Qt::Key_Return);
  QTest::keyClicks(setups, "Mesh");
  form.choose(form.find<QComboBox>("new-study-bench"), "larch12");
  QTest::mouseClick(form.find<QPushButton>("make-study"), Qt::LeftButton);
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().study() != nullptr && shown.window.desk().study()->id != 0; }));
}

void typePhases(Shown& shown, const QString& phases) {
  FormDriver form(shown.window);
  QTest::mouseClick(form.find<QPushButton>("change-phases"), Qt::LeftButton);
  form.type(form.find<QLineEdit>("plan-phases"), phases);
  QTest::keyClick(form.find<QLineEdit>("plan-phases"), Qt::Key_Return);
}

// Confirms the change by hand where one is asked for, starts the next run, types a line into it, waits for its end.
void runNext(Shown& shown, const QString& line) {
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  auto* confirm = form.find<QPushButton>("confirm-change");
  auto* start = form.find<QPushButton>("plan-start");
  if (confirm->isVisible()) {
    CHECK_FALSE(start->isEnabled());
    QTest::mouseClick(confirm, Qt::LeftButton);
  }
  REQUIRE(start->isEnabled());
  QTest::mouseClick(start, Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn(); }));
  REQUIRE(shown.waitFor([&] { return shown.model().isGoingOn() && shown.model().lastTimeS() > 60; }));
  if (!line.isEmpty()) form.enter(line);
  REQUIRE(shown.waitFor([&] { return shown.model().hasRun() && !shown.model().isGoingOn(); }, 60'000));
  REQUIRE(*shown.model().outcome() == Outcome::Completed);
}

void waitForFigures(Shown& shown, size_t runs) {
  REQUIRE(shown.waitFor([&] {
    StudyDesk& desk = shown.window.desk();
    return desk.runs().size() == runs && desk.report() && desk.report()->runs.size() == runs &&
           desk.workedOut() == desk.toWorkOut();
  }));
}

Json compareByCommand(const Desk& desk, const std::string& ids) {
  const std::string out = desk.path("compare.json");
  const std::string command =
      std::string(ASHG_PROGRAM) + " compare " + ids + " --book " + desk.book().toStdString() + " --json >" + out;
  REQUIRE(std::system(command.c_str()) == 0);
  return Json::parse(tests::readFile(out));
}

/// A number as it is written, and the place of its last digit that is not a filling zero.
struct Written {
  double number = 0, place = 1;
};

Written writtenIn(const QString& words) {
  static const QRegularExpression kNumber(QStringLiteral("[−-]?[0-9][0-9\u202F]*(?:\\.[0-9]+)?"));
  QString number = kNumber.match(words).captured();
  number.remove(QChar(0x202F)).replace(QChar(0x2212), QLatin1Char('-'));
  const auto point = number.indexOf(QLatin1Char('.'));
  Written written{number.toDouble(), 1};
  if (point >= 0) written.place = std::pow(10.0, static_cast<double>(point + 1 - number.size()));
  for (auto at = number.size() - 1; point < 0 && at > 0 && number[at] == QLatin1Char('0'); --at) written.place *= 10;
  return written;
}

// Every figure on the page: its number unrounded, and as it is written, against the command's.
int checkFigures(QString page, const Json& compared) {
  // Numbers lead to their notes.
  page.remove(QRegularExpression(QStringLiteral("<a href=\"#note-[^\"]*\">|</a>")));
  const QRegularExpression figure(
      QStringLiteral("<(?:td|b class=\"figure\") data-run=\"([^\"]+)\" data-metric=\"([^\"]+)\" "
                     "data-(value|difference)=\"([^\"]+)\"[^>]*>([^<]*)"));
  int checked = 0;
  for (auto match = figure.globalMatch(page); match.hasNext();) {
    const auto found = match.next();
    const std::string run = found.captured(1).toStdString(), metric = found.captured(2).toStdString();
    INFO(run << " " << metric);
    const Json* row = nullptr;
    for (const Json& candidate : compared["rows"]) {
      if (candidate["run"] == run) row = &candidate;
    }
    REQUIRE(row != nullptr);
    REQUIRE((*row)["metrics"].contains(metric));
    const Json& same = (*row)["metrics"][metric];
    CHECK(found.captured(4).toDouble() == Approx(same[found.captured(3).toStdString()].get<double>()).epsilon(1e-12));
    if (found.captured(3) == QStringLiteral("value")) {
      const double shown = shownValue(metric, same["value"].get<double>());
      const double half = shownValue(metric, (same["ci_high"].get<double>() - same["ci_low"].get<double>()) / 2);
      const Written value = writtenIn(found.captured(5).section(QStringLiteral("± "), 0, 0));
      CHECK(std::abs(value.number - shown) <= 0.501 * value.place);
      if (found.captured(5).contains(QStringLiteral("± "))) {
        const Written margin = writtenIn(found.captured(5).section(QStringLiteral("± "), 1));
        CHECK(std::abs(margin.number - half) <= 0.501 * margin.place);
        // To the same place, the uncertainty to two digits at most (JCGM 100:2008, 7.2.6).
        CHECK(margin.number < 100 * margin.place);
      } else {
        CHECK(half == 0);
      }
    } else {
      const QString low =
          text(signedText(shownValue(metric, same["difference_low"].get<double>()), Figure(metric).digits()));
      const QString size =
          text(numberText(std::abs(shownValue(metric, same["difference"].get<double>())), Figure(metric).digits()));
      CHECK((found.captured(5).contains(size) || found.captured(5).startsWith(low)));
    }
    ++checked;
  }
  return checked;
}

}  // namespace

TEST_CASE("fromTheQuestionToTheExportedPage") {
  const Desk desk;
  Shown shown(desk);
  typeStudy(shown);
  FormDriver form(shown.window);
  const Study& study = *shown.window.desk().study();
  CHECK(study.setups.size() == 2);
  CHECK(shown.window.desk().plan().underTest == std::vector<std::string>{"panel"});
  typePhases(shown, kQuickRun);
  CHECK(shown.window.desk().plan().phases == "idle 30s, soak settled 2min..12min, measure 1min, cool 20s");
  auto* speed = form.find<QSpinBox>("plan-speed");
  form.type(speed, "600");
  QTest::keyClick(speed, Qt::Key_Tab);
  CHECK(shown.window.desk().plan().speed == 600);
  form.type(form.find<QLineEdit>("by-hand"), "noise 50 cm");
  QTest::keyClick(form.find<QLineEdit>("by-hand"), Qt::Key_Return);
  auto* repeats = form.find<QSpinBox>("repeats");
  form.type(repeats, "1");
  QTest::keyClick(repeats, Qt::Key_Tab);
  CHECK(shown.window.desk().runsToDo().size() == 2);

  runNext(shown, "noise 38.5 50cm");
  waitForFigures(shown, 1);
  REQUIRE(shown.waitFor([&] {
    return shown.window.plan()->nextPanel()->next() && shown.window.plan()->nextPanel()->next()->setup == "Mesh";
  }));
  runNext(shown, {});
  waitForFigures(shown, 2);
  CHECK(shown.window.desk().runsToDo().empty());
  const auto book = desk.open();
  const auto runs = *book.runs();
  const auto first = *book.readRun(runs[0].info.id);
  const auto typed = std::find_if(first.facts.events.begin(), first.facts.events.end(),
                                  [](const Event& event) { return event.kind == EventKind::Reading; });
  REQUIRE(typed != first.facts.events.end());
  CHECK(typed->value == 38.5);
  CHECK(typed->role == "noise");
  CHECK(typed->extra["place"] == "50 cm");

  QTest::keyClick(&shown.window, Qt::Key_4, Qt::ControlModifier);
  CHECK(shown.window.standings()->isVisible());
  const QString verdict = shown.text("verdict");
  CHECK(verdict.contains(QStringLiteral("cooler</b> than Solid")));

  QTest::keyClick(&shown.window, Qt::Key_5, Qt::ControlModifier);
  auto* list = form.find<QListWidget>("blocks");
  CHECK(list->count() >= 8);
  form.type(form.find<QPlainTextEdit>("block-comment"), "Worth its price.");
  QTest::keyClick(form.find<QPlainTextEdit>("block-comment"), Qt::Key_Return, Qt::ControlModifier);
  const QString path = text(desk.path("page.html"));
  form.type(form.find<QLineEdit>("export-path"), path);
  QTest::mouseClick(form.find<QPushButton>("export"), Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return shown.text("written").contains(QStringLiteral("page.html")); }));
  const std::string page = tests::readFile(path.toStdString());
  CHECK(page.find("Worth its price.") != std::string::npos);

  // The command line writes the same bytes, and its comparison has the same numbers.
  const std::string command = std::string(ASHG_PROGRAM) + " report 'Which side panel?' --book " +
                              desk.book().toStdString() + " --to " + desk.path("out") + " >/dev/null";
  REQUIRE(std::system(command.c_str()) == 0);
  CHECK(tests::readFile(desk.path("out/which-side-panel.html")) == page);
  const Json compared = compareByCommand(desk, runs[0].info.id + " " + runs[1].info.id);
  CHECK(checkFigures(text(page), compared) > 40);
}

TEST_CASE("everyEditCanBeUndoneAndDoneAgain") {
  const Desk desk;
  Shown shown(desk);
  typeStudy(shown);
  FormDriver form(shown.window);
  StudyDesk& study = shown.window.desk();
  const auto key = [&](Qt::Key k, Qt::KeyboardModifiers modifiers) {
    shown.window.plan()->focusGrid();
    QTest::keyClick(&shown.window, k, modifiers);
  };
  form.type(form.find<QLineEdit>("question"), "Is mesh worth it?");
  QTest::keyClick(form.find<QLineEdit>("question"), Qt::Key_Return);
  CHECK(study.study()->question == "Is mesh worth it?");
  key(Qt::Key_D, Qt::ControlModifier);
  REQUIRE(study.study()->setups.size() == 3);
  CHECK(form.find<QLineEdit>("setup-name")->hasFocus());
  QTest::keyClicks(form.find<QLineEdit>("setup-name"), "Solid, fans up");
  QTest::keyClick(form.find<QLineEdit>("setup-name"), Qt::Key_Return);
  CHECK(study.study()->setups[2].name == "Solid, fans up");
  CHECK(study.study()->setups[2].conditions["panel"] == "solid");
  const auto kept = [&] { return desk.open().studies()->front(); };
  REQUIRE(shown.waitFor([&] { return kept().setups.size() == 3 && kept().setups[2].name == "Solid, fans up"; }));
  key(Qt::Key_Z, Qt::ControlModifier);
  key(Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return kept().setups.size() == 2; }));
  key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  REQUIRE(shown.waitFor([&] { return kept().setups.size() == 3; }));
  CHECK(kept().question == "Is mesh worth it?");
  for (int i = 0; i < 10 && study.undoStack().canUndo(); ++i) key(Qt::Key_Z, Qt::ControlModifier);
  REQUIRE(shown.waitFor([&] { return desk.open().studies()->empty(); }));
  key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  REQUIRE(shown.waitFor([&] { return desk.open().studies()->size() == 1 && kept().setups.size() == 2; }));
}

TEST_CASE("aRunIsMadeVoidWithItsReasonAndCountsAgain") {
  const Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup solid --sim larch12 --speed 100000 --phases 'idle 20s, soak 3min, "
      "measure 1min'");
  Shown shown(desk);
  waitForFigures(shown, 1);
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_1, Qt::ControlModifier);
  auto* button = form.find<QPushButton>("void-run");
  CHECK_FALSE(button->isEnabled());  // a reason is asked for
  form.type(form.find<QLineEdit>("void-reason"), "left a cable in the fan");
  REQUIRE(button->isEnabled());
  QTest::mouseClick(button, Qt::LeftButton);
  const auto run = [&] { return desk.open().runs()->front().info; };
  REQUIRE(shown.waitFor([&] { return run().outcome == Outcome::Void; }));
  CHECK(run().reason == "left a cable in the fan");
  REQUIRE(shown.waitFor([&] { return button->text() == QStringLiteral("Count it again"); }));
  QTest::mouseClick(button, Qt::LeftButton);
  REQUIRE(shown.waitFor([&] { return run().outcome == Outcome::Completed; }));
  CHECK(run().reason.empty());
}

TEST_CASE("theFinderLeadsToStationsStudiesAndRuns") {
  const Desk desk;
  desk.ashg("run --book b.ashbook --study first --setup solid --sim larch12 --speed 100000 --phases 'soak 1min'");
  desk.ashg("run --book b.ashbook --study second --setup mesh --sim larch12 --speed 100000 --phases 'soak 1min'");
  Shown shown(desk);
  FormDriver form(shown.window);
  const auto find = [&](const char* words) {
    QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
    auto* line = form.find<QLineEdit>("finder-line");
    REQUIRE(line->isVisible());
    QTest::keyClicks(line, words);
    QTest::keyClick(line, Qt::Key_Return);
  };
  find("go stand");
  CHECK(shown.window.page() == MainWindow::Standings);
  find("second study");
  CHECK(shown.window.desk().study()->name == "second");
  find("mesh repeat 1");
  CHECK(shown.window.page() == MainWindow::Watch);
  REQUIRE(shown.waitFor([&] { return shown.model().hasRun() && shown.model().info().setup == "mesh"; }));
  QTest::keyClick(&shown.window, Qt::Key_K, Qt::ControlModifier);
  QTest::keyClick(form.find<QLineEdit>("finder-line"), Qt::Key_Escape);
  CHECK_FALSE(form.find<QLineEdit>("finder-line")->isVisible());
}

TEST_CASE("theFinderRanksBeginningsOfWordsFirst") {
  CHECK(finderRank("Go to Plan", "plan") >= 0);
  CHECK(finderRank("Go to Plan", "xyz") < 0);
  CHECK(finderRank("Go to Plan", "go pl") >= 0);
  CHECK(finderRank("Plan", "pl") < finderRank("Explain", "pl"));
  CHECK(finderRank("anything", "") == 0);
}

TEST_CASE("aFirstStartShowsThreeWaysInAndEveryKeyLeadsSomewhere") {
  MainWindow window(QStringLiteral(ASHG_PROGRAM));
  window.show();
  REQUIRE(QTest::qWaitForWindowExposed(&window));
  CHECK(window.page() == MainWindow::Start);
  REQUIRE(
      QTest::qWaitFor([&] { return window.findChild<QPushButton*>(QStringLiteral("open-demo")) != nullptr; }, 3000));
  for (const char* way : {"open-demo", "new-book", "log-now", "open-book"}) {
    auto* button = window.findChild<QPushButton*>(QLatin1String(way));
    REQUIRE(button != nullptr);
    CHECK(QTest::qWaitFor([&] { return button->isVisible(); }, 2000));
    CHECK(button->isEnabled());
  }
  QTest::keyClick(&window, Qt::Key_6, Qt::ControlModifier);
  CHECK(window.page() == MainWindow::Readings);
  QTest::keyClick(&window, Qt::Key_1, Qt::ControlModifier);
  CHECK(window.page() == MainWindow::Start);
}

TEST_CASE("tracesShowPickedRunsAndFiguresOfAWindowOfOnesOwn") {
  const Desk desk;
  for (const char* setup : {"solid", "mesh"}) {
    for (const char* seed : {"1", "2"})
      desk.ashg(std::string("run --book b.ashbook --study s --setup ") + setup +
                " --sim larch12 --speed 100000 --seed " + seed +
                " --phases 'idle 1min, soak 8min, measure 4min, cool 1min'");
  }
  Shown shown(desk);
  waitForFigures(shown, 4);
  FormDriver form(shown.window);
  QTest::keyClick(&shown.window, Qt::Key_3, Qt::ControlModifier);
  auto* table = form.find<QTableWidget>("window-figures");
  REQUIRE(shown.waitFor([&] { return table->rowCount() == 2; }));
  CHECK(shown.window.traces()->lanes()->laneCount() == 3);
  CHECK(table->item(0, 0)->text() == QStringLiteral("solid, repeats 1, 2"));
  // The figure of the default window is the one that the comparison quotes.
  const auto& report = *shown.window.desk().report();
  const double quoted = report.loads[0].comparison.rows[1].metrics.at("cpu.over_ambient_k").value;
  CHECK(table->item(1, 1)->text().startsWith(text(numberText(quoted, 1))));
  form.choose(form.find<QComboBox>("subtract"), "solid");
  CHECK(shown.window.traces()->lanes()->laneCount() == 4);
  // A window of one's own, moved by keys.
  form.choose(form.find<QComboBox>("window-choice"), "my own");
  const double before = shown.window.traces()->choice().window.startS;
  auto* strip = form.find<QWidget>("window-strip");
  strip->setFocus();
  QTest::keyClick(strip, Qt::Key_Right);
  CHECK(shown.window.traces()->choice().window.startS == Approx(before + 10));
  // Space hides a run; a setup of one run is a line of its own.
  auto* picks = form.find<QWidget>("run-picks");
  picks->setFocus();
  QTest::keyClick(picks, Qt::Key_Space);
  CHECK(table->item(0, 0)->text() == QStringLiteral("solid, repeat 2"));
  // Copied as tab-separated text with its heads.
  table->setFocus();
  table->selectAll();
  QTest::keyClick(table, Qt::Key_C, Qt::ControlModifier);
  const QString copied = QApplication::clipboard()->text();
  CHECK(copied.startsWith(QStringLiteral("In the windows\tover room\t")));
  CHECK(copied.count(QLatin1Char('\n')) == 3);
}
