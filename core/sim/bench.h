// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated bench: a thermal network with devices, governors, fans and sensors, moved forward in time.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "sim/bench_spec.h"
#include "sim/clock_rules.h"

namespace ash::sim {

/// First law over the whole bench since its start: inJ = toRoomJ + storedJ up to rounding.
struct EnergyBalance {
  double inJ = 0;      ///< electrical energy turned into heat inside
  double toRoomJ = 0;  ///< heat given to the room
  double storedJ = 0;  ///< Σ capacity · (T − T at start)
};

/// Why a device runs below its highest clock.
enum class HeldBy { Nothing, Heat, Power };

/// Deterministic: the same spec, seed and calls give the same numbers, however fast they are asked for.
/// Temperatures follow C dT/dt = P(T) + Σ G (T' − T), solved by the classical fourth-order Runge-Kutta method;
/// governors and fan controllers act every `controlS`. Not thread-safe.
class Bench {
 public:
  Bench(BenchSpec spec, uint64_t seed);

  /// Sets what every device is asked to do. `share` (0..1) scales the activities of the load. False when the bench
  /// does not know that kind of load.
  bool setLoad(const std::string& kind, double share);
  /// One more beside it.
  bool addLoad(const std::string& kind, double share);
  void clearLoad();

  /// Moves on to `timeS` (never back). Whole integration steps only: the time reached is the last one at or before it.
  void advanceTo(double timeS);

  /// What a person can turn on a machine: the power limits of a device (W; the short one follows the sustained one in
  /// the same ratio), the duty of a fan (percent; none = as the bench describes it), what a device's clock may be.
  void setPowerLimit(size_t device, double sustainedW);
  void setShortLimit(size_t device, double shortW) { m_spec.devices[device].shortW = shortW; }
  void setFanDuty(size_t fan, std::optional<double> dutyPercent);
  void setClockRules(size_t device, const ClockRules& rules);
  const ClockRules& clockRules(size_t device) const { return m_devices[device].rules; }

  const BenchSpec& spec() const { return m_spec; }
  /// As it was described, before anything was turned.
  const BenchSpec& given() const { return m_given; }
  bool isFanByHand(size_t fan) const { return m_fans[fan].setDutyPercent.has_value(); }
  double timeS() const { return static_cast<double>(m_stepCount) * m_spec.stepS; }
  double roomC() const { return roomAt(timeS()); }
  double nodeC(size_t node) const { return m_state[node]; }
  double clockMhz(size_t device) const { return m_devices[device].clockMhz; }
  double powerW(size_t device) const;
  /// What a device has drawn since the start (J).
  double energyJ(size_t device) const { return m_devices[device].energyJ; }
  /// How often and how long (s) a device was held back by heat since the start.
  long long heatEvents(size_t device) const { return m_devices[device].heatEvents; }
  double heatS(size_t device) const { return m_devices[device].heatS; }
  double fanRpm(size_t fan) const { return m_fans[fan].rpm; }
  double fanDutyPercent(size_t fan) const { return m_fans[fan].dutyPercent; }
  HeldBy heldBy(size_t device) const { return m_devices[device].heldBy; }
  double powerLimitW(size_t device) const;
  double activity(size_t device) const { return m_devices[device].activity; }
  double noiseDba() const;
  double wallPowerW() const;
  double workRate() const;
  EnergyBalance energy() const;

  /// What a sensor shows now: with its lag, noise and step. Noise depends on seed, sensor and time only.
  double sense(size_t sensor) const;

 private:
  struct DeviceState {
    double activity = 0;
    double clockMhz = 0;
    double heatCapMhz = 0;
    ClockRules rules;
    double averageW = 0;
    bool mayBoost = true;
    HeldBy heldBy = HeldBy::Nothing;
    double energyJ = 0;
    long long heatEvents = 0;
    double heatS = 0;
  };
  struct FanState {
    double dutyPercent = 0;
    double rpm = 0;
    double followedC = 0;
    std::optional<double> setDutyPercent;  // by hand
  };

  void step();
  void control();
  void controlFan(size_t fan);
  void controlDevice(size_t device);
  double allowedW(DeviceState& state, const DeviceSpec& spec);
  double roomAt(double timeS) const;
  double powerAt(size_t device, double clockMhz, double celsius) const;
  double clockForPower(size_t device, double watts) const;
  double conductance(const LinkSpec& link) const;
  void derivative(double timeS, const std::vector<double>& state, std::vector<double>& rate) const;
  void runge(double timeS, double dtS);
  double trueValue(const SensorSpec& sensor) const;
  void moveSensors();
  void moveFans();

  BenchSpec m_given, m_spec;
  uint64_t m_seed;
  long long m_stepCount = 0;
  long long m_stepsPerControl = 1;
  int m_subSteps = 1;
  std::vector<double> m_state;  // node temperatures, then energy in and energy to the room (J)
  std::vector<double> m_startC;
  std::vector<DeviceState> m_devices;
  std::vector<FanState> m_fans;
  std::vector<double> m_conductance;
  std::vector<double> m_sensed;  // lagged values, before noise and step
};

}  // namespace ash::sim
