// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/bench_spec.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>

#include "model/role.h"
#include "model/text.h"
#include "sim/spec_reader.h"

namespace ash::sim {

double Curve::at(double x) const {
  if (points.empty()) return 0;
  if (x <= points.front()[0]) return points.front()[1];
  for (size_t i = 1; i < points.size(); ++i) {
    if (x > points[i][0]) continue;
    const auto& a = points[i - 1];
    const auto& b = points[i];
    return a[1] + (b[1] - a[1]) * (x - a[0]) / (b[0] - a[0]);
  }
  return points.back()[1];
}

namespace {

Curve readCurve(SpecReader& reader, const Json& part, const std::string& key, const std::string& at) {
  Curve curve;
  if (!part.contains(key)) return curve;
  const Json& points = part[key];
  if (!points.is_array() || points.empty()) {
    reader.fail(at + "." + key, "must be a list of [x, y] points");
    return curve;
  }
  for (const Json& point : points) {
    if (!point.is_array() || point.size() != 2 || !point[0].is_number() || !point[1].is_number()) {
      reader.fail(at + "." + key, "must be a list of [x, y] points");
      return curve;
    }
    curve.points.push_back({point[0].get<double>(), point[1].get<double>()});
  }
  for (size_t i = 1; i < curve.points.size(); ++i) {
    if (curve.points[i][0] <= curve.points[i - 1][0]) reader.fail(at + "." + key, "must rise along x");
  }
  return curve;
}

template <typename T>
int indexOf(const std::vector<T>& items, const std::string& name) {
  for (size_t i = 0; i < items.size(); ++i) {
    if (items[i].name == name) return static_cast<int>(i);
  }
  return -1;
}

constexpr int kRoom = -1;
constexpr int kUnknown = -2;

int nodeOrRoom(const BenchSpec& spec, const std::string& name) {
  if (name == "room") return kRoom;
  const int node = indexOf(spec.nodes, name);
  return node < 0 ? kUnknown : node;
}

void readRoom(SpecReader& reader, const Json& root, RoomSpec& room) {
  if (!root.contains("room")) return;
  const Json& part = root["room"];
  room.startC = reader.number(part, "start_c", "room", room.startC);
  room.rampKPerH = reader.number(part, "ramp_k_per_h", "room", 0);
  room.driftK = reader.number(part, "drift_k", "room", 0);
  room.driftPeriodS = reader.positive(part, "drift_period_s", "room", 3600);
}

void readNodes(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "nodes", true);
  for (const auto& [name, part] : all.items()) {
    const std::string at = "nodes." + name;
    spec.nodes.push_back({name, reader.positive(part, "j_per_k", at), reader.number(part, "start_above_room_k", at, 0),
                          reader.number(part, "limit_c", at, 0), reader.number(part, "critical_c", at, 0)});
  }
}

void readFans(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "fans", false);
  for (const auto& [name, part] : all.items()) {
    const std::string at = "fans." + name;
    FanSpec fan;
    fan.name = name;
    fan.maxRpm = reader.positive(part, "max_rpm", at);
    fan.lagS = reader.positive(part, "lag_s", at, 1.5);
    fan.fixedDutyPercent = reader.number(part, "duty", at, 0);
    fan.hysteresisK = reader.number(part, "hysteresis_k", at, 2);
    fan.noiseAtMaxDba = reader.number(part, "noise_at_max_dba", at, 0);
    fan.dutyCurve = readCurve(reader, part, "duty_at_c", at);
    if (!fan.dutyCurve.points.empty()) {
      fan.curveNode = nodeOrRoom(spec, reader.text(part, "follows", at));
      if (fan.curveNode < 0) reader.fail(at + ".follows", "must name a node");
    }
    spec.fans.push_back(fan);
  }
}

void readLinks(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "links", true);
  for (const auto& [name, part] : all.items()) {
    const std::string at = "links." + name;
    LinkSpec link;
    link.name = name;
    const Json between = part.is_object() && part.contains("between") ? part["between"] : Json();
    if (!between.is_array() || between.size() != 2 || !between[0].is_string() || !between[1].is_string()) {
      reader.fail(at + ".between", "must name two nodes, or a node and \"room\"");
      continue;
    }
    link.from = nodeOrRoom(spec, between[0].get<std::string>());
    link.to = nodeOrRoom(spec, between[1].get<std::string>());
    if (link.from == kUnknown || link.to == kUnknown || link.from == link.to) {
      reader.fail(at + ".between", "names a node that is not in \"nodes\"");
    }
    link.wPerK = reader.number(part, "w_per_k", at, 0);
    link.fanWPerK = reader.number(part, "fan_w_per_k", at, 0);
    if (link.wPerK < 0 || link.fanWPerK < 0) reader.fail(at, "must not have a negative conductance");
    link.fanRpm = reader.positive(part, "fan_rpm", at, 1000);
    link.fanExponent = reader.number(part, "fan_exponent", at, 0.8);
    if (part.contains("fan")) {
      link.fan = indexOf(spec.fans, reader.text(part, "fan", at));
      if (link.fan < 0) reader.fail(at + ".fan", "names a fan that is not in \"fans\"");
    }
    spec.links.push_back(link);
  }
}

