// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/metrics.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/accuracy.h"
#include "model/role.h"

namespace ash {
namespace {

struct MetricKind {
  std::string_view suffix;  // what the name ends with
  Better better;
  std::string_view title;
  std::string_view unit;
  std::string_view definition;
};

// Longest suffix first where one ends with another.
constexpr std::array kKinds = {
    MetricKind{".over_ambient_k", Better::Lower, "over room", "K",
               "Temperature minus room temperature, mean of the window."},
    MetricKind{".peak_c", Better::Lower, "highest", "°C",
               "Highest temperature under load; single-sample spikes are left out."},
    MetricKind{".resistance_k_per_w", Better::Lower, "thermal resistance", "K/W",
               "Kelvin over room per watt of the same device, in the window; holds for the fan speed of that window."},
    MetricKind{".throttled_share_thermal", Better::Lower, "slowed by heat", "%",
               "Share of the load during which heat held the clock at least 3 % down."},
    MetricKind{".throttled_share", Better::Lower, "slowed", "%", "Share of the load with the clock at least 3 % down."},
    MetricKind{".headroom_k", Better::Higher, "headroom", "K", "Throttle limit minus temperature, mean of the window."},
    MetricKind{".headroom_w", Better::Higher, "headroom", "W",
               "Watts it could carry more before its limit, at this room and fan speed."},
    MetricKind{".hottest_room_c", Better::Higher, "hottest room", "°C",
               "Room at which the limit would be reached under this load."},
    MetricKind{".clock", Better::Higher, "clock", "MHz", "Mean clock of the window."},
    MetricKind{".temp", Better::Lower, "temperature", "°C", "Mean temperature of the window."},
    MetricKind{"idle.wall.power", Better::Lower, "Wall power at rest", "W", "Mean of the rest phase."},
    MetricKind{"idle.noise", Better::Lower, "Noise at rest", "dBA", "Mean of the rest phase."},
    MetricKind{"wall.power", Better::Neither, "Wall power", "W", "Mean of the window."},
    MetricKind{".power", Better::Neither, "power", "W", "Mean power of the window."},
    MetricKind{"noise", Better::Lower, "Noise", "dBA", "Mean of the window, or as typed."},
    MetricKind{"energy_j", Better::Lower, "Energy of the load", "J", "Power integrated over the load phase."},
    MetricKind{"task_s", Better::Lower, "Task time", "s", "Time the work took."},
    MetricKind{"price", Better::Lower, "Price", "", "As stated for the setup."},
    MetricKind{"score_per_watt", Better::Higher, "Score per watt", "1/W",
               "Mean over passes of score over power while it was earned."},
    MetricKind{"score", Better::Higher, "Score", "", "Mean over passes."},
    MetricKind{"work_per_joule", Better::Higher, "Work per joule", "1/J",
               "Work done under load over the energy it took."},
    MetricKind{"frame.rate", Better::Higher, "Frame rate", "frames/s", "Mean of the window."},
    MetricKind{"work.rate", Better::Higher, "Work rate", "1/s",
               "Work units per second of the load, mean of the window."},
    MetricKind{"stability_percent", Better::Higher, "Pass stability", "%", "Worst pass score over best."},
    MetricKind{"runtime_s", Better::Higher, "Runtime", "s", "Time on battery until it was empty."},
};

constexpr std::string_view kWoke = ".woke_s";
bool isWaking(const std::string& metric) { return metric.starts_with("fan.") && metric.ends_with(kWoke); }

const MetricKind* kindOf(const std::string& metric) {
  for (const MetricKind& kind : kKinds) {
    if (metric.ends_with(kind.suffix)) return &kind;
  }
  return nullptr;
}

void put(std::map<std::string, MetricValue>& metrics, const std::string& name, const std::optional<double>& value,
         double se = 0) {
  if (value && std::isfinite(*value)) metrics[name] = {*value, std::isfinite(se) ? se : 0};
}

void put(std::map<std::string, MetricValue>& metrics, const std::string& name, const Stats& stats) {
  if (stats.n > 0) metrics[name] = {stats.mean, stats.se};
}

// "cpu.temp" -> "cpu"; "board.temp.vrm" -> "board.vrm". Only the main temperature of a device counts for it.
std::string deviceOfTemperature(const std::string& channel) {
  const auto role = findRole(channel);
  if (!role || role->quantity != Quantity::Temperature || isRoomRole(channel)) return {};
  const bool isMain = channel == role->device + ".temp" || channel.find("temp.vrm") != std::string::npos;
  if (role->device == "surface") return channel;
  return isMain ? role->device : std::string();
}

void put(std::map<std::string, MetricValue>& metrics, const std::string& name,
         const std::optional<Estimate>& estimate) {
  constexpr double kCoverage = 1.96;
  if (estimate) put(metrics, name, estimate->value, (estimate->high - estimate->low) / 2 / kCoverage);
}

void addTemperature(std::map<std::string, MetricValue>& metrics, const ChannelFigures& channel) {
  const std::string device = deviceOfTemperature(channel.name);
  if (device.empty()) return;
  put(metrics, device + ".temp", channel.window);
  put(metrics, device + ".over_ambient_k", channel.overAmbientK, channel.overAmbientSeK);
  put(metrics, device + ".headroom_k", channel.headroomK, channel.window.se);
  if (channel.load.n > 0) put(metrics, device + ".peak_c", channel.load.max, channel.step / std::sqrt(12.0));
}

void addChannel(std::map<std::string, MetricValue>& metrics, const ChannelFigures& channel) {
  const auto role = findRole(channel.name);
  if (!role) return;
  const std::string& name = channel.name;
  const bool isDeviceClock = name == role->device + ".clock";
  const bool isDevicePower = role->quantity == Quantity::Power && name == role->device + ".power";
  const bool isFan = role->quantity == Quantity::FanSpeed;
  const bool isPlain = name == "noise" || name == "frame.rate" || name == "work.rate";
  if (isDeviceClock || isDevicePower || isFan || isPlain) put(metrics, name, channel.window);
  if (name == "noise" || name == "wall.power") put(metrics, "idle." + name, channel.idle);
  addTemperature(metrics, channel);
}

// Readings typed during the run stand in for a channel that was not logged.
void addTyped(std::map<std::string, MetricValue>& metrics, const RunLog& run) {
  std::map<std::string, std::vector<double>> typed;
  for (const Event& event : run.facts.events) {
    if (event.kind != EventKind::Reading || event.role.empty() || !std::isfinite(event.value)) continue;
    const double middle = std::isfinite(event.valueHigh) ? (event.value + event.valueHigh) / 2 : event.value;
    typed[event.role].push_back(middle);
  }
  for (const auto& [role, values] : typed) {
    const bool isSurface = role.starts_with("surface.");
    const std::string name = isSurface ? role + ".temp" : role;
    if ((role == "noise" || role == "wall.power" || role == "score" || isSurface) && !metrics.contains(name))
      put(metrics, name, meanOf(values));
  }
}

void addScores(std::map<std::string, MetricValue>& metrics, const RunLog& run, const Figures& figures) {
  std::vector<double> scores;
  for (const Pass& pass : run.facts.passes) {
    if (std::isfinite(pass.score)) scores.push_back(pass.score);
  }
  if (!scores.empty()) put(metrics, "score", meanOf(scores));
  if (figures.passes) put(metrics, "stability_percent", figures.passes->stabilityPercent);
  if (figures.battery) put(metrics, "runtime_s", std::optional(figures.battery->runtimeS));
  put(metrics, "score_per_watt", figures.efficiency.scorePerWatt);
  put(metrics, "work_per_joule", figures.efficiency.workPerJoule);
  if (run.facts.work && std::isfinite(run.facts.work->doneS)) put(metrics, "task_s", run.facts.work->doneS);
}

void addEnergy(std::map<std::string, MetricValue>& metrics, const Figures& figures) {
  for (const Energy& energy : figures.energy) {
    if (energy.channel == figures.efficiency.powerRole) put(metrics, "energy_j", energy.loadJ);
  }
}

}  // namespace

Better betterDirection(const std::string& metric, bool lowerScoreIsBetter) {
  if (metric.starts_with("fan.")) return Better::Neither;
  if (metric == "score" && lowerScoreIsBetter) return Better::Lower;
  const MetricKind* kind = kindOf(metric);
  return kind == nullptr ? Better::Neither : kind->better;
}

bool isTemperatureMetric(const std::string& metric) {
  const MetricKind* kind = kindOf(metric);
  return kind != nullptr && (kind->unit == "°C" || kind->unit == "K");
}

bool isRatioMetric(const std::string& metric) {
  if (metric.ends_with(".headroom_w") || isWaking(metric)) return false;
  constexpr std::array kUnits = {"s", "J", "1/J", "1/W", "1/s", "frames/s", "MHz", "W", "K/W"};
  const std::string unit = metricUnit(metric);
  return metric == "score" || std::find(kUnits.begin(), kUnits.end(), unit) != kUnits.end();
}

std::map<std::string, MetricValue> metricsOf(const RunLog& run, const Figures& figures) {
  std::map<std::string, MetricValue> metrics;
  for (const ChannelFigures& channel : figures.channels) addChannel(metrics, channel);
  addTyped(metrics, run);
  for (const Heat& heat : figures.heat) {
    put(metrics, heat.device + ".resistance_k_per_w", heat.resistance);
    put(metrics, heat.device + ".headroom_w", heat.headroomW);
    put(metrics, heat.device + ".hottest_room_c", heat.hottestRoomC);
  }
  for (const Throttling& throttling : figures.throttling) {
    put(metrics, throttling.device + ".throttled_share", throttling.share);
    put(metrics, throttling.device + ".throttled_share_thermal", throttling.shareThermal);
  }
  addScores(metrics, run, figures);
  addEnergy(metrics, figures);
  put(metrics, "price", run.facts.conditionNumber("price"));
  for (const FanFigures& fan : figures.fans) {
    if (fan.rampAtS && figures.load) put(metrics, fan.channel + ".woke_s", *fan.rampAtS - figures.load->startS);
  }
  for (auto& [name, metric] : metrics) {
    const FigureAccuracy accuracy = accuracyOf(run.facts, figures, name, metric.value);
    metric.accuracySe = accuracy.se;
    metric.instrument = accuracy.instrument;
  }
  return metrics;
}

std::string metricTitle(const std::string& metric) {
  const MetricKind* kind = kindOf(metric);
  if (isWaking(metric)) return plainRoleName(metric.substr(0, metric.size() - kWoke.size())) + " woke after";
  if (kind == nullptr || metric.starts_with("fan.")) return plainRoleName(metric);
  if (!kind->suffix.starts_with('.')) return std::string(kind->title);
  const std::string device = metric.substr(0, metric.size() - kind->suffix.size());
  if (device.starts_with("surface.")) return plainRoleName(device);
  const std::string role = device == "board.vrm" ? "board.temp.vrm" : device + ".temp";
  return shortDeviceName(role) + " " + std::string(kind->title);
}

std::string metricUnit(const std::string& metric) {
  if (metric.starts_with("fan.")) return isWaking(metric) ? "s" : "RPM";
  const MetricKind* kind = kindOf(metric);
  return kind == nullptr ? std::string() : std::string(kind->unit);
}

std::string metricDefinition(const std::string& metric) {
  if (isWaking(metric)) return "From the start of the load until the fan runs clearly faster than at rest.";
  if (metric.starts_with("fan.")) return "Mean fan speed of the window.";
  const MetricKind* kind = kindOf(metric);
  return kind == nullptr ? std::string() : std::string(kind->definition);
}

}  // namespace ash
