// SPDX-License-Identifier: GPL-3.0-or-later
// Energy: the integral of power over time, or the difference of a counter where there is one.
#include <fmt/format.h>

#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kGapIntervals = 5;

// A fall of a counter is a reset or a wrap whose width is not known: that step is left out.
std::optional<double> counterJ(const SeriesView& counter, const TimeSpan& span) {
  const SeriesView part = viewOf(counter, {span.startS, std::nextafter(span.endS, INFINITY)});
  if (part.size() < 2) return std::nullopt;
  double sum = 0;
  for (size_t i = 1; i < part.size(); ++i) sum += std::max(0.0, part.v[i] - part.v[i - 1]);
  return sum;
}

Energy energyOfChannel(const RunContext& context, const std::string& name, std::vector<Problem>& problems) {
  const SeriesView& power = *context.find(name);
  const double longestS = kGapIntervals * medianInterval(power.t);
  const TimeSpan all{power.t.front(), std::nextafter(power.t.back(), INFINITY)};
  Energy energy{name, {}, {}, {}};
  const std::string counter = name.substr(0, name.rfind('.')) + ".energy";
  const SeriesView* counted = name.ends_with(".power") ? context.find(counter) : nullptr;
  double leftOutS = 0;
  energy.totalJ = counted != nullptr ? counterJ(*counted, all) : integrateW(power, all, longestS, &leftOutS);
  if (context.load) {
    energy.loadJ = counted != nullptr ? counterJ(*counted, *context.load) : integrateW(power, *context.load, longestS);
  }
  const auto& work = context.run.facts.work;
  if (work && work->units > 0 && energy.loadJ) {
    std::optional<double> spent = energy.loadJ;
    if (context.load && std::isfinite(work->doneS)) {
      spent = integrateW(
          power, {context.load->startS, std::min(context.load->startS + work->doneS, context.load->endS)}, longestS);
    }
    if (spent) energy.perWorkUnitJ = *spent / work->units;
  }
  if (leftOutS > 0) {
    problems.push_back({"energy_gap", name, power.t.front(), power.t.back(),
                        fmt::format("{:.1f} s without readings of {} are left out of its energy.", leftOutS, name)});
  }
  return energy;
}

}  // namespace

std::optional<double> integrateW(const SeriesView& power, const TimeSpan& span, double longestS, double* leftOutS) {
  const SeriesView part = viewOf(power, {span.startS, std::nextafter(span.endS, INFINITY)});
  if (part.size() < 2) return std::nullopt;
  double joules = 0;
  for (size_t i = 1; i < part.size(); ++i) {
    const double dt = part.t[i] - part.t[i - 1];
    if (dt > longestS * (1 + 1e-9)) {
      if (leftOutS != nullptr) *leftOutS += dt;
      continue;
    }
    joules += dt * (part.v[i] + part.v[i - 1]) / 2;
  }
  return joules;
}

std::vector<Energy> energyOf(const RunContext& context, std::vector<Problem>& problems) {
  std::vector<Energy> all;
  for (const Channel& channel : context.run.log.channels) {
    if (channel.quantity != Quantity::Power || channel.role.ends_with(".limit")) continue;
    if (context.find(channel.name) != nullptr) all.push_back(energyOfChannel(context, channel.name, problems));
  }
  return all;
}

}  // namespace ash
