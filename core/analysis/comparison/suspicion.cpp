// SPDX-License-Identifier: GPL-3.0-or-later
// Runs that do not look right: what a careful reviewer would measure again before he publishes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/comparison/first_mount.h"
#include "analysis/comparison/pooling.h"
#include "analysis/series/statistics.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kApartK = 1;          // repeats closer than that are no matter
constexpr double kApartOfTwoK = 2;     // of two nobody knows which one is right
constexpr double kFalseAlarms = 0.03;  // of studies in which all repeats are what they should be
constexpr double kUsualWeight = 1;     // repeats that the usual scatter counts for beside those of the study
constexpr double kResistanceMoved = 0.04;
constexpr double kSideEffectK = 2;

std::optional<Figure> watchedFigure(const Pool& pool, const MetricMaps& maps) {
  const Device device = Role(pool.first().figures.watched).device();
  for (const FigureId id : {FigureId::OverRoom, FigureId::Temperature}) {
    if (const Figure figure(device, id); maps.at(&pool.first()).contains(figure)) return figure;
  }
  return std::nullopt;
}

std::string mountOf(const AnalyzedRun& run) {
  const auto found = run.run.facts.conditions.find("mount");
  return found == run.run.facts.conditions.end() ? std::string() : found->dump();
}

using RepeatValues = std::vector<std::pair<const AnalyzedRun*, double>>;

RepeatValues valuesOf(const Pool& pool, const MetricMaps& maps, const Figure& metric) {
  RepeatValues values;
  for (const AnalyzedRun* run : pool.runs) {
    if (const auto found = maps.at(run).find(metric); found != maps.at(run).end())
      values.emplace_back(run, found->second.value);
  }
  return values;
}

// Squares about the mean, and the degrees of freedom they have.
struct Squares {
  double sum = 0, degrees = 0;
  void add(const std::vector<double>& values) {
    if (values.size() < 2) return;
    const double mean = meanOf(values);
    for (const double value : values) sum += (value - mean) * (value - mean);
    degrees += static_cast<double>(values.size()) - 1;
  }
};

// What repeats of the other setups scatter, and what repeats usually do.
Squares squaresBeside(const Pool& pool, const std::vector<Pool>& pools, const MetricMaps& maps, const Figure& metric) {
  Squares squares{kUsualWeight * assumedSdOf(metric) * assumedSdOf(metric), kUsualWeight};
  for (const Pool& other : pools) {
    if (&other == &pool) continue;
    std::vector<double> values;
    for (const auto& [run, value] : valuesOf(other, maps, metric)) values.push_back(value);
    squares.add(values);
  }
  return squares;
}

// One that lies apart from its siblings by more than chance would have it: the externally studentized residual
// (R. D. Cook and S. Weisberg, Residuals and Influence in Regression, 1982, 2.2), each of them watched at once.
void findOddRepeat(const Pool& pool, const std::vector<Pool>& pools, const MetricMaps& maps, Comparison& comparison) {
  const auto watched = watchedFigure(pool, maps);
  if (!watched) return;
  const Figure& metric = *watched;
  const RepeatValues values = valuesOf(pool, maps, metric);
  if (values.size() < 2) return;
  const Squares beside = squaresBeside(pool, pools, maps, metric);
  size_t watchedRuns = 0;
  for (const Pool& other : pools) watchedRuns += other.runs.size() > 1 ? other.runs.size() : 0;
  const AnalyzedRun* oddest = nullptr;
  double farthest = 0, byK = 0;
  for (const auto& [run, value] : values) {
    std::vector<double> others;
    for (const auto& [other, its] : values) {
      if (other != run) others.push_back(its);
    }
    const double mean = meanOf(others);
    Squares squares = beside;
    squares.add(others);
    const double sd = std::sqrt(squares.sum / squares.degrees);
    const double t = studentT(squares.degrees, 1 - kFalseAlarms / static_cast<double>(watchedRuns));
    const double byChance = t * sd * std::sqrt(1 + 1 / static_cast<double>(others.size()));
    // Of two alone nothing but what is usual is known.
    const double allowed = std::max(kApartK, squares.degrees > kUsualWeight ? byChance : kApartOfTwoK);
    const double excess = std::abs(value - mean) / allowed;
    if (excess <= std::max(1.0, farthest)) continue;
    farthest = excess;
    oddest = run;
    byK = value - mean;
  }
  if (oddest == nullptr) return;
  const bool isRemounted = mountOf(*oddest) != mountOf(pool.first()) || (oddest == &pool.first() && values.size() > 1 &&
                                                                         mountOf(*values[1].first) != mountOf(*oddest));
  std::vector<std::string> between = {oddest->run.name};
  for (const auto& [run, value] : values) {
    if (run != oddest) between.push_back(run->run.name);
  }
  const CheckKind kind = isRemounted ? CheckKind::Remount : CheckKind::Repeat;
  const std::string others =
      values.size() == 2 ? "the other repeat" : fmt::format("the other {} repeats", values.size() - 1);
  comparison.checks.push_back({Severity::Warn, between, kind,
                               fmt::format("{} of {} is {:.1f} K {} than {}{}: check its mount and airflow, repeat it, "
                                           "or make it void with the reason.",
                                           oddest->run.name, pool.setup, std::abs(byK), byK > 0 ? "warmer" : "cooler",
                                           others, isRemounted ? ", after it was mounted anew" : "")});
}

