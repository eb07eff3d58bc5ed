// SPDX-License-Identifier: GPL-3.0-or-later
// A device at its limit says nothing by its temperature. While sink, coolant and case go on warming up, what it
// delivers falls, and that is judged by the rule that temperatures are judged by, in percent (docs/method.md, "At its
// limit").
#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

// So long it must have been at its limit, or what still creeps up to it would pass for held: the power that it will
// lose there is not lost yet.
constexpr double kAtLimitShare = 0.2;                         // of the load
constexpr double kAtLimitAtLeastS = 60, kOfShortLoads = 0.5;  // of a load that is short itself
constexpr double kSwingsK = 0.5;
constexpr size_t kMostBins = 240, kFewestBins = 8;
constexpr double kLateLevelShare = 0.2;  // of the time it is held: percent are counted from the mean at its end

// When it rises through its middle, between two readings as a straight line goes: whole cycles lie between.
std::vector<double> upwardCrossings(const SeriesView& part) {
  const double middle = medianOf({part.v.begin(), part.v.end()});
  std::vector<double> upward;
  for (size_t i = 1; i < part.size(); ++i) {
    const double below = part.v[i - 1], above = part.v[i];
    if (!(below < middle && above >= middle)) continue;
    upward.push_back(part.t[i - 1] + (middle - below) / (above - below) * (part.t[i] - part.t[i - 1]));
  }
  return upward;
}

/// The temperature while it is held: its mean over whole cycles, and whether it still moves.
struct HeldTemperature {
  double mean = kMissing, half = kMissing;  // of the 95 % interval
  double trendK = 0;
  std::vector<double> cyclesS;  // where they begin; empty = it does not swing
};

HeldTemperature heldTemperature(const SettlingQuestion& question, const SeriesView& part) {
  std::vector<double> upward = upwardCrossings(part);
  const bool hasCycles = upward.size() >= 2;
  const SeriesView whole = hasCycles ? viewOf(part, {upward.front(), upward.back()}) : part;
  const Stats stats = statsOf(whole, question.stepK);
  HeldTemperature held;
  held.mean = stats.mean;
  held.half = studentT95(std::max(2.0, static_cast<double>(stats.n) / 10)) * stats.se;
  if (hasCycles && stats.sd > kSwingsK) {
    held.cyclesS = std::move(upward);
    return held;
  }
  const SeriesView late = viewOf(whole, {part.t.back() - question.trendS, INFINITY});
  if (late.size() >= 4) held.trendK = lineThrough(late).sureChange(late.size());
  return held;
}

// The spans that means are taken over: whole cycles, so that a governor's steps to and fro are no noise.
std::vector<double> binEdges(const SeriesView& part, const std::vector<double>& cyclesS) {
  const double lengthS = part.t.back() - part.t.front();
  const double widthS = std::max(lengthS / static_cast<double>(kMostBins), medianInterval(part.t));
  std::vector<double> edges;
  if (cyclesS.size() > kFewestBins) {
    for (const double cycle : cyclesS) {
      if (edges.empty() || cycle - edges.back() >= widthS) edges.push_back(cycle);
    }
    if (edges.size() > kFewestBins) return edges;
    edges.clear();
  }
  for (double edge = part.t.front(); edge < part.t.back() + widthS; edge += widthS) edges.push_back(edge);
  return edges;
}

bool hasPause(const SettlingQuestion& question, const TimeSpan& span) {
  if (question.busy.empty()) return false;
  return std::none_of(question.busy.begin(), question.busy.end(), [&](const TimeSpan& busy) {
    return busy.startS <= span.startS + 1e-9 && busy.endS >= span.endS - 1e-9;
  });
}

