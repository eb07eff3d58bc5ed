// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/accuracy.h"

#include <cmath>

namespace ash {
namespace {

constexpr double kRectangle = 1.7320508075688772;  // √3

// "board.vrm" is read as board.temp.vrm.
std::string temperatureOf(const std::string& device) {
  if (device.starts_with("surface.")) return device;
  return device == "board.vrm" ? "board.temp.vrm" : device + ".temp";
}

class Instruments {
 public:
  Instruments(const RunFacts& facts, FigureAccuracy& into) : m_facts(facts), m_into(into) {}

  void add(const std::string& role, double value) {
    if (const Accuracy* accuracy = find(role))
      put(*accuracy, accuracy->plusMinus + accuracy->percent / 100 * std::abs(value));
  }
  /// The share of a figure by which its instrument may be off at `at`.
  void addShare(const std::string& role, double at, double value) {
    const Accuracy* accuracy = find(role);
    if (accuracy == nullptr || !(at > 0)) return;
    put(*accuracy, (accuracy->plusMinus / at + accuracy->percent / 100) * std::abs(value));
  }

 private:
  const Accuracy* find(const std::string& role) const {
    const auto found = m_facts.accuracies.find(role);
    return found == m_facts.accuracies.end() ? nullptr : &found->second;
  }
  void put(const Accuracy& accuracy, double plusMinus) {
    if (!std::isfinite(plusMinus)) return;
    m_into.se = std::hypot(m_into.se, plusMinus / kRectangle);
    if (!accuracy.instrument.empty())
      m_into.instrument += (m_into.instrument.empty() ? "" : ", ") + accuracy.instrument;
  }
  const RunFacts& m_facts;
  FigureAccuracy& m_into;
};

double windowMean(const Figures& figures, const std::string& channel) {
  const ChannelFigures* found = figures.channel(channel);
  return found == nullptr ? kMissing : found->window.mean;
}

bool isEnergyFigure(const std::string& metric) {
  return metric == "energy_j" || metric == "work_per_joule" || metric == "score_per_watt";
}

}  // namespace

FigureAccuracy accuracyOf(const RunFacts& facts, const Figures& figures, const std::string& metric, double value) {
  FigureAccuracy accuracy;
  if (facts.accuracies.empty()) return accuracy;
  Instruments instruments(facts, accuracy);
  const size_t dot = metric.rfind('.');
  const std::string device = metric.substr(0, dot), what = dot == std::string::npos ? metric : metric.substr(dot + 1);
  if (isEnergyFigure(metric)) {
    const std::string& role = figures.efficiency.powerRole;
    instruments.addShare(role, windowMean(figures, role), value);
  } else if (what == "over_ambient_k") {
    instruments.add(temperatureOf(device), windowMean(figures, temperatureOf(device)));
    instruments.add("room.temp", windowMean(figures, "room.temp"));
  } else if (what == "temp" || what == "peak_c" || what == "headroom_k") {
    const std::string role = temperatureOf(device);
    instruments.add(role, what == "headroom_k" ? windowMean(figures, role) : value);
  } else {
    instruments.add(metric.starts_with("idle.") ? metric.substr(5) : metric, value);
  }
  return accuracy;
}

}  // namespace ash
