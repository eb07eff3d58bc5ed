// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/made_benches.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>

namespace ash {

const std::vector<BenchKind>& benchKinds() {
  static const std::vector<BenchKind> kinds = {
      {"quick cooler", {{14, 4.4}, {120, 3.5}}, 88, 120, 0.2, 0, 0},
      {"quick, no boost", {{14, 4.4}, {250, 4.0}}, 88, 88, 0.2, 0.25, 0},
      {"two stages", {{14, 4.4}, {340, 4.0}, {1500, 4.5}}, 88, 120, 0.2, 0.25, 0},
      {"heavy sink", {{14, 4.4}, {2600, 3.2}}, 65, 88, 0.1, 0.25, 0},
      {"heavy sink, calm", {{14, 4.4}, {2600, 3.2}}, 65, 88, 0, 0, 0},
      {"heavy coolant", {{20, 5.0}, {200, 8.0}, {4200, 7.0}}, 120, 160, 0.3, 0.25, 0.4},
      {"slow case", {{14, 4.4}, {340, 4.5}, {60, 9.0}, {9000, 9.0}}, 88, 120, 0.2, 0, 0},
      {"fanless", {{8, 1.5}, {900, 0.62}}, 15, 25, 0, 0, 0.3},
      {"fanless, twice the metal", {{8, 1.5}, {1800, 0.62}}, 15, 25, 0, 0, 0.3},
      {"fanless, noisy", {{8, 1.5}, {600, 0.5}}, 15, 15, 0.3, 0.3, 0},
      {"graphics card", {{40, 7.0}, {420, 5.0}, {700, 7.0}}, 140, 170, 0, 0.25, 0},
      {"small drive", {{30, 0.9}, {70, 0.35}}, 6, 6, 0.1, 0.25, 0},
      {"warm room", {{14, 4.4}, {340, 4.0}, {1500, 4.5}}, 88, 120, 0.2, 0, 1.5},
  };
  return kinds;
}

sim::BenchSpec specOf(const BenchKind& kind, double stepK) {
  Json bench = {{"bench", 1}, {"name", kind.name}, {"about", ""}, {"step_s", 0.1}, {"control_s", 0.1}};
  bench["room"] = {
      {"start_c", 22}, {"ramp_k_per_h", kind.rampKPerH}, {"drift_k", kind.driftK}, {"drift_period_s", 5400}};
  const double idleW = kind.sustainedW / 10;
  double above = 0;
  for (size_t i = kind.chain.size(); i-- > 0;) {
    above += idleW / kind.chain[i].wPerK;
    const std::string name = fmt::format("n{}", i);
    bench["nodes"][name] = {{"j_per_k", kind.chain[i].jPerK}, {"start_above_room_k", above}};
    const std::string next = i + 1 == kind.chain.size() ? "room" : fmt::format("n{}", i + 1);
    bench["links"]["l" + name] = {{"between", {name, next}}, {"w_per_k", kind.chain[i].wPerK}};
  }
  bench["devices"]["cpu"] = {{"node", "n0"},
                             {"units", 4},
                             {"min_mhz", 400},
                             {"max_mhz", 4000},
                             {"volts_at_mhz", {{400, 0.6}, {4000, 1.2}}},
                             {"w_per_ghz_v2", kind.sustainedW / 14},
                             {"idle_w", idleW},
                             {"leak_w", kind.sustainedW / 20},
                             {"leak_at_c", 60},
                             {"leak_k", 50},
                             {"throttle_c", 110},
                             {"critical_c", 120},
                             {"sustained_w", kind.sustainedW},
                             {"short_w", kind.shortW},
                             {"power_window_s", 28}};
  bench["loads"]["vector"]["cpu"] = 1.0;
  bench["sensors"]["cpu.temp"] = {
      {"of", "temp"}, {"node", "n0"}, {"lag_s", 0.4}, {"step", stepK}, {"noise", kind.noiseK}};
  bench["sensors"]["cpu.power"] = {{"of", "power"}, {"device", "cpu"}, {"step", 0.01}, {"noise", 0.1}};
  bench["sensors"]["cpu.clock"] = {{"of", "clock"}, {"device", "cpu"}, {"step", 1}, {"noise", 5}};
  bench["sensors"]["room.temp"] = {{"of", "room"}, {"lag_s", 20}, {"step", 0.1}, {"noise", 0.03}};
  auto spec = sim::parseBench(bench.dump(), "", kind.name);
  if (!spec) {
    fmt::print(stderr, "{}\n", spec.error().message);
    std::exit(1);
  }
  return std::move(*spec);
}

TrueEnd trueEnd(sim::BenchSpec spec) {
  spec.room.driftK = spec.room.rampKPerH = 0;
  sim::Bench ahead(spec, 1);
  ahead.setLoad("vector", 1);
  std::vector<double> path;
  for (double t = 60; t <= 40 * 3600; t += 60) {
    ahead.advanceTo(t);
    path.push_back(ahead.nodeC(static_cast<size_t>(spec.devices[0].node)));
  }
  TrueEnd end{path.back() - ahead.roomC(), 0};
  for (size_t i = path.size(); i-- > 0;) {
    if (std::abs(path[i] - path.back()) < 0.5) continue;
    end.halfKelvinS = 60 * static_cast<double>(i + 2);
    break;
  }
  return end;
}

}  // namespace ash
