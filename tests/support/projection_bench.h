// SPDX-License-Identifier: GPL-3.0-or-later
// Benches of many kinds, a run on each, and where each would really end in another room, at another power limit or fan
// speed: what projections are held against.
#pragma once

#include <fmt/format.h>

#include <optional>
#include <random>
#include <stdexcept>

#include "analysis/heat/projection.h"
#include "model/run_facts.h"
#include "sim/sim_source.h"

namespace ash::tests {

/// A bench drawn by its seed: die, cooler with a fan, half of them in a case with a neighbour that warms it; leakage of
/// 2 to 15 %, clocks over straight or bent voltages, half of them held by a power limit, a quarter at the throttle
/// limit.
class DrawnBench {
 public:
  explicit DrawnBench(unsigned seed) : m_random(seed), m_seed(seed) {
    describe();
    chooseLimit();
  }

  /// Two minutes of rest, half an hour of load, as its sensors tell it.
  RunLog run() const {
    sim::Bench bench(specWith({}), m_seed);
    sim::SimSource source(bench);
    RunLog run;
    run.name = run.facts.setup = "drawn";
    for (const Reading& reading : source.info().readings) {
      Channel channel;
      channel.name = reading.column();
      channel.role = reading.role;
      channel.quantity = reading.quantity;
      channel.unit = reading.unit;
      run.log.channels.push_back(channel);
      if (!reading.limits.empty()) run.facts.limits[reading.column()] = reading.limits;
    }
    run.facts.limits["cpu.temp"]["throttle"] = m_limitC;
    for (double t = 0; t < 1920; t += 1) {
      bench.advanceTo(t);
      if (t == 120) bench.setLoad("vector", 1);
      const Sweep sweep = source.sweep();
      run.log.timeS.push_back(t);
      for (size_t i = 0; i < sweep.values.size(); ++i) run.log.channels[i].values.push_back(sweep.values[i]);
    }
    return run;
  }

  /// Another room, and where its power is held by a limit or its fan can be turned, another limit or speed.
  ProjectionQuestion question() {
    ProjectionQuestion asked;
    const int kind = std::uniform_int_distribution<int>(0, 2)(m_random);
    if (kind == 1 && m_powerLimitW > 0) asked.powerW = std::min(m_powerLimitW * from(0.6, 1.5), 0.97 * m_mostW);
    if (kind == 2) asked.fanRpm = kOwnRpm * std::exp(from(-0.7, 0.6));
    if (kind == 0 || from(0, 1) < 0.3) asked.roomC = kRoomC + from(-8, 18);
    if (!asked.isAsked()) asked.roomC = kRoomC + 13;
    return asked;
  }

  struct Truth {
    double freeC = 0, mhz = 0;
    bool isHeld = false;
  };

  /// Where it ends: with no throttle limit, and with its own.
  Truth truth(const ProjectionQuestion& asked) const {
    Truth truth;
    auto spec = specWith(asked);
    spec.devices[0].throttleC = spec.devices[0].criticalC = 1000;
    truth.freeC = endOf(spec).celsius;
    const End held = endOf(specWith(asked));
    truth.mhz = held.mhz;
    truth.isHeld = held.heatShare > 0.5;
    return truth;
  }

 private:
  static constexpr double kRoomC = 22, kOwnRpm = 1000;
  struct End {
    double celsius = 0, mhz = 0, heatShare = 0;
  };

  double from(double low, double high) { return std::uniform_real_distribution<double>(low, high)(m_random); }
  template <typename T>
  T oneOf(std::initializer_list<T> values) {
    return *(values.begin() + std::uniform_int_distribution<int>(0, int(values.size()) - 1)(m_random));
  }

  void describe() {
    Json bench = {{"bench", 1}, {"name", "drawn"}, {"about", ""}, {"step_s", 0.2}, {"control_s", 0.2}};
    bench["room"] = {{"start_c", kRoomC}};
    const double wantedW = std::exp(from(std::log(20), std::log(150)));
    const double riseK = from(25, 55), dieK = riseK * from(0.2, 0.5), coolerK = riseK - dieK;
    const double coolerWPerK = wantedW / coolerK, ownShare = from(0.05, 0.4);
    bench["nodes"]["die"] = {{"j_per_k", from(8, 30)}, {"start_above_room_k", 3.0}};
    bench["nodes"]["cooler"] = {{"j_per_k", coolerWPerK * from(40, 110)}, {"start_above_room_k", 2.0}};
    bench["links"]["paste"] = {{"between", {"die", "cooler"}}, {"w_per_k", wantedW / dieK}};
    const bool hasCase = from(0, 1) < 0.5;
    bench["links"]["fins"] = {{"between", {"cooler", hasCase ? "case" : "room"}},
                              {"w_per_k", coolerWPerK * ownShare},
                              {"fan", "cpu"},
                              {"fan_w_per_k", coolerWPerK * (1 - ownShare)},
                              {"fan_rpm", kOwnRpm},
                              {"fan_exponent", from(0.5, 0.8)}};
    if (hasCase) {
      const double caseWPerK = wantedW / from(2, 8);
      bench["nodes"]["case"] = {{"j_per_k", caseWPerK * from(40, 150)}, {"start_above_room_k", 1.0}};
      bench["links"]["vents"] = {{"between", {"case", "room"}}, {"w_per_k", caseWPerK}};
      bench["wall"] = {{"base_w", from(0, 0.4) * wantedW}, {"efficiency", 0.9}, {"base_node", "case"}};
    }
    bench["fans"]["cpu"] = {{"max_rpm", 2000}, {"duty", 50}};
    addDevice(bench, wantedW);
    addSensors(bench);
    auto spec = sim::parseBench(bench.dump(), "", "drawn");
    if (!spec) throw std::runtime_error(spec.error().message);
    m_spec = *spec;
  }

