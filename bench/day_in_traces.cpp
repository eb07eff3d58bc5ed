// SPDX-License-Identifier: GPL-3.0-or-later
// How long a book of days takes to be seen in Traces, and how long each step of panning and zooming takes, beside a
// plot of one short line in the same window. usage: day_in_traces BOOK (its first study is shown; offscreen will do)
#include <qcustomplot.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QTest>
#include <algorithm>
#include <cstdio>
#include <vector>

#include "app/look/theme.h"
#include "app/shell/main_window.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"

namespace {

double secondsOf(const QElapsedTimer& clock) { return static_cast<double>(clock.nsecsElapsed()) / 1e9; }

void tell(const char* what, std::vector<double> ms, double bareMs) {
  std::sort(ms.begin(), ms.end());
  const auto at = [&](double share) { return ms[static_cast<size_t>(share * static_cast<double>(ms.size() - 1))]; };
  std::printf("%s: median %.2f ms, 99 %% %.2f ms, longest %.2f ms (%.1f of the bare plot's median)\n", what, at(0.5),
              at(0.99), at(1), at(0.5) / bareMs);
}

// Drags by so many steps and draws each.
std::vector<double> dragged(QWidget* plot, int steps, int stepPx) {
  std::vector<double> ms;
  QPoint at(plot->width() / 2, 60);
  QTest::mousePress(plot, Qt::LeftButton, {}, at);
  for (int i = 0; i < steps; ++i) {
    QElapsedTimer clock;
    clock.start();
    at += QPoint((i / 40) % 2 == 0 ? stepPx : -stepPx, 0);
    QMouseEvent move(QEvent::MouseMove, at, plot->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(plot, &move);
    QApplication::processEvents();
    ms.push_back(secondsOf(clock) * 1e3);
  }
  QTest::mouseRelease(plot, Qt::LeftButton, {}, at);
  return ms;
}

double bareMedianMs() {
  QCustomPlot plot;
  plot.resize(1000, 500);
  plot.setInteractions(QCP::iRangeDrag);
  QVector<double> t, v;
  for (int i = 0; i < 1400; ++i) t << i, v << i % 37;
  plot.addGraph()->setData(t, v, true);
  plot.xAxis->setRange(0, 1400);
  plot.yAxis->setRange(0, 40);
  plot.show();
  QTest::qWait(200);
  auto ms = dragged(&plot, 200, 2);
  std::sort(ms.begin(), ms.end());
  return ms[ms.size() / 2];
}

}  // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fputs("usage: day_in_traces BOOK\n", stderr);
    return 2;
  }
  std::setvbuf(stdout, nullptr, _IOLBF, 0);
  QApplication app(argc, argv);
  ash::look::applyTheme(app, ash::look::Theme::paper());
  const double bareMs = bareMedianMs();
  std::printf("bare plot of one line of 1400 readings, a step: median %.2f ms\n", bareMs);
  ash::MainWindow window(QStringLiteral("ashg"));
  window.resize(1280, 800);
  window.show();
  QTest::qWait(500);
  QElapsedTimer clock;
  clock.start();
  window.openBook(QString::fromLocal8Bit(argv[1]));
  const auto isSeen = [&] { return window.desk().study() != nullptr; };
  if (!QTest::qWaitFor(isSeen, 60'000)) return 3;
  window.goTo(ash::MainWindow::Plan);
  QApplication::processEvents();
  std::printf("book opened and Plan drawn: %.2f s\n", secondsOf(clock));
  window.goTo(ash::MainWindow::Traces);
  QElapsedTimer busy;
  double longestS = 0;
  const auto isDrawn = [&] {
    longestS = std::max(longestS, busy.isValid() ? secondsOf(busy) : 0);
    busy.start();
    return window.desk().toWorkOut() > 0 && window.desk().workedOut() == window.desk().toWorkOut() &&
           window.traces()->lanes()->laneCount() > 0;
  };
  while (clock.elapsed() < 300'000 && !isDrawn()) QApplication::processEvents(QEventLoop::AllEvents, 20);
  QApplication::processEvents();
  std::printf(
      "%zu runs read, worked out and drawn in Traces: %.2f s; the interface was busy for at most %.2f s at once\n",
      window.desk().runs().size(), secondsOf(clock), longestS);
  clock.start();
  window.goTo(ash::MainWindow::Plan);
  window.goTo(ash::MainWindow::Standings);
  QApplication::processEvents();
  std::printf("Standings drawn: %.2f s\n", secondsOf(clock));
  clock.start();
  window.goTo(ash::MainWindow::Traces);
  QApplication::processEvents();
  std::printf("Traces again: %.2f s\n", secondsOf(clock));
  auto* plot = window.traces()->lanes()->findChild<QCustomPlot*>();
  tell("panning over the whole", dragged(plot, 300, 3), bareMs);
  for (int i = 0; i < 24; ++i) QTest::keyClick(window.traces()->lanes(), Qt::Key_Plus);
  tell("panning zoomed in", dragged(plot, 300, 3), bareMs);
  std::vector<double> zoom;
  for (int i = 0; i < 60; ++i) {
    QElapsedTimer step;
    step.start();
    QTest::keyClick(window.traces()->lanes(), i % 30 < 15 ? Qt::Key_Minus : Qt::Key_Plus);
    QApplication::processEvents();
    zoom.push_back(secondsOf(step) * 1e3);
  }
  tell("zooming", zoom, bareMs);
  return 0;
}
