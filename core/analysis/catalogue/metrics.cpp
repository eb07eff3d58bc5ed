// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/catalogue/metrics.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "analysis/catalogue/accuracy.h"
#include "model/role.h"

namespace ash {
namespace {

void put(MetricValues& metrics, const Figure& figure, const std::optional<double>& value, double se = 0) {
  if (value && std::isfinite(*value)) metrics[figure] = {*value, std::isfinite(se) ? se : 0};
}

void put(MetricValues& metrics, const Figure& figure, const Stats& stats) {
  if (stats.n > 0) metrics[figure] = {stats.mean, stats.se};
}

// Only the main temperature of a device counts for it.
bool standsForDevice(const Role& role) { return role.isLoadedTemperature() && role.isMain(); }

void put(MetricValues& metrics, const Figure& figure, const std::optional<Estimate>& estimate) {
  constexpr double kCoverage = 1.96;
  if (estimate) put(metrics, figure, estimate->value, (estimate->high - estimate->low) / 2 / kCoverage);
}

void addTemperature(MetricValues& metrics, const ChannelFigures& channel) {
  const Role role(channel.name);
  if (!standsForDevice(role)) return;
  const Device& device = role.device();
  put(metrics, {device, FigureId::Temperature}, channel.window);
  put(metrics, {device, FigureId::OverRoom}, channel.overAmbientK, channel.overAmbientSeK);
  put(metrics, {device, FigureId::HeadroomK}, channel.headroomK, channel.window.se);
  if (channel.load.n > 0) put(metrics, {device, FigureId::Peak}, channel.load.max, channel.step / std::sqrt(12.0));
}

void addChannel(MetricValues& metrics, const ChannelFigures& channel) {
  const Role role(channel.name);
  if (!role.isKnown()) return;
  const Figure figure(channel.name);
  const bool isOwnPower = figure.id() == FigureId::Power && role.quantity() == Quantity::Power;
  constexpr std::array kAsLogged = {FigureId::Noise, FigureId::FrameRate, FigureId::WorkRate, FigureId::WallPower};
  const bool isPlain = std::find(kAsLogged.begin(), kAsLogged.end(), figure.id()) != kAsLogged.end();
  if (figure.id() == FigureId::Clock || isOwnPower || role.quantity() == Quantity::FanSpeed || isPlain)
    put(metrics, figure, channel.window);
  if (figure.id() == FigureId::Noise) put(metrics, FigureId::IdleNoise, channel.idle);
  if (figure.id() == FigureId::WallPower) put(metrics, FigureId::IdleWallPower, channel.idle);
  addTemperature(metrics, channel);
}

// Readings typed during the run stand in for a channel that was not logged.
void addTyped(MetricValues& metrics, const RunLog& run) {
  std::map<Role, std::vector<double>> typed;
  for (const Event& event : run.facts.events) {
    if (event.kind != EventKind::Reading || event.role.empty() || !std::isfinite(event.value)) continue;
    const double middle = std::isfinite(event.valueHigh) ? (event.value + event.valueHigh) / 2 : event.value;
    typed[event.role].push_back(middle);
  }
  for (const auto& [role, values] : typed) {
    const bool isSurface = role.isSurface();
    const Figure figure = isSurface ? Figure(role.device(), FigureId::Temperature) : Figure(role.text());
    constexpr std::array kTyped = {FigureId::Noise, FigureId::WallPower, FigureId::Score};
    const bool isTyped = isSurface || std::find(kTyped.begin(), kTyped.end(), figure.id()) != kTyped.end();
    if (isTyped && !metrics.contains(figure)) put(metrics, figure, meanOf(values));
  }
}

void addScores(MetricValues& metrics, const RunLog& run, const Figures& figures) {
  std::vector<double> scores;
  for (const Pass& pass : run.facts.passes) {
    if (std::isfinite(pass.score)) scores.push_back(pass.score);
  }
  if (!scores.empty()) put(metrics, FigureId::Score, meanOf(scores));
  if (figures.passes) put(metrics, FigureId::Stability, figures.passes->stabilityPercent);
  if (figures.sound && !figures.sound->isCalibrated) put(metrics, FigureId::NoiseOverRest, figures.sound->overRestDb);
  if (figures.battery) put(metrics, FigureId::Runtime, std::optional(figures.battery->runtimeS));
  put(metrics, FigureId::ScorePerWatt, figures.efficiency.scorePerWatt);
  put(metrics, FigureId::WorkPerJoule, figures.efficiency.workPerJoule);
  if (run.facts.work && std::isfinite(run.facts.work->doneS)) put(metrics, FigureId::TaskTime, run.facts.work->doneS);
}

// ISO 5725-6: two repeats lie within 1.96·√2 standard deviations of each other in 95 of 100 cases.
constexpr double kLimitOverSd = 1.96 * std::numbers::sqrt2;

void assumeScatter(const Figures& figures, const Figure& figure, MetricValue& metric) {
  double basis = std::abs(metric.value);
  // Watts that are left scatter as those do that could be carried in all.
  for (const Heat& heat : figures.heat) {
    if (figure.id() == FigureId::HeadroomW && heat.device == figure.device())
      basis = std::abs(metric.value + heat.wantedPowerW.value_or(0));
  }
  metric.assumedSd = assumedSdOf(figure, basis);
}

void addEnergy(MetricValues& metrics, const Figures& figures) {
  for (const Energy& energy : figures.energy) {
    if (energy.channel == figures.efficiency.powerRole) put(metrics, FigureId::Energy, energy.loadJ);
  }
}

}  // namespace

double assumedSdOf(const Figure& figure, double basis) {
  const Agreement& agreement = figure.kind().agreement;
  return (agreement.amount + agreement.share * basis) / kLimitOverSd;
}

MetricValues metricsOf(const RunLog& run, const Figures& figures) {
  MetricValues metrics;
  for (const ChannelFigures& channel : figures.channels) addChannel(metrics, channel);
  addTyped(metrics, run);
  for (const Heat& heat : figures.heat) {
    put(metrics, {heat.device, FigureId::Resistance}, heat.resistance);
    put(metrics, {heat.device, FigureId::HeadroomW}, heat.headroomW);
    put(metrics, {heat.device, FigureId::HottestRoom}, heat.hottestRoomC);
  }
  for (const Throttling& throttling : figures.throttling) {
    put(metrics, {throttling.device, FigureId::Throttled}, throttling.share);
    put(metrics, {throttling.device, FigureId::ThrottledThermal}, throttling.shareThermal);
  }
  addScores(metrics, run, figures);
  addEnergy(metrics, figures);
  put(metrics, FigureId::Price, run.facts.conditionNumber("price"));
  for (const FanFigures& fan : figures.fans) {
    if (fan.rampAtS && figures.load)
      put(metrics, {fan.channel, FigureId::FanWoke}, *fan.rampAtS - figures.load->startS);
  }
  for (auto& [name, metric] : metrics) {
    const FigureAccuracy accuracy = accuracyOf(run.facts, figures, name, metric.value);
    metric.accuracySe = accuracy.se;
    metric.instrument = accuracy.instrument;
    assumeScatter(figures, name, metric);
  }
  return metrics;
}

}  // namespace ash