// Time-weighted means between the edges, each reading taken as the mean since the one before; spans with a pause are
// left out.
Series binned(const SettlingQuestion& question, const SeriesView& part, const std::vector<double>& cyclesS) {
  Series bins;
  if (part.size() < kFewestBins) return bins;
  std::vector<double> area(part.size());
  for (size_t i = 1; i < part.size(); ++i) area[i] = area[i - 1] + part.v[i] * (part.t[i] - part.t[i - 1]);
  const SeriesView areaAt(part.t, area);
  const std::vector<double> edges = binEdges(part, cyclesS);
  for (size_t k = 1; k < edges.size(); ++k) {
    const TimeSpan span{edges[k - 1], std::min(edges[k], part.t.back())};
    if (span.lengthS() < 0.5 * (edges[k] - edges[k - 1]) || hasPause(question, span)) continue;
    bins.t.push_back((span.startS + span.endS) / 2);
    bins.v.push_back((interpolate(areaAt, span.endS) - interpolate(areaAt, span.startS)) / span.lengthS());
  }
  return bins;
}

// The kelvin over the room that watts carry away, at the times of the bins and where they end; nothing without a room.
struct OverRoom {
  std::vector<double> at;
  double end = kMissing;
};

OverRoom overRoomOf(const SettlingQuestion& question, const Series& celsius, const std::vector<double>& times) {
  OverRoom over;
  if (question.room.empty() || celsius.empty()) return over;
  const RoomBelow room(question.room);
  over.at = interpolateAt(celsius, times);
  for (size_t i = 0; i < times.size(); ++i) over.at[i] -= room.during(times[i], times[i]);
  const double endS = question.governed->endS, lateS = kLateLevelShare * question.governed->lengthS();
  over.end = meanOf(viewOf(celsius, {endS - lateS, INFINITY}).v) - room.during(endS, endS);
  return over;
}

// What it draws goes with those kelvin: a room that moves, and a governor that holds it now nearer and now farther from
// its limit, are no settling.
void countAtTheEnd(const OverRoom& over, Series& watts) {
  for (size_t i = 0; i < over.at.size(); ++i) {
    if (over.end > 0 && over.at[i] > 0) watts.v[i] *= over.end / over.at[i];
  }
}

// How much of the watts is in doubt because metal has still to follow a room that moves: what the room did within the
// slowest time constant, over the kelvin above it.
double shareInDoubt(const SettlingQuestion& question, double heldC, const WarmUpFit& fit) {
  if (question.room.empty() || fit.timeConstantsS.empty()) return 0;
  const RoomBelow room(question.room);
  const double endS = question.governed->endS, beforeS = endS - fit.timeConstantsS.back();
  const double now = room.during(endS, endS);
  return std::abs(now - room.during(beforeS, beforeS)) / std::max(heldC - now, 1.0);
}

// What steps or is rounded more coarsely goes with the watts: read off a straight line over the later half of the time
// it is held.
HeldForecast alongPower(const std::string& channel, const Series& values, const Series& watts,
                        const HeldForecast& power) {
  const size_t first = values.size() / 2;
  const SeriesView later{std::span(values.t).subspan(first), std::span(values.v).subspan(first)};
  const std::vector<double> at = interpolateAt(watts, later.t);
  const double middle = meanOf(later.v), middleW = meanOf(at);
  double across = 0, along = 0;
  for (size_t i = 0; i < at.size(); ++i) {
    across += (at[i] - middleW) * (later.v[i] - middle);
    along += (at[i] - middleW) * (at[i] - middleW);
  }
  const double slope = along > 0 ? std::max(0.0, across / along) : 0;
  double rss = 0;
  for (size_t i = 0; i < at.size(); ++i) {
    const double left = later.v[i] - middle - slope * (at[i] - middleW);
    rss += left * left;
  }
  const auto count = static_cast<double>(at.size());
  const double nowW = power.value * (1 + power.remainingPercent / 100);
  const auto valueAt = [&](double powerW) { return middle + slope * (powerW - middleW); };
  const double spread = along > 0 ? (power.value - middleW) * (power.value - middleW) / along : 0;
  const double half = 1.96 * std::sqrt(rss / std::max(1.0, count - 2) * (1 / count + spread));
  HeldForecast held{channel, valueAt(power.value)};
  held.low = valueAt(power.low) - half;
  held.high = valueAt(power.high) + half;
  held.remainingPercent = 100 * (valueAt(nowW) / held.value - 1);
  return held;
}

/// One thing that is delivered, judged as what is lost of it in percent: that rises as the metal warms up.
struct JudgedDelivery {
  HeldForecast forecast;
  Judged loss;
  Series bins;  // as it was read
};

