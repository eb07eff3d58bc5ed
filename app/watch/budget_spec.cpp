// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/budget_spec.h"

#include <algorithm>
#include <cmath>

#include "app/watch/live_model.h"
#include "app/watch/watch_words.h"

namespace ash {
using look::theme;

double budgetFootC(const LiveModel& model) { return std::isfinite(model.roomC()) ? model.roomC() : 20.0; }

look::ColumnSpec budgetSpec(const LiveModel& model, const std::string& column) {
  look::ColumnSpec spec;
  const double foot = budgetFootC(model);
  const double now = model.latest(column);
  spec.usedK = std::isfinite(now) ? now - foot : 0;
  if (const auto limit = model.limit(column, "throttle")) spec.limitK = *limit - foot;
  if (std::isfinite(model.highest(column))) spec.highestK = model.highest(column) - foot;
  const bool isWatched = column == model.info().watched;
  spec.fill = isWatched ? theme().series(model.info().setupIndex) : theme().seriesTint(model.info().setupIndex);
  const auto& state = model.state();
  if (isWatched && model.isGoingOn() && state && std::isfinite(state->forecast.value) && !isPinned(model)) {
    spec.forecastK = state->forecast.value - foot;
    // An interval far beyond the limit says "not known yet", not a place on the scale.
    const double top = spec.limitK.value_or(100) + 15;
    spec.forecastLowK = std::clamp(state->forecast.low - foot, 0.0, top);
    spec.forecastHighK = std::clamp(state->forecast.high - foot, 0.0, top);
    if (*spec.forecastK > top || *spec.forecastK < 0) spec.forecastK.reset();
  }
  spec.state = look::stateOfHeadroom(spec.usedK, spec.limitK);
  if (state) {
    for (const LiveRule& rule : state->rules) {
      if (rule.role == column && rule.hasTripped) spec.state = look::ColumnState::Tripped;
    }
  }
  if (spec.state == look::ColumnState::Live && !model.isGoingOn()) spec.state = look::ColumnState::Done;
  return spec;
}

}  // namespace ash
