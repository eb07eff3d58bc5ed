// SPDX-License-Identifier: GPL-3.0-or-later
// A power limit that is turned in the middle of a soak: Traces show both parts, and the step as `ashg analyze` tells
// it.
#include <qcustomplot.h>

#include <QRegularExpression>
#include <QTest>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <set>

#include "app/traces/trace_lanes.h"
#include "app/traces/traces_station.h"
#include "tests/support/desk.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("aSettingThatIsTurnedUnderLoadPartsItsRunInTraces") {
  Desk desk;
  desk.ashg(
      "run --book b.ashbook --study s --setup Mesh --load vector --sim larch12 --speed 1e6 --run-id r1 --phases "
      "'idle 1min, soak 8min, set cpu.power.limit 50, soak 8min'");
  Shown shown(desk);
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().report() && shown.window.desk().report()->runs.size() == 1; }));
  shown.window.goTo(MainWindow::Traces);
  TraceLanes* lanes = shown.window.traces()->lanes();
  REQUIRE(shown.waitFor([&] { return lanes->laneCount() > 0; }));
  // Plain means of the later half of either part, out of the log itself: half a soak of 8 min on both sides of
  // minute 8.
  const AnalyzedRun& run = *shown.window.desk().report()->runs[0];
  const double zero = run.figures.load->startS;
  const auto meanOf = [&](const char* role, double fromS, double toS) {
    const Channel* channel = run.run.log.find(role);
    REQUIRE(channel != nullptr);
    double sum = 0;
    int count = 0;
    for (size_t i = 0; i < run.run.log.timeS.size(); ++i) {
      const double t = run.run.log.timeS[i] - zero;
      if (t < fromS || t >= toS || !std::isfinite(channel->values[i])) continue;
      sum += channel->values[i];
      ++count;
    }
    return sum / count;
  };
  const auto stepOf = [&](const char* role) { return meanOf(role, 720, 960) - meanOf(role, 240, 480); };
  QStringList notes;
  for (int i = 0; i < lanes->laneCount(); ++i) notes << lanes->note(i);
  INFO(notes.join('\n').toStdString());
  const auto told = [&](const QString& note) {
    const auto found =
        QRegularExpression(QStringLiteral("([−+][0-9.]+) [KW] \\(([−+][0-9.]+) to ([−+][0-9.]+)\\)")).match(note);
    std::vector<double> numbers;
    for (int i = 1; i <= 3; ++i)
      numbers.push_back(found.captured(i).replace(QChar(0x2212), QLatin1Char('-')).toDouble());
    return numbers;
  };
  for (const auto& [lane, role] : {std::pair(0, "cpu.temp"), std::pair(2, "cpu.power")}) {
    INFO(role);
    const auto numbers = told(notes[lane]);
    CHECK(std::abs(numbers[0] - stepOf(role)) < 0.15);
    CHECK(numbers[0] < -5);
    CHECK(numbers[1] <= numbers[0]);
    CHECK(numbers[2] >= numbers[0]);
  }
  // What was changed stands in the first lane only.
  CHECK(notes[0].contains(QStringLiteral("cpu.power.limit: 50 W: ")));
  CHECK(notes.filter(QStringLiteral("50 W: ")).size() == 1);
  // A dashed pole across each lane, at the moment of the change.
  int poles = 0;
  const auto* plot = lanes->findChild<QCustomPlot*>();
  for (int i = 0; i < plot->itemCount(); ++i) {
    const auto* line = qobject_cast<QCPItemLine*>(plot->item(i));
    if (line == nullptr || line->pen().style() != Qt::DashLine) continue;
    ++poles;
    CHECK(std::abs(line->start->coords().x() - 8 * 60) < 3);
  }
  CHECK(poles == lanes->laneCount());
}

TEST_CASE("twoRunsThatWereTurnedStandSideBySideEachInItsColour") {
  Desk desk;
  for (const auto& [setup, procedure] :
       {std::pair("Mesh", "idle 1min, soak 8min, set cpu.power.limit 50, soak 8min"),
        std::pair("Solid", "idle 1min, soak 6min, set cpu.power.limit 60, soak 10min")})
    desk.ashg(QStringLiteral("run --book b.ashbook --study s --setup %1 --load vector --sim larch12 --speed 1e6 "
                             "--run-id %1 --phases '%2'")
                  .arg(QLatin1String(setup), QLatin1String(procedure))
                  .toStdString());
  Shown shown(desk);
  REQUIRE(
      shown.waitFor([&] { return shown.window.desk().report() && shown.window.desk().report()->runs.size() == 2; }));
  shown.window.goTo(MainWindow::Traces);
  TraceLanes* lanes = shown.window.traces()->lanes();
  REQUIRE(shown.waitFor([&] { return lanes->laneCount() > 0; }));
  const QString first = lanes->note(0);
  INFO(first.toStdString());
  CHECK(first.contains(QRegularExpression(QStringLiteral("Mesh: .*cpu.power.limit: 50 W: [−+][0-9.]+ K"))));
  CHECK(first.contains(QRegularExpression(QStringLiteral("Solid: .*cpu.power.limit: 60 W: [−+][0-9.]+ K"))));
  // Poles at minute 8 in one colour and at minute 6 in another; the means of both parts of each in the same.
  std::map<QRgb, std::set<int>> poles;
  std::map<QRgb, int> bars;
  const auto* plot = lanes->findChild<QCustomPlot*>();
  for (int i = 0; i < plot->itemCount(); ++i) {
    const auto* line = qobject_cast<QCPItemLine*>(plot->item(i));
    if (line == nullptr) continue;
    if (line->pen().style() == Qt::DashLine)
      poles[line->pen().color().rgb()].insert(static_cast<int>(std::lround(line->start->coords().x() / 60)));
    else if (line->pen().widthF() > 2)
      ++bars[line->pen().color().rgb()];
  }
  REQUIRE(poles.size() == 2);
  std::set<int> minutes;
  for (const auto& [colour, at] : poles) {
    REQUIRE(at.size() == 1);
    minutes.insert(*at.begin());
    CHECK(bars[colour] >= 4);
  }
  CHECK(minutes == std::set<int>{6, 8});
}