std::optional<JudgedDelivery> judgeDelivered(const SettlingQuestion& question, const Delivered& delivered, double heldC,
                                             const std::vector<double>& cyclesS) {
  const SeriesView part = viewOf(delivered.readings, *question.governed);
  Series loss = binned(question, part, cyclesS);
  if (loss.size() < kFewestBins) return std::nullopt;
  const Series asRead = loss;
  if (delivered.isPower) {
    const Series celsius = binned(question, viewOf(question.temperature, *question.governed), cyclesS);
    countAtTheEnd(overRoomOf(question, celsius, loss.t), loss);
  }
  const double levelFromS = question.governed->endS - kLateLevelShare * question.governed->lengthS();
  const double level = meanOf(viewOf(loss, {levelFromS, INFINITY}).v);
  if (!(level > 0)) return std::nullopt;
  for (double& value : loss.v) value = 100 * (1 - value / level);
  SettlingQuestion own;
  own.temperature = loss;
  own.load = *question.governed;
  own.trendS = std::min(question.trendS, std::max(trendLength(own.load), 4 * medianInterval(loss.t)));
  JudgedDelivery judged{{delivered.channel}, judgeNow(own), asRead};
  const SettlingVerdict& verdict = judged.loss.verdict;
  judged.forecast.value = level * (1 - verdict.forecast / 100);
  const double doubt = delivered.isPower ? judged.forecast.value * shareInDoubt(question, heldC, verdict.fit) : 0;
  judged.forecast.low =
      judged.forecast.value - std::hypot(level * (verdict.forecastHigh - verdict.forecast) / 100, doubt);
  judged.forecast.high =
      judged.forecast.value + std::hypot(level * (verdict.forecast - verdict.forecastLow) / 100, doubt);
  judged.forecast.remainingPercent = verdict.remainingK;
  return judged;
}

}  // namespace

Judged judgeGoverned(const SettlingQuestion& question) {
  Judged judged;
  SettlingVerdict& verdict = judged.verdict;
  verdict.isGoverned = true;
  const SeriesView part = viewOf(question.temperature, *question.governed);
  if (part.size() < kFewestBins) return judged;
  const HeldTemperature held = heldTemperature(question, part);
  verdict.forecast = held.mean;
  verdict.forecastLow = held.mean - held.half;
  verdict.forecastHigh = held.mean + held.half;
  verdict.remainingK = 0;
  verdict.worstRemainingK = held.half;
  std::optional<JudgedDelivery> decides;
  bool hasPower = false;
  for (const Delivered& delivered : question.delivered) {
    if (decides && hasPower) {
      const Series bins = binned(question, viewOf(delivered.readings, *question.governed), held.cyclesS);
      if (bins.size() >= kFewestBins)
        verdict.held.push_back(alongPower(delivered.channel, bins, decides->bins, decides->forecast));
      continue;
    }
    auto one = judgeDelivered(question, delivered, held.mean, held.cyclesS);
    if (!one || !std::isfinite(one->forecast.value)) continue;
    verdict.held.push_back(one->forecast);
    if (decides) continue;
    decides = std::move(one);
    hasPower = delivered.isPower;
  }
  const double loadS = question.load.lengthS();
  const double leastS = std::max(kAtLimitShare * loadS, std::min(kAtLimitAtLeastS, kOfShortLoads * loadS));
  const bool isHeld = question.governed->lengthS() >= leastS &&
                      held.trendK < std::max(kSettledWithinK, question.stepK) && loadS >= question.leastS;
  verdict.isSettled = isHeld && (!decides || decides->loss.verdict.isSettled);
  judged.isContradicted = !isHeld || !decides || decides->loss.isContradicted;
  double sinceS = question.governed->startS;
  if (decides) {
    verdict.worstRemainingPercent = decides->loss.verdict.worstRemainingK;
    verdict.timeConstantsS = decides->loss.verdict.timeConstantsS;
    verdict.fit = std::move(decides->loss.verdict.fit);
    if (decides->loss.verdict.isSettled) sinceS = std::max(sinceS, decides->loss.verdict.atS);
  }
  verdict.atS = verdict.isSettled ? sinceS : kMissing;
  return judged;
}

}  // namespace ash