void readDeviceLimits(SpecReader& reader, const Json& part, const std::string& at, DeviceSpec& device) {
  device.throttleC = reader.number(part, "throttle_c", at, 1000);
  device.criticalC = reader.number(part, "critical_c", at, 1000);
  device.hysteresisK = reader.positive(part, "throttle_hysteresis_k", at, 1.5);
  device.throttleStepMhz = reader.positive(part, "throttle_step_mhz", at, 25);
  device.sustainedW = reader.number(part, "sustained_w", at, 0);
  device.shortW = reader.number(part, "short_w", at, device.sustainedW);
  device.powerWindowS = reader.positive(part, "power_window_s", at, 28);
}

void readDevices(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "devices", true);
  for (const auto& [name, part] : all.items()) {
    const std::string at = "devices." + name;
    DeviceSpec device;
    device.name = name;
    device.node = nodeOrRoom(spec, reader.text(part, "node", at));
    if (device.node < 0) reader.fail(at + ".node", "must name a node");
    device.units = reader.positive(part, "units", at, 1);
    device.minMhz = reader.positive(part, "min_mhz", at);
    device.maxMhz = reader.positive(part, "max_mhz", at);
    if (device.maxMhz < device.minMhz) reader.fail(at + ".max_mhz", "is below min_mhz");
    device.voltsAtMhz = readCurve(reader, part, "volts_at_mhz", at);
    if (device.voltsAtMhz.points.empty()) reader.fail(at + ".volts_at_mhz", "is missing");
    device.wattsPerGhzV2 = reader.positive(part, "w_per_ghz_v2", at);
    device.idleW = reader.number(part, "idle_w", at, 0);
    device.leakW = reader.number(part, "leak_w", at, 0);
    device.leakAtC = reader.number(part, "leak_at_c", at, 60);
    device.leakK = reader.positive(part, "leak_k", at, 40);
    device.workPerUnitGhz = reader.number(part, "work_per_unit_ghz", at, 0);
    readDeviceLimits(reader, part, at, device);
    spec.devices.push_back(device);
  }
}

struct ProbeRow {
  const char* of;
  Probe probe;
  const char* key;  // the field that names what is looked at; null when there is only one
};
constexpr ProbeRow kProbes[] = {
    {"temp", Probe::NodeTemperature, "node"}, {"room", Probe::RoomTemperature, nullptr},
    {"clock", Probe::DeviceClock, "device"},  {"power", Probe::DevicePower, "device"},
    {"load", Probe::DeviceLoad, "device"},    {"power limit", Probe::PowerLimit, "device"},
    {"fan speed", Probe::FanSpeed, "fan"},    {"fan duty", Probe::FanDuty, "fan"},
    {"noise", Probe::Noise, nullptr},         {"wall power", Probe::WallPower, nullptr},
    {"work rate", Probe::WorkRate, nullptr},
};

void readSensors(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "sensors", true);
  for (const auto& [role, part] : all.items()) {
    const std::string at = "sensors." + role;
    SensorSpec sensor;
    sensor.role = role;
    if (!sensor.role.isKnown()) reader.fail(at, "is no role of a reading");
    const std::string of = reader.text(part, "of", at);
    const ProbeRow* row = nullptr;
    for (const ProbeRow& candidate : kProbes) {
      if (of == candidate.of) row = &candidate;
    }
    if (row == nullptr) {
      reader.fail(
          at + ".of",
          "must be temp, room, clock, power, load, power limit, fan speed, fan duty, noise, wall power or work rate");
      continue;
    }
    sensor.probe = row->probe;
    if (row->key != nullptr) {
      const std::string name = reader.text(part, row->key, at);
      const std::string key = row->key;
      sensor.index = key == "node"     ? indexOf(spec.nodes, name)
                     : key == "device" ? indexOf(spec.devices, name)
                                       : indexOf(spec.fans, name);
      if (sensor.index < 0) reader.fail(at + "." + key, "names nothing on this bench");
    }
    sensor.lagS = reader.number(part, "lag_s", at, 0);
    sensor.step = reader.number(part, "step", at, 0);
    sensor.noiseSd = reader.number(part, "noise", at, 0);
    spec.sensors.push_back(sensor);
  }
}

