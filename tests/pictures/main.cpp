// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window through the demo book and takes a picture of a station: docs/take-screenshots calls it.
// usage: ash-pictures RECORDER BOOK FOLDER --page NAME [--dark] [--name NAME] …
#include <QApplication>
#include <QComboBox>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QTest>
#include <cstdio>

#include "app/attached/pictures.h"
#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/readings/bench_rows.h"
#include "app/shell/main_window.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "app/watch/watch_station.h"
#include "app/writeup/page_preview.h"
#include "app/writeup/writeup_station.h"
#include "tests/support/form_driver.h"

using namespace ash;

namespace {

// Waits until the study is worked out.
bool waitForFigures(MainWindow& window) {
  return QTest::qWaitFor(
      [&] {
        return window.desk().report() && window.desk().toWorkOut() > 0 &&
               window.desk().workedOut() == window.desk().toWorkOut();
      },
      60'000);
}

// Starts the next run of the plan and watches it up to a bench time.
bool watchRun(MainWindow& window, const QString& setup, const QString& load, double atS) {
  tests::FormDriver form(window);
  window.goTo(MainWindow::Plan);
  window.plan()->showCell(setup, load);
  QTest::mouseClick(form.find<QPushButton>("run-this-cell"), Qt::LeftButton);
  if (form.find<QPushButton>("confirm-change")->isVisible())
    QTest::mouseClick(form.find<QPushButton>("confirm-change"), Qt::LeftButton);
  QTest::mouseClick(form.find<QPushButton>("plan-start"), Qt::LeftButton);
  if (!QTest::qWaitFor([&] { return window.watch()->model().isGoingOn(); }, 15'000)) return false;
  bool hasNoted = false;
  QElapsedTimer clock;
  clock.start();
  while (clock.elapsed() < 180'000 && window.watch()->model().lastTimeS() < atS) {
    QTest::qWait(50);
    if (!hasNoted && window.watch()->model().lastTimeS() > 480) {
      form.enter("note window shut");
      hasNoted = true;
    }
    if (window.watch()->model().outcome()) break;
  }
  return true;
}

// The sentence with its gaps filled, answered while it was typed.
void typeInstrument(MainWindow& window, const QString& address) {
  tests::FormDriver form(window);
  QTest::mouseClick(form.find<QPushButton>("outside-add"), Qt::LeftButton);
  form.type(form.find<QLineEdit>("outside-address"), address);
  form.type(form.find<QLineEdit>("outside-asked"), "MEAS:POW?");
  form.type(form.find<QLineEdit>("outside-accuracy"), "0.5 % + 0.2 W");
  form.type(form.find<QLineEdit>("outside-name"), "second meter");
  QTest::qWait(2'500);
}

// The sheet of a log, read to its end.
bool openLog(MainWindow& window, const QString& path, bool isBeside) {
  window.openLog(path);
  const auto isRead = [&] {  // understood or refused
    const QString foot = window.findChild<QLabel*>("log-foot")->text();
    return !foot.isEmpty() && !foot.startsWith("Reading");
  };
  if (!QTest::qWaitFor(isRead, 30'000)) return false;
  if (!isBeside) return true;
  window.findChild<QComboBox*>("log-as")->setCurrentIndex(1);
  return QTest::qWaitFor(isRead, 30'000);
}

}  // namespace

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  QCommandLineParser parser;
  parser.addOptions({{"dark", "dark"},
                     {"strong", "strong contrast"},
                     {"root", "root", "dir"},
                     {"select", "select", "id"},
                     {"live", "the run that goes on"},
                     {"warm", "which one is this?"},
                     {"outside", "one more instrument is typed in", "host:port"},
                     {"page", "page", "name", "plan"},
                     {"name", "picture", "name", "plan"},
                     {"study", "study", "name", "Which side panel?"},
                     {"setup", "setup", "name", "Mesh + dust filter"},
                     {"load", "load", "name", "All cores"},
                     {"at", "bench seconds", "s", "1100"},
                     {"speed", "times real time", "x", "120"},
                     {"phases", "phases of the plan", "text"},
                     {"new-study", "the form of a new study"},
                     {"ladders", "the ladders of the study in place of the grid"},
                     {"knobs", "the knobs of the setup in place of the grid"},
                     {"plan-more", "one repeat more is planned, so that there is a next run"},
                     {"phone", "the page as a phone shows it"},
                     {"far", "the run over the whole screen", "across or figures"},
                     {"block", "block of the page", "id"},
                     {"start", "Start is pressed before the picture is taken"},
                     {"press", "buttons of the station that are pressed, by their words", "words,…"},
                     {"key", "a key that is pressed in the window", "as F1"},
                     {"slide", "a slider and its value", "name=value"},
                     {"font", "font size", "px", "0"},
                     {"log", "a log is about to be taken in", "file"},
                     {"beside", "beside the last run"},
                     {"picture", "the first file that is kept, over the page"},
                     {"also", "a setup of another study, shown beside", "study/setup"},
                     {"size", "window", "WxH", "1280x800"}});
  parser.process(app);
  const QStringList files = parser.positionalArguments();
  if (files.size() < 2) {
    std::fputs("usage: ash-pictures RECORDER FOLDER [BOOK] [options]\n", stderr);
    return 2;
  }
  if (parser.value("font").toInt() > 0) {
    QFont font = QApplication::font();
    font.setPixelSize(parser.value("font").toInt());
    QApplication::setFont(font);
  }
  const look::Theme usual = parser.isSet("dark") ? look::Theme::soot() : look::Theme::paper();
  look::applyTheme(app, parser.isSet("strong") ? usual.strong() : usual);
  MainWindow window(files[0], nullptr, parser.value("root"));
  const QStringList size = parser.value("size").split('x');
  window.resize(size[0].toInt(), size[1].toInt());
  window.show();
  const QString page = parser.value("page");
  if (files.size() > 2) {
    window.openBook(files[2]);
    if (!QTest::qWaitFor([&] { return window.desk().hasBook() && window.desk().study() != nullptr; }, 15'000)) return 3;
    window.desk().chooseStudy(parser.value("study"));
    if (!parser.isSet("live") && !window.desk().runs().empty() && !waitForFigures(window)) return 3;
  }
  if (parser.isSet("also")) {
    const QStringList also = parser.value("also").split('/');
    window.desk().edit("also", [&](Study&, StudyPlan& plan) {
      plan.alsoShown.push_back({{}, also[0].toStdString(), also[1].toStdString(), {}});
    });
    const auto isRead = [&] { return window.desk().report() && !window.desk().report()->earlier.empty(); };
    if (!QTest::qWaitFor(isRead, 30'000)) return 3;
  }
  const QStringList pages = {"plan", "watch", "traces", "standings", "write-up", "readings"};
  if (parser.isSet("phases"))
    window.desk().edit("phases", [&](Study&, StudyPlan& plan) { plan.phases = parser.value("phases").toStdString(); });
  if (page == "watch" && parser.isSet("live")) {
    window.goTo(ash::MainWindow::Watch);
    QTest::qWait(4'000);
  } else if (page == "watch") {
    window.desk().edit("speed", [&](Study&, StudyPlan& plan) { plan.speed = parser.value("speed").toDouble(); });
    QTest::qWait(500);
    if (!watchRun(window, parser.value("setup"), parser.value("load"), parser.value("at").toDouble())) return 3;
    tests::FormDriver(window).typeEntry("noise 36.4 5");
  } else if (page != "start" && !parser.isSet("log")) {
    window.goTo(static_cast<int>(pages.indexOf(page)));
  }
  if (parser.isSet("log") && !openLog(window, parser.value("log"), parser.isSet("beside"))) return 3;
  if (parser.isSet("plan-more")) {
    window.desk().edit("repeats", [](Study&, StudyPlan& plan) { plan.repeats = 4; });
    QTest::qWait(300);
  }
  if (parser.isSet("new-study")) {
    window.plan()->showNewStudy();
    tests::FormDriver form(window);
    form.type(form.find<QLineEdit>("new-study-name"), "Which cooler?");
    form.type(form.find<QLineEdit>("new-study-more-loads"), "Cores and graphics = vector + graphics size=640x360");
  } else if (page == "plan")
    window.plan()->showCell(parser.value("setup"), parser.value("load"));
  if (parser.isSet("ladders")) window.plan()->showLadders(true);
  if (parser.isSet("knobs")) window.plan()->showKnobs();
  for (const char* box : {"traces-load", "standings-load"}) {
    tests::FormDriver form(window);
    form.choose(form.find<QComboBox>(box), parser.value("load"));
  }
  if (page == "traces") {
    auto* subtract = window.findChild<QComboBox*>("subtract");
    tests::FormDriver(window).choose(subtract, "Solid");
    window.traces()->lanes()->setCursor(806);
  }
  if (page == "readings") {
    QTest::qWait(3'000);
    if (parser.isSet("select")) window.findChild<BenchRows*>()->select(parser.value("select"));
    if (parser.isSet("outside")) typeInstrument(window, parser.value("outside"));
    if (parser.isSet("warm")) {
      QTest::mouseClick(window.findChild<QPushButton*>("warm"), Qt::LeftButton);
      QTest::qWait(32'000);
    }
  }
  if (parser.isSet("phone")) {
    for (auto* button : window.writeUp()->findChildren<QPushButton*>())
      if (button->text() == "phone") QTest::mouseClick(button, Qt::LeftButton);
  }
  if (parser.isSet("key")) QTest::keySequence(&window, QKeySequence(parser.value("key")));
  for (const QString& words : parser.value("press").split(',', Qt::SkipEmptyParts)) {
    for (auto* button : window.findChildren<QPushButton*>())
      if (button->text() == words && button->isVisible()) QTest::mouseClick(button, Qt::LeftButton);
    QTest::qWait(300);
  }
  for (const QString& slide : parser.values("slide"))
    window.findChild<QSlider*>(slide.section('=', 0, 0))->setValue(slide.section('=', 1).toInt());
  if (parser.isSet("block")) {
    QTest::qWait(300);
    window.findChild<PagePreview*>()->goTo(parser.value("block"));
  }
  if (parser.isSet("start")) {
    tests::FormDriver form(window);
    if (form.find<QPushButton>("confirm-change")->isVisible())
      QTest::mouseClick(form.find<QPushButton>("confirm-change"), Qt::LeftButton);
    QTest::qWait(3'500);
    QTest::mouseClick(form.find<QPushButton>("plan-start"), Qt::LeftButton);
  }
  if (parser.isSet("picture") && !window.desk().attachments().empty()) {
    emit window.pictures().openWanted(window.desk().attachments().front().id);
    QTest::qWait(1'500);
  }
  if (parser.isSet("far")) {
    const bool isFigures = parser.value("far") == "figures";
    QTest::keyClick(&window, Qt::Key_F11, isFigures ? Qt::ShiftModifier : Qt::NoModifier);
  }
  QTest::qWait(page == "plan" ? 4'500 : 900);
  const QString path = files[1] + "/" + parser.value("name") + ".png";
  QWidget* shown = &window;
  if (auto* far = window.findChild<QWidget*>("far-view")) {
    // As large as a screen, of which there is none here.
    const QStringList sides = parser.value("size").split(QLatin1Char('x'));
    far->resize(sides[0].toInt(), sides[1].toInt());
    shown = far;
  }
  if (!shown->grab().save(path)) return 3;
  std::puts(qPrintable(path));
  if (window.watch()->model().isGoingOn()) {
    QTest::keyClick(&window, Qt::Key_Period, Qt::ControlModifier);
    for (int i = 0; i < 100 && window.watch()->model().isGoingOn(); ++i) QTest::qWait(50);
  }
  return 0;
}
