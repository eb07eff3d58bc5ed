// SPDX-License-Identifier: GPL-3.0-or-later
// A battery that runs down under load.
#include <algorithm>
#include <cmath>

#include "analysis/energy/energy.h"

namespace ash {
namespace {

constexpr double kEmptyPercent = 5;       // below it a machine goes down when it likes
constexpr double kLeastDrainPercent = 2;  // less says nothing of a runtime
constexpr size_t kStretches = 6;          // that tell how the drain wanders

// What a gauge shows after it has reached zero says nothing of the drain.
SeriesView untilEmpty(const SeriesView& charge) {
  const auto zero = std::find_if(charge.v.begin(), charge.v.end(), [](double percent) { return percent <= 0; });
  const auto n = std::min(charge.size(), static_cast<size_t>(zero - charge.v.begin()) + 1);
  return {charge.t.first(n), charge.v.first(n)};
}

// Where it shows less than ever before. The first reading is none: it may have stood there for long.
Series fallsOf(const SeriesView& charge) {
  Series falls;
  double least = charge.empty() ? 0 : charge.v.front();
  for (size_t i = 1; i < charge.size(); ++i) {
    if (charge.v[i] >= least) continue;
    least = charge.v[i];
    falls.t.push_back(charge.t[i]);
    falls.v.push_back(least);
  }
  return falls;
}

}  // namespace

std::optional<Drain> drainOf(const SeriesView& charge) {
  const Series falls = fallsOf(charge);
  if (falls.t.size() < 3 || falls.v.front() - falls.v.back() < kLeastDrainPercent) return std::nullopt;
  const size_t last = falls.t.size() - 1;
  Drain drain;
  drain.lastS = falls.t[last];
  drain.last = falls.v[last];
  drain.overS = falls.t[last] - falls.t[0];
  drain.percentPerS = (falls.v[0] - falls.v[last]) / drain.overS;
  const size_t stretches = std::min(kStretches, last);
  double sum = 0, neighbours = 0, before = 0;
  for (size_t i = 0; i < stretches; ++i) {
    const size_t from = i * last / stretches, to = (i + 1) * last / stretches;
    const double lastedS = falls.t[to] - falls.t[from];
    const double off = falls.v[from] - falls.v[to] - drain.percentPerS * lastedS;
    const double scaled = off / std::sqrt(lastedS);
    sum += scaled * scaled;
    neighbours += scaled * before;
    before = scaled;
  }
  drain.freedom = static_cast<double>(stretches - 1);
  // A wander slower than a stretch goes on in the next.
  drain.wander = (sum + 2 * std::max(0.0, neighbours)) / drain.freedom;
  return drain;
}

Estimate drainedAfterS(const Drain& drain, double percent) {
  const double ahead = std::max(0.0, drain.last - percent), leftS = ahead / drain.percentPerS;
  const double half = studentT95(drain.freedom) * std::sqrt(drain.wander * leftS * (1 + leftS / drain.overS));
  if (ahead > 0 && half >= ahead) return {};
  return {leftS, (ahead - half) / drain.percentPerS, (ahead + half) / drain.percentPerS};
}

std::optional<BatteryFigures> batteryOf(const RunContext& context) {
  const SeriesView* charge = context.find(roles::kBatteryCharge);
  if (charge == nullptr || !context.load) return std::nullopt;
  // A log that was cut off in its load ends with it: its last reading belongs to the load.
  const double lastS = context.run.log.timeS.back();
  const bool isCutOff = context.load->endS >= lastS;
  const SeriesView part =
      untilEmpty(viewOf(*charge, isCutOff ? TimeSpan{context.load->startS, INFINITY} : *context.load));
  const auto drain = drainOf(part);
  if (!drain) return std::nullopt;
  BatteryFigures figures;
  figures.drainPercentPerHour = drain->percentPerS * 3600;
  figures.lastSampleS = lastS;
  figures.usedPercent = part.v.front() - part.v.back();
  figures.ranDown = part.v.back() <= 0 || (part.v.back() <= kEmptyPercent && isCutOff);
  if (const Estimate left = drainedAfterS(*drain, 0); std::isfinite(left.value)) {
    const double soFarS = drain->lastS - context.load->startS;
    figures.runtimeS = {soFarS + left.value, soFarS + left.low, soFarS + left.high};
  }
  // It ran down: no extrapolation, but the last sample before the end.
  if (figures.ranDown) {
    const double measuredS = part.t.back() - context.load->startS;
    figures.runtimeS = {measuredS, measuredS, measuredS + medianInterval(part.t)};
  }
  return figures;
}

}  // namespace ash
