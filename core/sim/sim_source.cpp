// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/sim_source.h"

#include "model/role.h"

namespace ash::sim {
namespace {

std::string kindOf(Quantity quantity) {
  switch (quantity) {
    case Quantity::Temperature:
      return "temp";
    case Quantity::Clock:
      return "clock";
    case Quantity::Power:
      return "power";
    case Quantity::FanSpeed:
      return "fan";
    case Quantity::Percent:
      return "load";
    case Quantity::Noise:
      return "noise";
    default:
      return "throughput";
  }
}

void addLimits(const BenchSpec& bench, const SensorSpec& sensor, Reading& reading) {
  for (const DeviceSpec& device : bench.devices) {
    const bool isItsNode = sensor.probe == Probe::NodeTemperature && sensor.index == device.node;
    if (isItsNode && device.throttleC < 1000) reading.limits["throttle"] = device.throttleC;
    if (isItsNode && device.criticalC < 1000) reading.limits["critical"] = device.criticalC;
  }
  if (sensor.probe == Probe::DevicePower) {
    const DeviceSpec& device = bench.devices[sensor.index];
    if (device.sustainedW > 0) reading.limits = {{"sustained", device.sustainedW}, {"short", device.shortW}};
  }
  if (sensor.probe == Probe::NodeTemperature) {
    const NodeSpec& node = bench.nodes[sensor.index];
    if (node.limitC > 0) reading.limits["throttle"] = node.limitC;
    if (node.criticalC > 0) reading.limits["critical"] = node.criticalC;
  }
}

}  // namespace

SimSource::SimSource(const Bench& bench)
    : SimSource(std::shared_ptr<const Bench>(std::shared_ptr<const Bench>(), &bench)) {}

SimSource::SimSource(std::shared_ptr<const Bench> asked) : m_bench(std::move(asked)) {
  const Bench& bench = *m_bench;
  m_info.id = "sim:" + bench.spec().name;
  for (const SensorSpec& sensor : bench.spec().sensors) {
    Reading reading;
    reading.role = sensor.role;
    reading.id = m_info.id + ":" + sensor.role.text();
    reading.device = bench.spec().name;
    reading.driver = "simulated";
    reading.quantity = sensor.role.quantity();
    reading.kind = sensor.role.part() == Part::Duty ? kDutyKind : kindOf(reading.quantity);
    reading.unit = unitOf(reading.quantity);
    reading.name = sensor.role.title();
    reading.step = sensor.step;
    addLimits(bench.spec(), sensor, reading);
    m_info.readings.push_back(reading);
  }
}

Sweep SimSource::sweep() {
  Sweep sweep;
  sweep.timeS = m_bench->timeS();
  for (size_t s = 0; s < m_info.readings.size(); ++s) sweep.values.push_back(m_bench->sense(s));
  return sweep;
}

}  // namespace ash::sim
