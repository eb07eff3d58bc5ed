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

PlotLine trailOf(const AnalyzedRun& run, const std::string& x, const std::string& y, const TimeSpan& span, int parts) {
  const Channel *across = run.run.log.find(x), *up = run.run.log.find(y);
  PlotLine line;
  line.stroke = PlotLine::Stroke::Trail;
  if (across == nullptr || up == nullptr) return line;
  const Series xs = seriesOf(run.run.log, *across), ys = seriesOf(run.run.log, *up);
  const double lengthS = span.lengthS() / parts;
  for (int part = 0; part < parts; ++part) {
    const double startS = span.startS + part * lengthS;
    const SeriesView a = viewOf(xs, {startS, startS + lengthS}), b = viewOf(ys, {startS, startS + lengthS});
    if (a.empty() || b.empty()) continue;
    line.x.push_back(meanOf(a.v));
    line.y.push_back(meanOf(b.v));
  }
  return line;
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
