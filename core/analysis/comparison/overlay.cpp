// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/overlay.h"

#include <algorithm>
#include <cmath>

#include "analysis/comparison/pooling.h"
#include "model/condition_field.h"
#include "model/iso_date.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kSteadyS = 20;  // a planned limit that held for so long sets the clock that is to be held

Series channelOf(const AnalyzedRun& run, const std::string& name) {
  const Channel* channel = run.run.log.find(name);
  return channel == nullptr ? Series() : seriesOf(run.run.log, *channel);
}

// The room as logged, else as stated; empty when it is not known.
std::optional<Series> roomSeriesOf(const AnalyzedRun& run) {
  Series room = channelOf(run, roles::kRoom);
  if (!room.empty()) return room;
  if (const auto stated = run.run.facts.conditionNumber(fields::kRoom)) return Series{{0}, {*stated}};
  return std::nullopt;
}

Device deviceOf(const AnalyzedRun& run) {
  const Role role(run.figures.watched);
  return role.isKnown() ? role.device() : Device(DeviceKind::Cpu);
}

double meanIn(const AnalyzedRun& run, const std::string& name, const TimeSpan& window) {
  return meanOf(slice(channelOf(run, name), window).v);
}

}  // namespace

double shouldHoldMhz(const Throttling& throttling) {
  double should = throttling.referenceMhz;
  for (const ThrottleInterval& interval : throttling.intervals) {
    if (interval.isPlanned && interval.span.lengthS() > kSteadyS)
      should = std::min(should, throttling.referenceMhz - interval.depthMhz);
  }
  return should;
}

double epochOf(const std::string& iso) { return isoSeconds(iso).value_or(kMissing); }

double zeroOf(const AnalyzedRun& run, Align align, double epochS) {
  switch (align) {
    case Align::LoadStart:
      return run.figures.load ? run.figures.load->startS : kMissing;
    case Align::ClockTime:
      return epochS - epochOf(run.run.facts.started);
    case Align::Settled: {
      const ChannelFigures* watched = run.figures.channel(run.figures.watched);
      const bool isSettled = watched != nullptr && watched->settled && watched->settled->isSettled;
      return isSettled ? watched->settled->atS : kMissing;
    }
  }
  return kMissing;
}

Series smoothed(const Series& series, double spanS) {
  if (!(spanS > 0) || series.size() < 3) return series;
  Series result = series;
  size_t from = 0, to = 0;
  double sum = 0;
  for (size_t i = 0; i < series.size(); ++i) {
    while (to < series.size() && series.t[to] <= series.t[i] + spanS / 2) sum += series.v[to++];
    while (series.t[from] < series.t[i] - spanS / 2) sum -= series.v[from++];
    result.v[i] = sum / static_cast<double>(to - from);
  }
  return result;
}

Series tracedSeries(const AnalyzedRun& run, const std::string& name, Align align, Scale scale, double smoothS,
                    double epochS) {
  const double zero = zeroOf(run, align, epochS);
  const Channel* channel = run.run.log.find(name);
  if (!std::isfinite(zero) || channel == nullptr) return {};
  Series series = smoothed(seriesOf(run.run.log, *channel), smoothS);
  if (channel->quantity == Quantity::Temperature && !Role(name).isRoom() && scale != Scale::Celsius) {
    if (scale == Scale::OverRoom) {
      const auto room = roomSeriesOf(run);
      if (!room) return {};
      const std::vector<double> at = interpolateAt(*room, series.t);
      for (size_t i = 0; i < series.size(); ++i) series.v[i] -= at[i];
    } else {
      const auto limit = run.run.facts.limit(name, "throttle");
      if (!limit) return {};
      for (double& value : series.v) value = *limit - value;
    }
  }
  for (double& t : series.t) t -= zero;
  return series;
}

namespace {

// Lowest and highest of a series around each time of a grid, its own readings between the grid's included.
void widen(Band& band, const Series& series, double stepS) {
  size_t next = 0;
  for (size_t i = 0; i < band.t.size(); ++i) {
    while (next < series.size() && series.t[next] < band.t[i] - stepS / 2) ++next;
    for (; next < series.size() && series.t[next] <= band.t[i] + stepS / 2; ++next) {
      band.low[i] = std::min(band.low[i], series.v[next]);
      band.high[i] = std::max(band.high[i], series.v[next]);
    }
  }
}

}  // namespace

Band bandOf(const std::vector<Series>& repeats, size_t mostPoints) {
  Band band;
  double from = -INFINITY, to = INFINITY;
  size_t most = 2;
  for (const Series& series : repeats) {
    if (series.empty()) return {};
    from = std::max(from, series.t.front());
    to = std::min(to, series.t.back());
    most = std::max(most, series.size());
  }
  if (repeats.empty() || !(to > from) || mostPoints < 2) return {};
  const size_t points = std::min(most, mostPoints);
  const double stepS = (to - from) / static_cast<double>(points - 1);
  for (size_t i = 0; i < points; ++i) band.t.push_back(i + 1 == points ? to : from + stepS * static_cast<double>(i));
  band.mean.assign(points, 0);
  band.low.assign(points, INFINITY);
  band.high.assign(points, -INFINITY);
  for (const Series& series : repeats) {
    const std::vector<double> values = interpolateAt(series, band.t);
    for (size_t i = 0; i < points; ++i) {
      band.mean[i] += values[i] / static_cast<double>(repeats.size());
      band.low[i] = std::min(band.low[i], values[i]);
      band.high[i] = std::max(band.high[i], values[i]);
    }
    widen(band, series, stepS);
  }
  return band;
}

