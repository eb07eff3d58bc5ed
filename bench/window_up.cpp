// SPDX-License-Identifier: GPL-3.0-or-later
// How long until the window is up, against an empty window with the same libraries; and until a book is open in it.
// usage: window_up empty | gauge [BOOK]      prints milliseconds since the program began; the process ends at once
#include <qcustomplot.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QMainWindow>
#include <QSvgRenderer>
#include <QTest>
#include <cstdio>
#include <cstring>

#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/shell/main_window.h"

namespace {

template <typename Window>
void waitUntilUp(Window& window) {
  window.resize(1280, 800);
  window.show();
  static_cast<void>(QTest::qWaitForWindowExposed(&window));
  QCoreApplication::processEvents();
}

}  // namespace

int main(int argc, char** argv) {
  QElapsedTimer clock;
  clock.start();
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  const bool isEmpty = argc < 2 || std::strcmp(argv[1], "empty") == 0;
  if (isEmpty) {
    QMainWindow window;
    // The same libraries are loaded: one symbol of each is used.
    window.setProperty("libraries", QSvgRenderer().isValid() ? 1.0 : QCPRange(0, 1).size());
    waitUntilUp(window);
    std::printf("up %.1f ms\n", static_cast<double>(clock.nsecsElapsed()) / 1e6);
    return 0;
  }
  ash::look::applyTheme(app, ash::look::Theme::paper());
  ash::MainWindow window(QStringLiteral("ashg"));
  waitUntilUp(window);
  std::printf("up %.1f ms\n", static_cast<double>(clock.nsecsElapsed()) / 1e6);
  if (argc < 3) return 0;
  QTest::qWait(300);  // its first page
  clock.restart();
  window.openBook(QString::fromLocal8Bit(argv[2]));
  if (!QTest::qWaitFor([&] { return window.desk().study() != nullptr && window.plan()->isVisible(); }, 60'000))
    return 1;
  QCoreApplication::processEvents();
  std::printf("open with %zu runs %.1f ms\n", window.desk().allRuns().size(),
              static_cast<double>(clock.nsecsElapsed()) / 1e6);
  if (!QTest::qWaitFor(
          [&] { return window.desk().toWorkOut() > 0 && window.desk().workedOut() == window.desk().toWorkOut(); },
          120'000))
    return 1;
  std::printf("its study worked out %.1f ms\n", static_cast<double>(clock.nsecsElapsed()) / 1e6);
  return 0;
}