double meanOver(const RunLog& run, const std::string& name, const TimeSpan& span) {
  const Channel* channel = run.log.find(name);
  if (channel == nullptr) return kMissing;
  double sum = 0;
  size_t n = 0;
  for (size_t i = 0; i < run.log.timeS.size(); ++i) {
    if (!span.contains(run.log.timeS[i]) || !std::isfinite(channel->values[i])) continue;
    sum += channel->values[i];
    ++n;
  }
  return n == 0 ? kMissing : sum / static_cast<double>(n);
}

// The way of the heat does not change while nothing is touched: a pump that stops, a cooler that slips, paste that is
// pressed out.
void findMovingResistance(const AnalyzedRun& run, Comparison& comparison) {
  if (!run.figures.window) return;
  const Device device = Role(run.figures.watched).device();
  const ChannelFigures* watched = run.figures.channel(run.figures.watched);
  if (watched == nullptr || !watched->settled || !watched->settled->isSettled) return;
  const bool fansMoved = std::any_of(run.figures.fans.begin(), run.figures.fans.end(),
                                     [](const FanFigures& fan) { return !fan.heldConstant.value_or(true); });
  if (fansMoved) return;
  const TimeSpan& window = run.figures.window->span;
  const double middle = (window.startS + window.endS) / 2;
  double resistance[2];
  for (const int half : {0, 1}) {
    const TimeSpan span = half == 0 ? TimeSpan{window.startS, middle} : TimeSpan{middle, window.endS};
    double room = meanOver(run.run, roles::kRoom, span);
    if (std::isnan(room)) room = run.run.facts.conditionNumber(fields::kRoom).value_or(kMissing);
    resistance[half] = (meanOver(run.run, run.figures.watched, span) - room) /
                       meanOver(run.run, Role(device, Quantity::Power).text(), span);
  }
  const double moved = resistance[1] / resistance[0] - 1;
  if (!(std::abs(moved) > kResistanceMoved)) return;
  comparison.checks.push_back(
      {Severity::Warn,
       {run.run.name},
       CheckKind::Resistance,
       fmt::format("The thermal resistance of {} {} by {:.0f} % inside the window ({:.3f} to {:.3f} K/W) at the same "
                   "fan speed: "
                   "see whether the cooler sits and its pump runs.",
                   run.run.name, moved > 0 ? "rose" : "fell", 100 * std::abs(moved), resistance[0], resistance[1])});
}

}  // namespace

void findSuspicious(const std::vector<Pool>& pools, const MetricMaps& maps, Comparison& comparison) {
  const ComparisonRow* referenceOf = referenceRow(comparison);
  const Pool* reference = nullptr;
  for (const Pool& pool : pools) {
    if (referenceOf != nullptr && pool.first().run.name == referenceOf->run) reference = &pool;
  }
  std::optional<MountCheck> mounts;
  if (reference != nullptr) mounts.emplace(*reference);
  for (const Pool& pool : pools) {
    findOddRepeat(pool, pools, maps, comparison);
    for (const AnalyzedRun* run : pool.runs) findMovingResistance(*run, comparison);
    if (mounts) mounts->look(pool, maps, comparison);
  }
}

void findSideEffects(Comparison& comparison, const Device& watchedDevice) {
  const ComparisonRow* reference = referenceRow(comparison);
  for (const ComparisonRow& row : comparison.rows) {
    const MetricRow* worst = nullptr;
    Device device;
    for (const auto& [name, metric] : row.metrics) {
      if (name.id() != FigureId::OverRoom || metric.verdict != Verdict::Worse || metric.difference < kSideEffectK)
        continue;
      const Device& its = name.device();
      if (its == watchedDevice || (worst != nullptr && metric.difference <= worst->difference)) continue;
      worst = &metric;
      device = its;
    }
    if (worst == nullptr || reference == nullptr) continue;
    comparison.checks.push_back(
        {Severity::Warn,
         {reference->run, row.run},
         CheckKind::SideEffect,
         fmt::format("{} runs {:.1f} K warmer with {} than with {}, though it was not what was asked: say so.",
                     device.shortName(), worst->difference, row.setup, reference->setup)});
  }
}

}  // namespace ash