Series differenceOf(const Series& series, const Series& reference) {
  Series difference;
  if (reference.empty()) return difference;
  for (size_t i = 0; i < series.size(); ++i) {
    if (series.t[i] < reference.t.front() || series.t[i] > reference.t.back()) continue;
    difference.t.push_back(series.t[i]);
    difference.v.push_back(series.v[i] - interpolate(reference, series.t[i]));
  }
  return difference;
}

std::optional<TimeSpan> windowOfRun(const AnalyzedRun& run, const WindowChoice& choice, Align align, double epochS) {
  if (choice.kind == WindowChoice::Kind::OfEachRun) {
    return run.figures.window ? std::optional(run.figures.window->span) : std::nullopt;
  }
  if (choice.kind == WindowChoice::Kind::FromSettled) {
    const double settled = zeroOf(run, Align::Settled);
    if (!std::isfinite(settled) || !run.figures.load || settled >= run.figures.load->endS) return std::nullopt;
    return TimeSpan{settled, run.figures.load->endS};
  }
  const double zero = zeroOf(run, align, epochS);
  if (!std::isfinite(zero) || run.run.log.timeS.empty()) return std::nullopt;
  const TimeSpan span{std::max(0.0, choice.startS + zero), std::min(run.run.log.timeS.back(), choice.endS + zero)};
  return span.lengthS() > 0 ? std::optional(span) : std::nullopt;
}

WindowFigures figuresIn(const AnalyzedRun& run, const TimeSpan& window) {
  WindowFigures figures;
  const std::string& watched = run.figures.watched;
  const ChannelFigures* about = run.figures.channel(watched);
  const Series temperature = slice(channelOf(run, watched), window);
  if (!temperature.empty()) {
    figures.meanC = meanOf(temperature.v);
    figures.highestC = *std::max_element(temperature.v.begin(), temperature.v.end());
    if (about != nullptr && about->limit) figures.leftK = *about->limit - figures.highestC;
  }
  if (const auto room = roomSeriesOf(run); room && !temperature.empty()) {
    Series over = temperature;
    for (size_t i = 0; i < over.size(); ++i) over.v[i] -= interpolate(*room, over.t[i]);
    const Stats stats = statsOf(over, about == nullptr ? 0 : about->step);
    figures.overRoomK = stats.mean;
    figures.overRoomSe = stats.se;
  }
  const Device device = deviceOf(run);
  figures.clockMhz = meanIn(run, Role(device, Quantity::Clock).text(), window);
  figures.powerW = meanIn(run, Role(device, Quantity::Power).text(), window);
  figures.workRate = meanIn(run, roles::kWorkRate, window);
  figures.noiseDba = meanIn(run, roles::kNoise, window);
  figures.fanRpm = meanIn(run, roles::kFanCpu, window);
  for (const Throttling& throttling : run.figures.throttling) {
    if (throttling.device != device) continue;
    for (const ThrottleInterval& interval : throttling.intervals) {
      const double overlap = std::min(interval.span.endS, window.endS) - std::max(interval.span.startS, window.startS);
      if (overlap <= 0 || interval.cause != Cause::Thermal || !(window.lengthS() > 0)) continue;
      figures.isAtLimit = true;
      figures.slowedShare += overlap / window.lengthS();
      const double should = shouldHoldMhz(throttling);
      const TimeSpan both{std::max(interval.span.startS, window.startS), std::min(interval.span.endS, window.endS)};
      const double held = meanIn(run, Role(device, Quantity::Clock).text(), both);
      if (should > held) figures.lostClockShare += (should - held) / should * overlap / window.lengthS();
    }
  }
  return figures;
}

namespace {

double averageOf(const std::vector<WindowFigures>& all, double WindowFigures::*figure) {
  double sum = 0;
  int count = 0;
  for (const WindowFigures& figures : all) {
    if (!std::isfinite(figures.*figure)) continue;
    sum += figures.*figure;
    ++count;
  }
  return count == 0 ? kMissing : sum / count;
}

}  // namespace

RepeatedFigures averaged(const std::vector<WindowFigures>& repeats) {
  RepeatedFigures result;
  if (repeats.empty()) return result;
  WindowFigures& mean = result.mean;
  for (double WindowFigures::*figure :
       {&WindowFigures::overRoomK, &WindowFigures::meanC, &WindowFigures::leftK, &WindowFigures::clockMhz,
        &WindowFigures::powerW, &WindowFigures::workRate, &WindowFigures::noiseDba, &WindowFigures::fanRpm,
        &WindowFigures::slowedShare, &WindowFigures::lostClockShare})
    mean.*figure = averageOf(repeats, figure);
  mean.highestC = -INFINITY;
  std::vector<double> overRoom, errors;
  for (const WindowFigures& figures : repeats) {
    mean.highestC = std::max(mean.highestC, figures.highestC);
    mean.isAtLimit |= figures.isAtLimit;
    if (!std::isfinite(figures.overRoomK)) continue;
    overRoom.push_back(figures.overRoomK);
    errors.push_back(figures.overRoomSe);
  }
  if (!overRoom.empty()) result.overRoomHalfK = halfWidth(pooledValues(overRoom, errors));
  return result;
}

}  // namespace ash