void readLoads(SpecReader& reader, const Json& root, BenchSpec& spec) {
  const Json all = reader.object(root, "loads", true);
  for (const auto& [kind, part] : all.items()) {
    if (!part.is_object()) {
      reader.fail("loads." + kind, "must say how busy each device is");
      continue;
    }
    for (const auto& [device, activity] : part.items()) {
      const bool isKnown = indexOf(spec.devices, device) >= 0;
      if (!isKnown || !activity.is_number() || activity < 0 || activity > 1) {
        reader.fail("loads." + kind + "." + device, "must be a device with an activity from 0 to 1");
        continue;
      }
      spec.loads[kind][device] = activity.get<double>();
    }
  }
}

void readRest(SpecReader& reader, const Json& root, BenchSpec& spec) {
  spec.name = reader.text(root, "name", "");
  spec.about = root.value("about", "");
  spec.stepS = reader.positive(root, "step_s", "", 0.05);
  spec.controlS = reader.positive(root, "control_s", "", 0.1);
  spec.noiseFloorDba = reader.number(root, "noise_floor_dba", "", 0);
  if (root.contains("wall")) {
    const Json& wall = root["wall"];
    spec.wallBaseW = reader.number(wall, "base_w", "wall", 0);
    spec.batteryWh = reader.number(wall, "battery_wh", "wall", 0);
    spec.wallEfficiency = reader.positive(wall, "efficiency", "wall", 1);
    if (wall.contains("base_node")) spec.wallBaseNode = nodeOrRoom(spec, reader.text(wall, "base_node", "wall"));
  }
  if (root.contains("conditions") && root["conditions"].is_object()) spec.conditions = root["conditions"];
}

}  // namespace

Result<BenchSpec> parseBench(const std::string& text, const std::string& setup, const std::string& where,
                             const Json& conditions) {
  Json root = parseQuietly(text);
  if (root.is_discarded() || !root.is_object()) {
    return Error::badInput(fmt::format("{} is no JSON object; a bench is described in docs/bench-format.md.", where));
  }
  BenchSpec spec;
  if (root.contains("setups") && root["setups"].is_object()) {
    const Json setups = root["setups"];
    for (const auto& [name, patch] : setups.items()) spec.setupNames.push_back(name);
    if (const std::string key = setupOnBench(setups, setup, conditions); !key.empty()) {
      spec.knowsSetup = true;
      root.merge_patch(setups[key]);
    }
  }
  SpecReader reader(where);
  if (root.value("bench", Json()) != 1) reader.fail("bench", "must be 1, the version of the format");
  readRoom(reader, root, spec.room);
  readNodes(reader, root, spec);
  readFans(reader, root, spec);
  readLinks(reader, root, spec);
  readDevices(reader, root, spec);
  readSensors(reader, root, spec);
  readLoads(reader, root, spec);
  readRest(reader, root, spec);
  if (!reader.ok()) return reader.error();
  applyConditions(conditions, spec);
  return spec;
}

namespace {

std::string noBenchSentence(const std::string& name) {
  std::string names;
  for (const std::string& known : shippedBenchNames()) names += (names.empty() ? "" : ", ") + known;
  return fmt::format("There is no bench \"{}\": give one that ships ({}) or a JSON file that can be read.",
                     withoutControls(asUtf8(name.substr(0, 200))), names);
}

// Whole, or nothing: a folder, a device or a pipe is no bench, and neither is what has no end.
std::optional<std::string> readSmallRegularFile(const std::string& path) {
  constexpr off_t kLargest = 4 * 1024 * 1024;
  const int file = open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY);
  if (file < 0) return std::nullopt;
  struct stat info {};
  std::string text;
  bool isWhole = fstat(file, &info) == 0 && S_ISREG(info.st_mode) && info.st_size <= kLargest;
  char chunk[65536];
  while (isWhole) {
    const ssize_t length = read(file, chunk, sizeof chunk);
    if (length <= 0) {
      isWhole = length == 0;
      break;
    }
    text.append(chunk, static_cast<size_t>(length));
    isWhole = text.size() <= static_cast<size_t>(kLargest);
  }
  close(file);
  return isWhole ? std::optional(text) : std::nullopt;
}

}  // namespace

Result<BenchSpec> shippedBench(const std::string& name, const std::string& setup) {
  const std::string text = shippedBenchText(name);
  if (text.empty()) return Error::badInput(noBenchSentence(name));
  return parseBench(text, setup, name);
}

Result<BenchSpec> loadBench(const std::string& nameOrFile, const std::string& setup, const Json& conditions) {
  const std::string shipped = shippedBenchText(nameOrFile);
  if (!shipped.empty()) return parseBench(shipped, setup, nameOrFile, conditions);
  const auto text = readSmallRegularFile(nameOrFile);
  if (!text) return Error::badInput(noBenchSentence(nameOrFile));
  return parseBench(*text, setup, nameOrFile, conditions);
}

}  // namespace ash::sim
