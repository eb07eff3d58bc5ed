// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/weighing.h"

#include <algorithm>
#include <cmath>

#include "report/answer/answer.h"
#include "report/answer/row_figure.h"

namespace ash {
namespace {

double halfOf(const MetricRow& figure) {
  return std::isfinite(figure.ciHigh) && std::isfinite(figure.ciLow) ? (figure.ciHigh - figure.ciLow) / 2 : kMissing;
}

/// The figures of a setup that enter; noise and price missing where it has none.
struct Entering {
  const ComparisonRow* row;
  double temperatureK, temperatureHalfK, noiseDba = kMissing, noiseHalfDba = kMissing, price = kMissing;
  bool isAtLeast = false;
};

std::vector<Entering> enteringOf(const Comparison& comparison, const Figure& temperature) {
  std::vector<Entering> all;
  for (const ComparisonRow& row : comparison.rows) {
    const MetricRow* warm = figureIn(row, temperature);
    if (warm == nullptr || !std::isfinite(warm->value)) continue;
    Entering one{&row, warm->value, halfOf(*warm)};
    one.isAtLeast = warm->bound == Bound::AtLeast;
    if (const MetricRow* loud = figureIn(row, FigureId::Noise)) {
      one.noiseDba = loud->value;
      one.noiseHalfDba = halfOf(*loud);
    }
    if (const MetricRow* paid = figureIn(row, FigureId::Price)) one.price = paid->value;
    all.push_back(one);
  }
  return all;
}

WeighedSetup weighedOf(const StudyReport& report, const Entering& one, const Worth& worth) {
  WeighedSetup setup;
  setup.setup = one.row->setup;
  setup.setupIndex = std::max(0, setupIndexOf(report, *one.row));
  setup.temperatureK = one.temperatureK;
  setup.isAtLeast = one.isAtLeast;
  setup.noiseK = worth.kelvinPerDecibel > 0 ? worth.kelvinPerDecibel * one.noiseDba : 0;
  setup.priceK = worth.kelvinPerMoney > 0 ? worth.kelvinPerMoney * one.price : 0;
  setup.halfK = worth.kelvinPerDecibel > 0 ? std::hypot(one.temperatureHalfK, worth.kelvinPerDecibel * one.noiseHalfDba)
                                           : one.temperatureHalfK;
  return setup;
}

std::vector<OrderTurn> turnsOf(const std::vector<std::string>& names, const std::vector<WorthLine>& lines,
                               double most) {
  std::vector<OrderTurn> turns;
  for (const auto& [at, index] : leastAlong(lines, most)) turns.push_back({at, names[index]});
  return turns;
}

// The quietest and the cheapest pay nothing: what all pay tells none apart. Of a temperature in °C the coolest pays
// nothing, too.
void countFromLeast(std::vector<WeighedSetup>& order, bool isOverRoom) {
  double temperatureK = INFINITY, noiseK = INFINITY, priceK = INFINITY;
  for (const WeighedSetup& one : order) {
    temperatureK = std::min(temperatureK, one.temperatureK);
    noiseK = std::min(noiseK, one.noiseK);
    priceK = std::min(priceK, one.priceK);
  }
  for (WeighedSetup& one : order) {
    if (!isOverRoom) one.temperatureK -= temperatureK;
    one.noiseK -= noiseK;
    one.priceK -= priceK;
  }
}

// What the study ranks by where that is warmth, else how warm the processor gets, over its room where that is known.
Figure warmthOf(const StudyReport& report, const Comparison& comparison) {
  Figure lead = leadingMetric(report, comparison), overRoom(DeviceKind::Cpu, FigureId::OverRoom);
  if (lead.isTemperature() && lead.better() == Better::Lower) return lead;
  const bool isRoomKnown = std::any_of(comparison.rows.begin(), comparison.rows.end(),
                                       [&](const ComparisonRow& row) { return figureIn(row, overRoom) != nullptr; });
  return isRoomKnown ? overRoom : Figure(DeviceKind::Cpu, FigureId::Temperature);
}

}  // namespace

std::vector<std::pair<double, size_t>> leastAlong(const std::vector<WorthLine>& lines, double most) {
  std::vector<std::pair<double, size_t>> turns;
  if (lines.empty()) return turns;
  const auto isLess = [](const WorthLine& a, const WorthLine& b) {
    return a.fixed != b.fixed ? a.fixed < b.fixed : a.slope < b.slope;
  };
  auto now = static_cast<size_t>(std::min_element(lines.begin(), lines.end(), isLess) - lines.begin());
  turns.emplace_back(0, now);
  double at = 0;
  while (true) {
    // The next is the one that crosses first; of several there, the flattest.
    double next = INFINITY;
    size_t who = now;
    for (size_t i = 0; i < lines.size(); ++i) {
      if (!(lines[i].slope < lines[now].slope)) continue;
      const double meet = std::max(at, (lines[i].fixed - lines[now].fixed) / (lines[now].slope - lines[i].slope));
      if (meet < next || (meet == next && lines[i].slope < lines[who].slope)) {
        next = meet;
        who = i;
      }
    }
    if (!(next <= most)) return turns;
    turns.emplace_back(next, who);
    at = next;
    now = who;
  }
}

Weighing weigh(const StudyReport& report, const LoadStanding& load, const Worth& asked) {
  const Worth worth{std::max(0.0, asked.kelvinPerDecibel), std::max(0.0, asked.kelvinPerMoney)};
  Weighing weighing;
  weighing.temperature = warmthOf(report, load.comparison);
  std::vector<std::string> noiseNames, priceNames;
  std::vector<WorthLine> byNoise, byPrice;
  for (const Entering& one : enteringOf(load.comparison, weighing.temperature)) {
    WeighedSetup setup = weighedOf(report, one, worth);
    if (std::isfinite(one.noiseDba) && std::isfinite(setup.priceK)) {
      noiseNames.push_back(setup.setup);
      byNoise.push_back({setup.temperatureK + setup.priceK, one.noiseDba});
    }
    if (std::isfinite(one.price) && std::isfinite(setup.noiseK)) {
      priceNames.push_back(setup.setup);
      byPrice.push_back({setup.temperatureK + setup.noiseK, one.price});
    }
    if (std::isfinite(setup.totalK()))
      weighing.order.push_back(std::move(setup));
    else
      weighing.leftOut.push_back(setup.setup);
  }
  countFromLeast(weighing.order, weighing.temperature.id() == FigureId::OverRoom);
  std::stable_sort(weighing.order.begin(), weighing.order.end(),
                   [](const WeighedSetup& a, const WeighedSetup& b) { return a.totalK() < b.totalK(); });
  for (size_t i = 1; i < weighing.order.size(); ++i) {
    const WeighedSetup &first = weighing.order.front(), &other = weighing.order[i];
    const double apart = std::hypot(first.halfK, other.halfK);
    if (first.isAtLeast || !(other.totalK() - first.totalK() > apart)) weighing.level.push_back(other.setup);
  }
  weighing.byNoise = turnsOf(noiseNames, byNoise, kMostKelvinPerDecibel);
  weighing.byPrice = turnsOf(priceNames, byPrice, kMostKelvinPerMoney);
  return weighing;
}

}  // namespace ash
