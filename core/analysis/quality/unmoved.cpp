// SPDX-License-Identifier: GPL-3.0-or-later
// Readings that stand still where they should not: stuck, or at the end of their scale.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/quality/problems.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kLongS = 30;  // nothing shorter is called unmoved
constexpr size_t kManySamples = 25;
constexpr double kLivelyShare = 0.15;   // of the readings around it change from one to the next
constexpr double kMissedChanges = 25;   // changes that would have been seen meanwhile
constexpr double kWideShare = 0.05;     // of the changes from one reading to the next
constexpr double kLogImpossible = -14;  // one in a million
constexpr double kEdgeS = 30;           // before and after the start of a load: no temperature sits through that
constexpr size_t kFineSensor = 40;      // different values
constexpr double kAtomShare = 0.05;
constexpr double kAtomRatio = 8;  // of the readings at the end of the scale to those one value below

struct Stillness {
  size_t first = 0, last = 0;  // both inside
};

Stillness longestStretch(const SeriesView& series) {
  Stillness longest;
  for (size_t i = 0; i < series.size();) {
    size_t last = i;
    while (last + 1 < series.size() && series.v[last + 1] == series.v[i]) ++last;
    if (last - i > longest.last - longest.first) longest = {i, last};
    i = last + 1;
  }
  return longest;
}

/// The readings around a stretch: the share that differ from the one before, and whether they scatter over several
/// steps. A coarse sensor flickers between two values while the truth lies between them, and then stands still.
struct Life {
  double share = 0;
  bool scatters = false;
  double logSame = 0;  // of the chance that a reading equals the one before, at most; 0 where that cannot be told
};

// The chance that noise of this mean square step from reading to reading leaves a sensor on one value, at most: where
// the truth lies in the middle of a step. A step² /6 of it is the rounding's own (two roundings of step²/12).
double logChanceOfSame(double meanSquare, double step) {
  const double variance = (meanSquare - step * step / 6) / 2;
  return variance > 0 && step > 0 ? std::log(std::erf(step / 2 / std::sqrt(2 * variance))) : 0;
}

Life lifeAround(const SeriesView& series, const Stillness& stretch, double step) {
  const size_t reach = std::min<size_t>(300, stretch.last - stretch.first + 1);
  std::vector<double> moves;
  double seen = 0;
  int turns = 0;
  // The chance to stand still, by one side; both must have something to say.
  const auto look = [&](size_t from, size_t to) {
    double last = 0, squares = 0, here = 0, wide = 0;
    for (size_t i = from + 1; i < to; ++i) {
      ++here;
      const double move = series.v[i] - series.v[i - 1];
      squares += move * move;
      wide += std::abs(move) > 1.5 * step;
      if (move == 0) continue;
      turns += last * move < 0;
      last = move;
      moves.push_back(std::abs(move));
    }
    seen += here;
    // Flicker between two values says little of the noise: it must reach over three.
    return here < 20 || wide < kWideShare * here ? 0.0 : logChanceOfSame(squares / here, step);
  };
  const double before = look(stretch.first > reach ? stretch.first - reach : 0, stretch.first);
  const double after = look(stretch.last + 1, std::min(series.size(), stretch.last + 1 + reach));
  if (seen < 8 || moves.empty()) return {};
  const double share = static_cast<double>(moves.size()) / seen;
  const bool isNoise = turns > 0.2 * static_cast<double>(moves.size());
  return {share, isNoise && medianOf(std::move(moves)) >= 1.5 * step, isNoise ? std::max(before, after) : 0};
}

bool spansLoadStart(const RunContext& context, const SeriesView& series, const Stillness& stretch) {
  if (!context.load) return false;
  const double fromS = series.t[stretch.first], toS = series.t[stretch.last];
  const double edgeS = std::min(kEdgeS, context.load->lengthS() / 2);
  const bool isThroughStart = fromS <= context.load->startS - edgeS / 3 && toS >= context.load->startS + edgeS;
  const bool isThroughEnd = fromS <= context.load->endS - edgeS && toS >= context.load->endS + edgeS;
  return isThroughStart || isThroughEnd;
}

// A temperature that never moves although a load ran is none that is read.
bool neverMoves(const RunContext& context, const SeriesView& series, const Stillness& stretch) {
  return context.load && stretch.first == 0 && stretch.last + 1 == series.size() && context.load->lengthS() >= 60;
}

// What is under load itself, as far as is known: a drive may well sit still while a processor works.
bool mustWarmUp(const RunContext& context, const Channel& channel) {
  if (channel.quantity != Quantity::Temperature || !channel.role.isLoadedTemperature()) return false;
  if (channel.name == context.watched) return true;
  const Device& device = channel.role.device();
  const bool canTell = context.find(Role(device, Quantity::Percent).text()) != nullptr ||
                       context.find(Role(device, Quantity::Power).text()) != nullptr;
  return canTell && isDeviceLoaded(context, device, *context.load);
}