  void addDevice(Json& bench, double wantedW) {
    const double lowV = from(0.55, 0.75), highV = from(1.0, 1.25), bend = from(1, 1.25);
    const double lowMhz = from(800, 1400), highMhz = from(2800, 5200), leakShare = from(0.02, 0.15);
    const double middleMhz = (lowMhz + highMhz) / 2, middleV = (lowV + highV) / 2 / bend;
    const double idleW = wantedW * from(0.03, 0.12);
    const double dynamicW = wantedW * (1 - leakShare) - idleW;
    Json volts = {{lowMhz, lowV}, {middleMhz, std::max(middleV, lowV + 0.01)}, {highMhz, highV}};
    bench["devices"]["cpu"] = {{"node", "die"},
                               {"units", 4},
                               {"min_mhz", lowMhz},
                               {"max_mhz", highMhz},
                               {"volts_at_mhz", volts},
                               {"w_per_ghz_v2", dynamicW / (4 * highV * highV * highMhz / 1000)},
                               {"idle_w", idleW},
                               {"leak_w", wantedW * leakShare / highV},
                               {"leak_at_c", 60},
                               {"leak_k", from(35, 60)},
                               {"throttle_c", 110},
                               {"critical_c", 120},
                               {"throttle_hysteresis_k", from(0.5, 2)},
                               {"throttle_step_mhz", 20}};
    m_mostW = wantedW;
    if (from(0, 1) < 0.5) {
      m_powerLimitW = wantedW * from(0.5, 0.9);
      bench["devices"]["cpu"]["sustained_w"] = m_powerLimitW;
      bench["devices"]["cpu"]["short_w"] = m_powerLimitW * oneOf({1.0, 1.25});
      bench["devices"]["cpu"]["power_window_s"] = 28;
    }
    bench["loads"]["vector"]["cpu"] = 1.0;
  }

  void addSensors(Json& bench) {
    bench["sensors"]["cpu.temp"] = {
        {"of", "temp"}, {"node", "die"}, {"lag_s", 0.4}, {"step", oneOf({0.01, 0.125, 1.0})}, {"noise", 0.1}};
    bench["sensors"]["cpu.power"] = {{"of", "power"}, {"device", "cpu"}, {"step", 0.01}, {"noise", 0.1}};
    bench["sensors"]["cpu.clock"] = {{"of", "clock"}, {"device", "cpu"}, {"step", 1}, {"noise", 5}};
    bench["sensors"]["cpu.load"] = {{"of", "load"}, {"device", "cpu"}, {"step", 0.1}, {"noise", 0.1}};
    bench["sensors"]["fan.cpu"] = {{"of", "fan speed"}, {"fan", "cpu"}, {"step", 1}, {"noise", 3}};
    bench["sensors"]["room.temp"] = {{"of", "room"}, {"lag_s", 20}, {"step", 0.1}, {"noise", 0.03}};
  }

  // Three quarters with room left, a quarter held at its limit.
  void chooseLimit() {
    sim::BenchSpec free = specWith({});
    free.devices[0].throttleC = free.devices[0].criticalC = 1000;
    const double riseK = endOf(free).celsius - kRoomC;
    const double share = from(0, 1) < 0.75 ? from(1.03, 1.5) : from(0.8, 0.97);
    m_limitC = std::min(std::round(kRoomC + riseK * share), 140.0);
    m_spec.devices[0].throttleC = m_limitC;
    m_spec.devices[0].criticalC = m_limitC + 20;
  }

  sim::BenchSpec specWith(const ProjectionQuestion& asked) const {
    sim::BenchSpec spec = m_spec;
    if (asked.roomC) spec.room.startC = *asked.roomC;
    if (asked.powerW) spec.devices[0].sustainedW = spec.devices[0].shortW = *asked.powerW;
    if (asked.fanRpm) spec.fans[0].fixedDutyPercent = 100 * *asked.fanRpm / spec.fans[0].maxRpm;
    return spec;
  }

  End endOf(const sim::BenchSpec& spec) const {
    constexpr double kSettledS = 2400, kSeenS = 300;
    sim::Bench bench(spec, m_seed);
    bench.setLoad("vector", 1);
    End end;
    bench.advanceTo(kSettledS);
    const double heatS = bench.heatS(0);
    for (int t = 1; t <= kSeenS; ++t) {
      bench.advanceTo(kSettledS + t);
      end.celsius += bench.nodeC(size_t(spec.devices[0].node)) / kSeenS;
      end.mhz += bench.clockMhz(0) / kSeenS;
    }
    end.heatShare = (bench.heatS(0) - heatS) / kSeenS;
    return end;
  }

  std::mt19937 m_random;
  unsigned m_seed;
  sim::BenchSpec m_spec;
  double m_limitC = 0, m_mostW = 0, m_powerLimitW = 0;
};

}  // namespace ash::tests
