// SPDX-License-Identifier: GPL-3.0-or-later
// Traces drawn from a part of a run: every reading where one has zoomed in, no spike lost where one has not.
#include <qcustomplot.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>

#include "app/traces/trace_cache.h"
#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "tests/support/panel_book.h"

using namespace ash;
using namespace ash::tests;

namespace {

// A run of four hours at 2 Hz whose temperature has one spike, taken in.
struct LongBook : Desk {
  LongBook() {
    std::string text = "time,cpu.temp [°C],cpu.power [W],room.temp [°C]\n";
    for (int i = 0; i < kRows; ++i) {
      const bool isBusy = i > 1200 && i < kRows - 600;
      const double value = i == kSpike ? 99 : 40 + (isBusy ? 30 : 0) + 0.1 * (i * 7 % 11);
      text += std::to_string(0.5 * i) + "," + std::to_string(value) + "," + (isBusy ? "88" : "9") + ",22\n";
    }
    write("long.csv", text);
    ashg("import long.csv --book b.ashbook --study panels --setup solid --load vector");
  }
  static constexpr int kRows = 28'800, kSpike = 15'003;
};

struct ShownLong : Shown {
  explicit ShownLong(const LongBook& book) : Shown(book) {
    REQUIRE(waitFor([&] { return window.desk().report() && window.desk().report()->runs.size() == 1; }));
    window.goTo(MainWindow::Traces);
    REQUIRE(waitFor([&] { return lanes()->laneCount() > 0; }));
  }
  TraceLanes* lanes() { return window.traces()->lanes(); }
  QCPGraph* graph() { return lanes()->findChild<QCustomPlot*>()->graph(0); }
  std::pair<double, double> range() {
    const QCPRange shown = graph()->keyAxis()->range();
    return {shown.lower, shown.upper};
  }
  void plus(int times) {
    for (int i = 0; i < times; ++i) QTest::keyClick(lanes(), Qt::Key_Plus);
  }
};

}  // namespace

TEST_CASE("aTraceShowsItsSpikeAsAWholeAndEveryReadingWhereOneZoomsIn") {
  const LongBook book;
  ShownLong shown(book);
  FormDriver(shown.window).choose(shown.window.findChild<QComboBox*>("smooth"), QStringLiteral("off"));
  const AnalyzedRun& run = *shown.window.desk().report()->runs[0];
  const double zero = run.figures.load->startS, spikeS = 0.5 * LongBook::kSpike - zero;
  const auto drawn = [&] {
    std::vector<double> times;
    for (const QCPGraphData& point : *shown.graph()->data()) times.push_back(point.key);
    return times;
  };
  // The whole of it: fewer points than readings, the spike among them.
  CHECK(drawn().size() < 4'000);
  double highest = -INFINITY;
  for (const QCPGraphData& point : *shown.graph()->data()) highest = std::max(highest, point.value);
  CHECK(highest == Approx(99 - 22).margin(1e-9));
  // Close to it: all readings of the range that is shown, and one beyond each end.
  shown.lanes()->setCursor(spikeS + 20);
  shown.plus(18);
  const auto [from, to] = shown.range();
  REQUIRE(to - from < 600);
  size_t readings = 0;
  for (const double t : run.run.log.timeS) readings += t - zero >= from && t - zero <= to;
  REQUIRE(readings > 100);
  CHECK(drawn().size() == readings + 2);
  // The scale follows what is shown.
  const auto [low, high] = shown.lanes()->valueRange(0);
  CHECK(high > 77);
  shown.lanes()->setCursor(spikeS + 200);
  QTest::keyClick(shown.lanes(), Qt::Key_0);
  CHECK(drawn().size() < 4'000);
  CHECK(low < high);
}

TEST_CASE("whatIsDrawnIsMadeOnceAndForgottenWhenNobodyAsks") {
  TraceCache cache;
  int made = 0;
  const auto make = [&] {
    ++made;
    return TracedGroup{Pyramid(Series{{0, 1}, {made * 1.0, 2}}), {}, {}};
  };
  auto run = std::make_shared<const AnalyzedRun>();
  const auto ask = [&](const std::string& key) { return cache.of({run}, key, make); };
  cache.begin();
  const auto first = ask("a");
  CHECK(ask("a") == first);
  cache.end();
  CHECK(made == 1);
  cache.begin();
  CHECK(ask("a") == first);
  CHECK(ask("b") != first);
  cache.end();
  CHECK(made == 2);
  // "a" is not asked for this time, and has to be made again.
  cache.begin();
  ask("b");
  cache.end();
  cache.begin();
  CHECK(ask("a")->mean.series().v[0] == 3);
  cache.end();
  // Another run is something else, even where it takes the place of one that is gone.
  const std::weak_ptr<const AnalyzedRun> gone = run;
  run = std::make_shared<const AnalyzedRun>();
  CHECK_FALSE(gone.expired());
  cache.begin();
  CHECK(ask("a")->mean.series().v[0] == 4);
  cache.end();
  CHECK(gone.expired());
}
