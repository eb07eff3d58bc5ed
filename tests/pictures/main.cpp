// SPDX-License-Identifier: GPL-3.0-or-later
// Drives the real window through a run on the simulated bench and takes pictures of it: docs/take-screenshots calls it.
// usage: ash-pictures RECORDER BOOK FOLDER [--dark] [--load KIND] [--setup NAME] [--name NAME] [--at BENCH_SECONDS]
#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QTest>
#include <cstdio>

#include "app/look/theme.h"
#include "app/shell/main_window.h"
#include "app/watch/watch_station.h"
#include "tests/support/form_driver.h"

using namespace ash;

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  QCommandLineParser parser;
  parser.addOptions({{"dark", "dark"},
                     {"load", "load", "kind", "vector"},
                     {"setup", "setup", "name", "solid"},
                     {"name", "picture", "name", "watch"},
                     {"at", "bench seconds", "s", "1100"},
                     {"speed", "speed", "x", "120"},
                     {"bench", "bench", "name", "larch12"},
                     {"phases", "phases", "text", "idle 2min, soak settled 8min..40min, measure 5min, cool 3min"},
                     {"show-only", "open the book only"}});
  parser.process(app);
  const QStringList files = parser.positionalArguments();
  if (files.size() != 3) {
    std::fputs("usage: ash-pictures RECORDER BOOK FOLDER [options]\n", stderr);
    return 2;
  }
  look::applyTheme(app, parser.isSet("dark") ? look::Theme::soot() : look::Theme::paper());
  MainWindow window(files[0]);
  window.resize(1280, 800);
  window.openBook(files[1]);
  window.show();
  QTest::qWait(600);
  if (!parser.isSet("show-only")) {
    tests::FormDriver form(window);
    form.fill("Which side panel?", parser.value("setup"), parser.value("bench"), parser.value("load"),
              parser.value("phases"), parser.value("speed").toDouble());
    form.start();
    if (!QTest::qWaitFor([&] { return window.watch()->model().isGoingOn(); }, 15'000)) return 3;
    QElapsedTimer clock;
    clock.start();
    bool hasNoted = false;
    while (clock.elapsed() < 120'000 && window.watch()->model().lastTimeS() < parser.value("at").toDouble()) {
      QTest::qWait(50);
      if (!hasNoted && window.watch()->model().lastTimeS() > 420) {
        form.note("window shut");
        hasNoted = true;
      }
      if (window.watch()->model().hasRun() && window.watch()->model().outcome()) break;
    }
  }
  QTest::qWait(400);
  const QString path = files[2] + "/" + parser.value("name") + ".png";
  if (!window.grab().save(path)) return 3;
  std::puts(qPrintable(path));
  if (window.watch()->model().isGoingOn()) {
    QTest::keyClick(&window, Qt::Key_Period, Qt::ControlModifier);
    for (int i = 0; i < 100 && window.watch()->model().isGoingOn(); ++i) QTest::qWait(50);
  }
  return 0;
}
