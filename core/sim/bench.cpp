// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/bench.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "sim/noise.h"

namespace ash::sim {
namespace {
// Beyond this the leakage curve is held: no silicon is alive there, and exp() must not run away.
constexpr double kHottestLeakC = 150;
// A boost budget is used up at 99.5 % of the sustained limit and comes back below 70 % of it.
constexpr double kBudgetSpent = 0.995;
constexpr double kBudgetBack = 0.7;
}  // namespace

Bench::Bench(BenchSpec spec, uint64_t seed) : m_given(spec), m_spec(std::move(spec)), m_seed(seed) {
  m_stepsPerControl = std::max<long long>(1, std::llround(m_spec.controlS / m_spec.stepS));
  for (const NodeSpec& node : m_spec.nodes) m_startC.push_back(m_spec.room.startC + node.startAboveRoomK);
  m_state = m_startC;
  m_state.resize(m_spec.nodes.size() + 2, 0.0);
  m_devices.resize(m_spec.devices.size());
  m_fans.resize(m_spec.fans.size());
  for (size_t d = 0; d < m_devices.size(); ++d) {
    m_devices[d].clockMhz = m_spec.devices[d].minMhz;
    m_devices[d].heatCapMhz = m_spec.devices[d].maxMhz;
    m_devices[d].averageW = powerW(d);
  }
  for (size_t f = 0; f < m_fans.size(); ++f) {
    m_fans[f].followedC = -1e9;
    controlFan(f);
    m_fans[f].rpm = m_spec.fans[f].maxRpm * m_fans[f].dutyPercent / 100;
  }
  m_conductance.resize(m_spec.links.size());
  control();
  for (const SensorSpec& sensor : m_spec.sensors) m_sensed.push_back(trueValue(sensor));
}

bool Bench::setLoad(const std::string& kind, double share) {
  const auto load = m_spec.loads.find(kind);
  if (load == m_spec.loads.end()) return false;
  clearLoad();
  addLoad(kind, share);
  return true;
}

bool Bench::addLoad(const std::string& kind, double share) {
  const auto load = m_spec.loads.find(kind);
  if (load == m_spec.loads.end()) return false;
  for (size_t d = 0; d < m_devices.size(); ++d) {
    const auto activity = load->second.find(m_spec.devices[d].name);
    if (activity == load->second.end()) continue;
    m_devices[d].activity = std::min(1.0, m_devices[d].activity + activity->second * std::clamp(share, 0.0, 1.0));
  }
  return true;
}

void Bench::clearLoad() {
  for (DeviceState& device : m_devices) device.activity = 0;
}

void Bench::advanceTo(double timeS) {
  // A thousandth of a step of tolerance, so that asking for 0.3 s gives the step at 0.3 s whatever the last bit says.
  const auto wanted = static_cast<long long>(std::floor(timeS / m_spec.stepS + 1e-3));
  while (m_stepCount < wanted) step();
}

void Bench::step() {
  if (m_stepCount % m_stepsPerControl == 0) control();
  moveFans();
  double fastest = 0;  // 1/s: the quickest node sets how finely the step is cut
  std::vector<double> perNode(m_spec.nodes.size(), 0.0);
  for (size_t l = 0; l < m_spec.links.size(); ++l) {
    m_conductance[l] = conductance(m_spec.links[l]);
    if (m_spec.links[l].from >= 0) perNode[m_spec.links[l].from] += m_conductance[l];
    if (m_spec.links[l].to >= 0) perNode[m_spec.links[l].to] += m_conductance[l];
  }
  for (size_t n = 0; n < perNode.size(); ++n) fastest = std::max(fastest, perNode[n] / m_spec.nodes[n].capacityJPerK);
  m_subSteps = std::max(1, static_cast<int>(std::ceil(2 * fastest * m_spec.stepS)));
  const double dt = m_spec.stepS / m_subSteps;
  for (int i = 0; i < m_subSteps; ++i) runge(timeS() + i * dt, dt);
  ++m_stepCount;
  for (size_t d = 0; d < m_devices.size(); ++d) {
    const double weight = 1 - std::exp(-m_spec.stepS / m_spec.devices[d].powerWindowS);
    m_devices[d].averageW += (powerW(d) - m_devices[d].averageW) * weight;
    m_devices[d].energyJ += powerW(d) * m_spec.stepS;
    if (m_devices[d].heldBy == HeldBy::Heat) m_devices[d].heatS += m_spec.stepS;
  }
  moveSensors();
}

void Bench::control() {
  for (size_t f = 0; f < m_fans.size(); ++f) controlFan(f);
  for (size_t d = 0; d < m_devices.size(); ++d) controlDevice(d);
}

void Bench::controlFan(size_t fan) {
  const FanSpec& spec = m_spec.fans[fan];
  FanState& state = m_fans[fan];
  if (state.setDutyPercent) {
    state.dutyPercent = *state.setDutyPercent;
    return;
  }
  if (spec.curveNode < 0) {
    state.dutyPercent = spec.fixedDutyPercent;
    return;
  }
  const double celsius = m_state[spec.curveNode];
  if (celsius > state.followedC) state.followedC = celsius;
  if (celsius < state.followedC - spec.hysteresisK) state.followedC = celsius + spec.hysteresisK;
  state.dutyPercent = std::clamp(spec.dutyCurve.at(state.followedC), 0.0, 100.0);
}

double Bench::allowedW(DeviceState& state, const DeviceSpec& spec) {
  if (state.averageW >= kBudgetSpent * spec.sustainedW) state.mayBoost = false;
  if (state.averageW < kBudgetBack * spec.sustainedW) state.mayBoost = true;
  return state.mayBoost ? spec.shortW : std::min(spec.shortW, spec.sustainedW);
}

void Bench::controlDevice(size_t device) {
  const DeviceSpec& spec = m_spec.devices[device];
  DeviceState& state = m_devices[device];
  const double celsius = m_state[spec.node], highest = state.rules.highestMhz(spec);
  if (celsius >= spec.throttleC) {
    state.heatCapMhz = std::max(spec.minMhz, std::min(state.heatCapMhz, state.clockMhz) - spec.throttleStepMhz);
  } else if (celsius < spec.throttleC - spec.hysteresisK) {
    state.heatCapMhz = std::min(highest, state.heatCapMhz + spec.throttleStepMhz);
  }
  const bool wasHot = state.heldBy == HeldBy::Heat;
  state.heldBy = HeldBy::Nothing;
  if (state.activity <= 0) {
    state.clockMhz = state.rules.idleMhz(spec);
    if (spec.sustainedW > 0) allowedW(state, spec);
    return;
  }
  double clock = highest;
  if (spec.sustainedW > 0) {
    const double powerCap = clockForPower(device, allowedW(state, spec));
    if (powerCap < clock) {
      clock = powerCap;
      state.heldBy = HeldBy::Power;
    }
  }
  if (state.heatCapMhz < clock) {
    clock = state.heatCapMhz;
    state.heldBy = HeldBy::Heat;
    if (!wasHot) ++state.heatEvents;
  }
  state.clockMhz = clock;
}

void Bench::setPowerLimit(size_t device, double sustainedW) {
  DeviceSpec& spec = m_spec.devices[device];
  const double ratio = spec.sustainedW > 0 ? spec.shortW / spec.sustainedW : 1;
  spec.sustainedW = sustainedW;
  spec.shortW = sustainedW * ratio;
}

void Bench::setFanDuty(size_t fan, std::optional<double> dutyPercent) { m_fans[fan].setDutyPercent = dutyPercent; }

void Bench::setClockRules(size_t device, const ClockRules& rules) {
  DeviceState& state = m_devices[device];
  state.rules = rules;
  state.heatCapMhz = std::min(state.heatCapMhz, rules.highestMhz(m_spec.devices[device]));
}

double Bench::roomAt(double timeS) const {
  const RoomSpec& room = m_spec.room;
  return room.startC + room.rampKPerH * timeS / 3600 +
         room.driftK * std::sin(2 * std::numbers::pi * timeS / room.driftPeriodS);
}

double Bench::powerAt(size_t device, double clockMhz, double celsius) const {
  const DeviceSpec& spec = m_spec.devices[device];
  const double volts = spec.voltsAtMhz.at(clockMhz);
  const double dynamicW =
      spec.units * m_devices[device].activity * spec.wattsPerGhzV2 * volts * volts * clockMhz / 1000;
  const double leakW = spec.leakW * volts * std::exp((std::min(celsius, kHottestLeakC) - spec.leakAtC) / spec.leakK);
  return spec.idleW + dynamicW + leakW;
}

double Bench::powerW(size_t device) const {
  return powerAt(device, m_devices[device].clockMhz, m_state[m_spec.devices[device].node]);
}

double Bench::clockForPower(size_t device, double watts) const {
  const DeviceSpec& spec = m_spec.devices[device];
  const double celsius = m_state[spec.node];
  const double highest = m_devices[device].rules.highestMhz(spec);
  if (powerAt(device, highest, celsius) <= watts) return highest;
  double low = spec.minMhz;
  double high = highest;
  for (int i = 0; i < 30; ++i) {
    const double middle = (low + high) / 2;
    (powerAt(device, middle, celsius) <= watts ? low : high) = middle;
  }
  return low;
}

double Bench::powerLimitW(size_t device) const {
  const DeviceSpec& spec = m_spec.devices[device];
  return m_devices[device].mayBoost ? spec.shortW : std::min(spec.shortW, spec.sustainedW);
}

double Bench::conductance(const LinkSpec& link) const {
  if (link.fan < 0) return link.wPerK;
  const double rpm = std::max(0.0, m_fans[link.fan].rpm);
  return link.wPerK + link.fanWPerK * std::pow(rpm / link.fanRpm, link.fanExponent);
}

void Bench::derivative(double timeS, const std::vector<double>& state, std::vector<double>& rate) const {
  const size_t nodes = m_spec.nodes.size();
  std::fill(rate.begin(), rate.end(), 0.0);
  for (size_t d = 0; d < m_devices.size(); ++d) {
    const size_t node = m_spec.devices[d].node;
    const double watts = powerAt(d, m_devices[d].clockMhz, state[node]);
    rate[node] += watts;
    rate[nodes] += watts;
  }
  if (m_spec.wallBaseNode >= 0) {
    rate[m_spec.wallBaseNode] += m_spec.wallBaseW;
    rate[nodes] += m_spec.wallBaseW;
  }
  const double room = roomAt(timeS);
  for (size_t l = 0; l < m_spec.links.size(); ++l) {
    const LinkSpec& link = m_spec.links[l];
    const double from = link.from < 0 ? room : state[link.from];
    const double to = link.to < 0 ? room : state[link.to];
    const double watts = m_conductance[l] * (from - to);
    if (link.from >= 0) rate[link.from] -= watts;
    if (link.to >= 0) rate[link.to] += watts;
    if (link.to < 0) rate[nodes + 1] += watts;
    if (link.from < 0) rate[nodes + 1] -= watts;
  }
  for (size_t n = 0; n < nodes; ++n) rate[n] /= m_spec.nodes[n].capacityJPerK;
}

void Bench::runge(double timeS, double dt) {
  const size_t size = m_state.size();
  std::vector<double> k1(size), k2(size), k3(size), k4(size), probe(size);
  derivative(timeS, m_state, k1);
  for (size_t i = 0; i < size; ++i) probe[i] = m_state[i] + dt / 2 * k1[i];
  derivative(timeS + dt / 2, probe, k2);
  for (size_t i = 0; i < size; ++i) probe[i] = m_state[i] + dt / 2 * k2[i];
  derivative(timeS + dt / 2, probe, k3);
  for (size_t i = 0; i < size; ++i) probe[i] = m_state[i] + dt * k3[i];
  derivative(timeS + dt, probe, k4);
  for (size_t i = 0; i < size; ++i) m_state[i] += dt / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
}

void Bench::moveFans() {
  for (size_t f = 0; f < m_fans.size(); ++f) {
    const double target = m_spec.fans[f].maxRpm * m_fans[f].dutyPercent / 100;
    m_fans[f].rpm += (target - m_fans[f].rpm) * (1 - std::exp(-m_spec.stepS / m_spec.fans[f].lagS));
  }
}

double Bench::noiseDba() const {
  // Levels add as powers. A fan's level follows 50 log10(n / n_max): the fan laws of sound, e.g. VDI 3731.
  double power = std::pow(10, m_spec.noiseFloorDba / 10);
  for (size_t f = 0; f < m_fans.size(); ++f) {
    const double share = m_fans[f].rpm / m_spec.fans[f].maxRpm;
    if (share <= 0 || m_spec.fans[f].noiseAtMaxDba <= 0) continue;
    power += std::pow(10, (m_spec.fans[f].noiseAtMaxDba + 50 * std::log10(share)) / 10);
  }
  return 10 * std::log10(power);
}

double Bench::wallPowerW() const {
  double watts = m_spec.wallBaseW;
  for (size_t d = 0; d < m_devices.size(); ++d) watts += powerW(d);
  return watts / m_spec.wallEfficiency;
}

double Bench::workRate() const {
  double rate = 0;
  for (size_t d = 0; d < m_devices.size(); ++d) {
    const DeviceSpec& spec = m_spec.devices[d];
    rate += spec.units * m_devices[d].activity * spec.workPerUnitGhz * m_devices[d].clockMhz / 1000;
  }
  return rate;
}

EnergyBalance Bench::energy() const {
  EnergyBalance balance;
  const size_t nodes = m_spec.nodes.size();
  balance.inJ = m_state[nodes];
  balance.toRoomJ = m_state[nodes + 1];
  for (size_t n = 0; n < nodes; ++n) balance.storedJ += m_spec.nodes[n].capacityJPerK * (m_state[n] - m_startC[n]);
  return balance;
}

double Bench::trueValue(const SensorSpec& sensor) const {
  const auto index = static_cast<size_t>(sensor.index);
  switch (sensor.probe) {
    case Probe::NodeTemperature:
      return m_state[index];
    case Probe::RoomTemperature:
      return roomC();
    case Probe::DeviceClock:
      return m_devices[index].clockMhz;
    case Probe::DevicePower:
      return powerW(index);
    case Probe::DeviceLoad:
      return 100 * m_devices[index].activity;
    case Probe::PowerLimit:
      return powerLimitW(index);
    case Probe::FanSpeed:
      return m_fans[index].rpm;
    case Probe::FanDuty:
      return m_fans[index].dutyPercent;
    case Probe::Noise:
      return noiseDba();
    case Probe::WallPower:
      return wallPowerW();
    case Probe::WorkRate:
      return workRate();
  }
  return 0;
}

void Bench::moveSensors() {
  for (size_t s = 0; s < m_sensed.size(); ++s) {
    const SensorSpec& sensor = m_spec.sensors[s];
    const double target = trueValue(sensor);
    const double weight = sensor.lagS > 0 ? 1 - std::exp(-m_spec.stepS / sensor.lagS) : 1.0;
    m_sensed[s] += (target - m_sensed[s]) * weight;
  }
}

double Bench::sense(size_t sensor) const {
  const SensorSpec& spec = m_spec.sensors[sensor];
  // A stopped fan, an idle device and a set duty read exactly; only what moves is noisy.
  double value = m_sensed[sensor];
  const bool isExact = spec.probe != Probe::NodeTemperature && spec.probe != Probe::RoomTemperature && value == 0;
  if (spec.noiseSd > 0 && !isExact)
    value += spec.noiseSd * normalNoise(m_seed, sensor, static_cast<uint64_t>(m_stepCount));
  if (spec.step > 0) value = std::round(value / spec.step) * spec.step;
  return value;
}

}  // namespace ash::sim