std::optional<Problem> findStuck(const RunContext& context, const Channel& channel, const SeriesView& series) {
  const Stillness stretch = longestStretch(series);
  const double lengthS = series.t[stretch.last] - series.t[stretch.first];
  const auto count = static_cast<double>(stretch.last - stretch.first + 1);
  const Life life = lifeAround(series, stretch, context.step.at(channel.name));
  const bool isLong = lengthS >= kLongS && count >= kManySamples;
  const bool isSudden =
      isLong && ((life.scatters && life.share >= kLivelyShare && life.share * count >= kMissedChanges) ||
                 count * life.logSame < kLogImpossible);
  const bool isOwnDevice = mustWarmUp(context, channel);
  const bool sitsThrough =
      isOwnDevice && count >= 8 && (spansLoadStart(context, series, stretch) || neverMoves(context, series, stretch));
  if (!isSudden && !sitsThrough) return std::nullopt;
  return Problem{
      ProblemKind::Stuck, channel.name, series.t[stretch.first], series.t[stretch.last],
      fmt::format("{} shows {:.1f} {} without any change for {:.0f} s while it should move: check its source "
                  "before you quote it.",
                  channel.name, series.v[stretch.first], channel.unit, lengthS)};
}

/// How often the highest value and the one below it occur.
struct Top {
  double value = 0;
  size_t at = 0, below = 0, different = 0;
};

Top topOf(const SeriesView& series) {
  Top top;
  top.value = *std::max_element(series.v.begin(), series.v.end());
  std::vector<double> sorted(series.v.begin(), series.v.end());
  std::sort(sorted.begin(), sorted.end(), std::greater<>());
  size_t i = 0;
  while (i < sorted.size() && sorted[i] == top.value) ++i;
  top.at = i;
  const size_t next = i;
  while (i < sorted.size() && sorted[i] == sorted[next]) ++i;
  top.below = i - next;
  sorted.erase(std::unique(sorted.begin(), sorted.end()), sorted.end());
  top.different = sorted.size();
  return top;
}

std::optional<Problem> findSaturated(const RunContext& context, const Channel& channel, const SeriesView& series) {
  const double highest = *std::max_element(series.v.begin(), series.v.end());
  const auto atHighest = static_cast<size_t>(std::count(series.v.begin(), series.v.end(), highest));
  if (atHighest < 20 || static_cast<double>(atHighest) < kAtomShare * static_cast<double>(series.size()))
    return std::nullopt;
  const Top top = topOf(series);
  if (top.different < kFineSensor || static_cast<double>(top.at) < kAtomRatio * static_cast<double>(top.below))
    return std::nullopt;
  if (!lifeAround(series, longestStretch(series), context.step.at(channel.name)).scatters) return std::nullopt;
  const auto first = std::find(series.v.begin(), series.v.end(), top.value) - series.v.begin();
  const auto last = series.v.rend() - std::find(series.v.rbegin(), series.v.rend(), top.value) - 1;
  return Problem{
      ProblemKind::Saturated, channel.name, series.t[static_cast<size_t>(first)], series.t[static_cast<size_t>(last)],
      fmt::format("{} goes up to {:.1f} {} and never beyond, {} times: it is at the end of its scale, so take "
                  "a sensor that reaches further.",
                  channel.name, top.value, channel.unit, top.at)};
}

// What an open input, an absent sensor or the end of a scale shows, whoever is under load: no part is so hot or cold,
// or at exactly nothing, from the first reading to the last. One that is held at its limit may be.
std::optional<Problem> findNoSensor(const RunContext& context, const Channel& channel, const SeriesView& series) {
  constexpr double kHottestC = 115, kColdestC = -30, kAtLimitK = 3;
  const double value = series.v.front();
  const bool isUnmoved = std::all_of(series.v.begin(), series.v.end(), [value](double one) { return one == value; });
  if (!isUnmoved || (value < kHottestC && value > kColdestC && value != 0)) return std::nullopt;
  const auto limit = throttleLimit(context.run.facts, channel.name);
  if (limit && std::abs(value - *limit) <= kAtLimitK) return std::nullopt;
  return Problem{
      ProblemKind::Stuck, channel.name, series.t.front(), series.t.back(),
      fmt::format("{} shows {:.1f} {} from its first reading to its last, which is no temperature but an open "
                  "input or the end of its scale: leave it out.",
                  channel.name, value, channel.unit)};
}

}  // namespace

std::vector<Problem> findUnmoved(const RunContext& context) {
  std::vector<Problem> problems;
  for (const Channel& channel : context.run.log.channels) {
    const SeriesView& series = context.series.at(channel.name);
    if (channel.quantity != Quantity::Temperature || series.size() < 20) continue;
    if (auto none = findNoSensor(context, channel, series)) problems.push_back(std::move(*none));
  }
  if (!context.load) return problems;
  for (const Channel& channel : context.run.log.channels) {
    const bool isLively = channel.quantity == Quantity::Temperature || channel.quantity == Quantity::Power ||
                          channel.quantity == Quantity::Noise;
    const SeriesView& series = context.series.at(channel.name);
    if (!isLively || channel.role.part() == Part::Limit || series.size() < 20) continue;
    if (std::any_of(problems.begin(), problems.end(),
                    [&](const Problem& told) { return told.channel == channel.name; }))
      continue;
    if (auto saturated = findSaturated(context, channel, series))
      problems.push_back(std::move(*saturated));
    else if (auto stuck = findStuck(context, channel, series))
      problems.push_back(std::move(*stuck));
  }
  return problems;
}

}  // namespace ash
