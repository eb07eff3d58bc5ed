// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/projected_setups.h"

#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "report/answer/answer.h"

namespace ash {
namespace {

/// What the runs of a setup came to.
struct Gathered {
  std::vector<Estimate> temperature, heldPower, heldMhz;
  std::vector<double> power, chance;
  std::optional<double> limitC;

  void take(const Projection& one) {
    temperature.push_back(one.temperatureC);
    power.push_back(one.powerW);
    if (one.limitC) limitC = std::min(limitC.value_or(INFINITY), *one.limitC);
    if (one.throttleChance) chance.push_back(*one.throttleChance);
    if (one.heldPowerW) heldPower.push_back(*one.heldPowerW);
    if (one.heldMhz) heldMhz.push_back(*one.heldMhz);
  }
};

std::optional<Estimate> togetherIfAny(const std::vector<Estimate>& runs) {
  if (runs.empty()) return std::nullopt;
  return projectedTogether(runs);
}

Gathered gatheredOf(const StudyReport& report, const ComparisonRow& row, const ProjectionQuestion& question) {
  Gathered all;
  for (const auto& run : report.runs) {
    if (std::find(row.runs.begin(), row.runs.end(), run->run.name) == row.runs.end()) continue;
    for (const Projection& one : projectRun(run->run, run->figures, question)) {
      if (one.device == Device(run->figures.worked)) all.take(one);
    }
  }
  return all;
}

}  // namespace

Estimate projectedTogether(const std::vector<Estimate>& runs) {
  if (runs.empty()) return {};
  const auto count = static_cast<double>(runs.size());
  double value = 0, below = 0, above = 0, squares = 0;
  for (const Estimate& run : runs) {
    value += run.value / count;
    below += (run.value - run.low) / count;
    above += (run.high - run.value) / count;
  }
  for (const Estimate& run : runs) squares += (run.value - value) * (run.value - value);
  const double scatter = runs.size() < 2 ? 0 : studentT95(count - 1) * std::sqrt(squares / (count - 1) / count);
  return {value, value - std::hypot(below, scatter), value + std::hypot(above, scatter)};
}

ProjectedField projectedSetups(const StudyReport& report, const LoadStanding& load,
                               const ProjectionQuestion& question) {
  ProjectedField field;
  std::vector<ProjectedSetup>& all = field.setups;
  // A levelled row stands for several settings, of which each is a machine of its own here.
  const std::optional<Comparison> asRun = load.comparison.equalBy ? comparedAsRun(report, load) : std::nullopt;
  for (const ComparisonRow& row : (asRun ? *asRun : load.comparison).rows) {
    const Gathered runs = gatheredOf(report, row, question);
    if (runs.temperature.empty()) {
      ++field.leftOut;
      continue;
    }
    ProjectedSetup setup;
    setup.setup = row.setup;
    setup.setupIndex = std::max(0, setupIndexOf(report, row));
    setup.runs = static_cast<int>(runs.temperature.size());
    setup.powerW = meanOf(runs.power);
    setup.temperatureC = projectedTogether(runs.temperature);
    setup.limitC = runs.limitC;
    if (!runs.chance.empty()) setup.throttleChance = meanOf(runs.chance);
    setup.heldPowerW = togetherIfAny(runs.heldPower);
    setup.heldMhz = togetherIfAny(runs.heldMhz);
    all.push_back(std::move(setup));
  }
  std::stable_sort(all.begin(), all.end(), [](const ProjectedSetup& a, const ProjectedSetup& b) {
    return a.temperatureC.value < b.temperatureC.value;
  });
  return field;
}

}  // namespace ash
