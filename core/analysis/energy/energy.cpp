// SPDX-License-Identifier: GPL-3.0-or-later
// Energy: the integral of power over time, or the difference of a counter where there is one.
#include <fmt/format.h>

#include <cmath>

#include "analysis/energy/energy.h"
#include "model/role.h"

namespace ash {
namespace {

// What was spent in a step over which a counter fell: it wrapped, or was reset. The power beside it tells; without one
// the steps around it do.
double stepOfFall(const SeriesView& counter, size_t i, const SeriesView* power) {
  const double dt = counter.t[i] - counter.t[i - 1];
  if (power != nullptr) {
    const double watts = (interpolate(*power, counter.t[i - 1]) + interpolate(*power, counter.t[i])) / 2;
    if (std::isfinite(watts)) return std::max(0.0, watts) * dt;
  }
  double watts = 0;
  int known = 0;
  for (const size_t k : {i - 1, i + 1}) {
    if (k == 0 || k >= counter.size() || counter.v[k] < counter.v[k - 1]) continue;
    watts += (counter.v[k] - counter.v[k - 1]) / (counter.t[k] - counter.t[k - 1]);
    ++known;
  }
  return known == 0 ? 0 : watts / known * dt;
}

std::optional<double> counterJ(const SeriesView& counter, const TimeSpan& span, const SeriesView* power) {
  const SeriesView part = viewOf(counter, {span.startS, std::nextafter(span.endS, INFINITY)});
  if (part.size() < 2) return std::nullopt;
  double sum = 0;
  for (size_t i = 1; i < part.size(); ++i)
    sum += part.v[i] >= part.v[i - 1] ? part.v[i] - part.v[i - 1] : stepOfFall(part, i, power);
  return sum;
}

// The column beside another one, by its name: a foreign log may name what is in no table of roles.
std::string besideName(const std::string& name, const char* what) { return name.substr(0, name.rfind('.')) + what; }

/// A power and the counter of the same device, where it has one.
struct Meter {
  const SeriesView* power = nullptr;
  const SeriesView* counter = nullptr;
};

Meter meterOf(const RunContext& context, const std::string& powerChannel) {
  Meter meter{context.find(powerChannel), nullptr};
  if (powerChannel.ends_with(".power")) meter.counter = context.find(besideName(powerChannel, ".energy"));
  if (meter.counter != nullptr && meter.counter->size() < 2) meter.counter = nullptr;
  return meter;
}

Energy energyOfDevice(const RunContext& context, const std::string& name, std::vector<Problem>& problems) {
  const Meter meter = meterOf(context, name);
  const SeriesView& series = meter.counter != nullptr ? *meter.counter : *meter.power;
  Energy energy;
  energy.channel = name;
  double leftOutS = 0;
  energy.totalJ = joulesOf(context, name, {series.t.front(), std::nextafter(series.t.back(), INFINITY)}, &leftOutS);
  if (context.load) energy.loadJ = joulesOf(context, name, *context.load);
  if (energy.loadJ && context.idle && context.idle->lengthS() > 0) {
    if (const auto restJ = joulesOf(context, name, *context.idle))
      energy.loadOverIdleJ = *energy.loadJ - *restJ / context.idle->lengthS() * context.load->lengthS();
  }
  std::vector<double> perPass;
  for (const Pass& pass : context.run.facts.passes) {
    if (const auto spent = joulesOf(context, name, {pass.startS, pass.endS})) perPass.push_back(*spent);
  }
  if (!perPass.empty()) energy.perPassJ = meanOf(perPass);
  const auto& work = context.run.facts.work;
  if (work && work->units > 0 && energy.loadJ) {
    std::optional<double> spent = energy.loadJ;
    if (context.load && std::isfinite(work->doneS))
      spent = joulesOf(context, name,
                       {context.load->startS, std::min(context.load->startS + work->doneS, context.load->endS)});
    if (spent) energy.perWorkUnitJ = *spent / work->units;
  }
  if (leftOutS > 0) {
    problems.push_back({ProblemKind::EnergyGap, name, series.t.front(), series.t.back(),
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

std::optional<double> joulesOf(const RunContext& context, const std::string& powerChannel, const TimeSpan& span,
                               double* leftOutS) {
  const Meter meter = meterOf(context, powerChannel);
  if (meter.counter != nullptr) return counterJ(*meter.counter, span, meter.power);
  if (meter.power == nullptr) return std::nullopt;
  return integrateW(*meter.power, span, kGapIntervals * context.intervalOf(*meter.power), leftOutS);
}

std::vector<Energy> energyOf(const RunContext& context, std::vector<Problem>& problems) {
  std::vector<Energy> all;
  for (const Channel& channel : context.run.log.channels) {
    const SeriesView* series = context.find(channel.name);
    if (series == nullptr || channel.role.part() == Part::Limit) continue;
    if (channel.quantity == Quantity::Power) all.push_back(energyOfDevice(context, channel.name, problems));
    // A counter without power beside it is told under the power's name all the same.
    const std::string power = besideName(channel.name, ".power");
    const bool isLoneCounter = channel.quantity == Quantity::Energy && channel.name.ends_with(".energy") &&
                               context.find(power) == nullptr && series->size() >= 2;
    if (isLoneCounter) all.push_back(energyOfDevice(context, power, problems));
  }
  return all;
}

}  // namespace ash
