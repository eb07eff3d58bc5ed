// SPDX-License-Identifier: GPL-3.0-or-later
// Fans: when they woke, and whether they held their speed in the window.
#include <algorithm>
#include <cmath>

#include "analysis/heat/heat.h"

namespace ash {
namespace {

constexpr double kHeldWithin = 0.05;  // contract: within 5 % is held
constexpr double kRampShare = 0.10;

std::optional<bool> heldIn(const SeriesView& fan, const TimeSpan& window) {
  const SeriesView part = viewOf(fan, window);
  if (part.size() < 2) return std::nullopt;
  std::vector<double> sorted(part.v.begin(), part.v.end());
  std::sort(sorted.begin(), sorted.end());
  const double middle = quantileOfSorted(sorted, 0.5);
  // The outermost percent may be a misread pulse.
  const double low = quantileOfSorted(sorted, 0.01), high = quantileOfSorted(sorted, 0.99);
  if (middle <= 0) return high <= 0;
  return high - middle <= kHeldWithin * middle && middle - low <= kHeldWithin * middle;
}

// The duty that was asked for, not what the fan made of it.
std::optional<bool> isDutyHeld(const SeriesView& duty, const TimeSpan& window) {
  constexpr double kPoints = 2;
  const SeriesView part = viewOf(duty, window);
  if (part.size() < 2) return std::nullopt;
  const auto [low, high] = std::minmax_element(part.v.begin(), part.v.end());
  return *high - *low <= kPoints;
}

// The first moment under load from which it runs clearly faster than at rest, for at least three readings.
std::optional<double> rampAt(const RunContext& context, const SeriesView& fan) {
  if (!context.load) return std::nullopt;
  const SeriesView rest = viewOf(fan, {context.load->startS - 60, context.load->startS});
  const SeriesView load = viewOf(fan, *context.load);
  if (rest.empty() || load.size() < 3) return std::nullopt;
  const double before = medianOf({rest.v.begin(), rest.v.end()});
  const double threshold = before + std::max(kRampShare * before, 60.0);
  for (size_t i = 0; i + 2 < load.size(); ++i) {
    if (load.v[i] > threshold && load.v[i + 1] > threshold && load.v[i + 2] > threshold) return load.t[i];
  }
  return std::nullopt;
}

}  // namespace

std::vector<FanFigures> fansOf(const RunContext& context) {
  std::vector<FanFigures> all;
  for (const Channel& channel : context.run.log.channels) {
    if (channel.quantity != Quantity::FanSpeed) continue;
    const SeriesView* fan = context.find(channel.name);
    if (fan == nullptr) continue;
    FanFigures figures{channel.name, rampAt(context, *fan), {}, {}};
    if (context.window) {
      figures.heldConstant = heldIn(*fan, context.window->span);
      if (const SeriesView* duty = context.find(channel.name + ".duty"))
        figures.dutyHeld = isDutyHeld(*duty, context.window->span);
    }
    all.push_back(figures);
  }
  return all;
}

}  // namespace ash
