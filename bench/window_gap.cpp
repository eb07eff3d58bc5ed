// SPDX-License-Identifier: GPL-3.0-or-later
// How long the interface thread is kept busy while a run is recorded and drawn: a 2 ms timer looks at the gaps between
// its own ticks. usage: window_gap RECORDER FOLDER SECONDS SPEED
#include <QApplication>
#include <QElapsedTimer>
#include <QTest>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <vector>

#include "app/look/theme.h"
#include "app/shell/main_window.h"
#include "app/watch/watch_station.h"
#include "tests/support/form_driver.h"

int main(int argc, char** argv) {
  if (argc != 5) {
    std::fputs("usage: window_gap RECORDER FOLDER SECONDS SPEED\n", stderr);
    return 2;
  }
  QApplication app(argc, argv);
  ash::look::applyTheme(app, ash::look::Theme::paper());
  ash::MainWindow window(QString::fromUtf8(argv[1]));
  window.resize(1280, 800);
  window.openBook(QString::fromUtf8(argv[2]) + QStringLiteral("/gap.ashbook"));
  window.show();
  QTest::qWait(500);
  ash::tests::FormDriver form(window);
  form.fill("gap", "mesh", "larch12", "vector", "idle 1min, soak 10h", QString::fromUtf8(argv[4]).toDouble());
  form.start();
  if (!QTest::qWaitFor([&] { return window.watch()->model().isGoingOn(); }, 15'000)) return 3;
  QTest::qWait(1000);
  std::vector<double> gapsMs;
  QElapsedTimer clock;
  clock.start();
  QTimer ticker;
  ticker.setTimerType(Qt::PreciseTimer);
  QObject::connect(&ticker, &QTimer::timeout,
                   [&] { gapsMs.push_back(static_cast<double>(clock.nsecsElapsed()) / 1e6), clock.restart(); });
  ticker.start(2);
  QTest::qWait(QString::fromUtf8(argv[3]).toInt() * 1000);
  ticker.stop();
  std::sort(gapsMs.begin(), gapsMs.end());
  const auto at = [&](double share) {
    return gapsMs[static_cast<size_t>(share * static_cast<double>(gapsMs.size() - 1))];
  };
  std::printf(
      "%zu gaps between ticks of 2 ms: median %.1f ms, 99 %% %.1f ms, longest %.1f ms; %.0f bench seconds drawn\n",
      gapsMs.size(), at(0.5), at(0.99), at(1.0), window.watch()->model().lastTimeS());
  QTest::keyClick(&window, Qt::Key_Period, Qt::ControlModifier);
  return QTest::qWaitFor([&] { return !window.watch()->model().isGoingOn(); }, 10'000) ? 0 : 3;
}
