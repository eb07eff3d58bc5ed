// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated bench as described by its JSON file. The format is documented in docs/bench-format.md.
#pragma once

#include <algorithm>
#include <array>
#include <map>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/result.h"
#include "model/role.h"
#include "model/unit.h"

namespace ash::sim {

/// Straight lines between points of (x, y), flat beyond the ends. x strictly increasing, at least one point.
struct Curve {
  std::vector<std::array<double, 2>> points;
  double at(double x) const;
};

struct NodeSpec {
  std::string name;
  double capacityJPerK = 0;
  double startAboveRoomK = 0;
  double limitC = 0;     ///< where the part slows down or must not go beyond; 0 = none known
  double criticalC = 0;  ///< where it is in danger; 0 = none known
};

/// G = wPerK + fanWPerK · (rpm / fanRpm)^fanExponent, between two nodes; -1 stands for the room.
struct LinkSpec {
  std::string name;
  int from = 0;
  int to = 0;
  double wPerK = 0;
  int fan = -1;
  double fanWPerK = 0;
  double fanRpm = 1000;
  double fanExponent = 0.8;
};

/// Either a fixed duty, or a curve of duty over a node's temperature with hysteresis.
struct FanSpec {
  std::string name;
  double maxRpm = 0;
  double lagS = 1.5;
  double fixedDutyPercent = 0;
  int curveNode = -1;
  Curve dutyCurve;
  double hysteresisK = 2;
  double noiseAtMaxDba = 0;
};

struct DeviceSpec {
  std::string name;
  int node = 0;
  double units = 1;  ///< cores
  double minMhz = 0;
  double maxMhz = 0;
  double baseMhz = 0;  ///< what it holds with its boost off
  Curve voltsAtMhz;
  double wattsPerGhzV2 = 0;  ///< dynamic power of one unit: w · V² · f[GHz] · activity
  double idleW = 0;
  double leakW = 0;  ///< leakage at 1 V and leakAtC; grows e-fold per leakK
  double leakAtC = 60;
  double leakK = 40;
  double throttleC = 1000;  ///< as good as none
  double criticalC = 1000;
  double hysteresisK = 1.5;
  double throttleStepMhz = 25;
  double sustainedW = 0;  ///< 0 = no power limit
  double shortW = 0;
  double powerWindowS = 28;
  double workPerUnitGhz = 0;  ///< work units per second, unit and GHz
};

/// What a sensor looks at.
enum class Probe {
  NodeTemperature,
  RoomTemperature,
  DeviceClock,
  DevicePower,
  DeviceLoad,
  PowerLimit,
  FanSpeed,
  FanDuty,
  Noise,
  WallPower,
  WorkRate
};

struct SensorSpec {
  Role role;
  Probe probe = Probe::NodeTemperature;
  int index = 0;
  double lagS = 0;
  double step = 0;
  double noiseSd = 0;
};

struct RoomSpec {
  double startC = 22;
  double rampKPerH = 0;
  double driftK = 0;
  double driftPeriodS = 3600;
};

struct BenchSpec {
  std::string name;
  std::string about;
  double stepS = 0.05;
  double controlS = 0.1;
  RoomSpec room;
  std::vector<NodeSpec> nodes;
  std::vector<LinkSpec> links;
  std::vector<FanSpec> fans;
  std::vector<DeviceSpec> devices;
  std::vector<SensorSpec> sensors;
  double noiseFloorDba = 0;
  double wallBaseW = 0;
  double wallEfficiency = 1;
  int wallBaseNode = -1;
  double batteryWh = 0;                                        ///< 0 = it has no battery
  std::map<std::string, std::map<std::string, double>> loads;  ///< load kind -> device -> activity 0..1
  Json conditions = Json::object();                            ///< conditions that a run on this bench has
  bool knowsSetup = false;                                     ///< whether the setup asked for was described
  std::vector<std::string> setupNames;

  /// The physics move on between any two samples that are taken `intervalS` apart.
  void stepFor(double intervalS) { stepS = std::min(stepS, intervalS); }
};

/// Reads a bench description and applies the merge patch (RFC 7386) of the named setup, if it has one: the one of that
/// key or title, else the one whose conditions are all stated in `conditions`. Then the conditions that a bench can
/// follow are set: fan_duty, power_limit_w, room_c. Errors name the part of the file and what is wrong with it; `where`
/// is the file for the message.
Result<BenchSpec> parseBench(const std::string& text, const std::string& setup, const std::string& where,
                             const Json& conditions = Json::object());

/// A bench that ships ("larch12"); needs no disk.
Result<BenchSpec> shippedBench(const std::string& name, const std::string& setup = "");

/// Loads `nameOrFile`: a bench that ships ("larch12") or the path of a JSON file, a regular one of at most 4 MiB.
Result<BenchSpec> loadBench(const std::string& nameOrFile, const std::string& setup,
                            const Json& conditions = Json::object());

/// The key of the bench's setup that is meant; empty when none is.
std::string setupOnBench(const Json& setups, const std::string& name, const Json& conditions);

/// Sets what stated conditions ask for.
void applyConditions(const Json& conditions, BenchSpec& spec);

/// The text of a bench that ships, empty when there is none of that name.
std::string shippedBenchText(const std::string& name);
std::vector<std::string> shippedBenchNames();

}  // namespace ash::sim
