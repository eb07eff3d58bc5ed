// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/charts/run_figures.h"

#include <cmath>

#include "analysis/catalogue/metrics.h"
#include "model/role.h"

namespace ash {

double figureOfRun(const AnalyzedRun& run, const Figure& metric) {
  const auto metrics = metricsOf(run.run, run.figures);
  const auto found = metrics.find(metric);
  return found == metrics.end() ? kMissing : found->second.value;
}

std::optional<double> limitOfMetric(const AnalyzedRun& run, const Figure& metric) {
  if (metric.kind().warming != WhileWarming::Above) return std::nullopt;
  const bool overRoom = metric.id() == FigureId::OverRoom;
  const ChannelFigures* channel = run.figures.channel(Role(metric.device(), Quantity::Temperature).text());
  if (channel == nullptr || !channel->limit) return std::nullopt;
  if (!overRoom) return channel->limit;
  if (!channel->overAmbientK || !channel->headroomK) return std::nullopt;
  return *channel->overAmbientK + *channel->headroomK;
}

bool wasAtLimit(const AnalyzedRun& run, const Figure& metric) {
  if (!run.figures.window || !limitOfMetric(run, metric)) return false;
  for (const Throttling& throttling : run.figures.throttling) {
    if (throttling.device != metric.device()) continue;
    for (const ThrottleInterval& interval : throttling.intervals) {
      if (interval.cause == Cause::Thermal && interval.span.startS < run.figures.window->span.endS &&
          interval.span.endS > run.figures.window->span.startS)
        return true;
    }
  }
  return false;
}

}  // namespace ash
