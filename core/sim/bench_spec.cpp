// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/bench_spec.h"

#include <fmt/format.h>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>

#include "model/json_cursor.h"
#include "model/role.h"
#include "model/text.h"

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

Curve readCurve(const JsonCursor& part, const char* key) {
  Curve curve;
  const JsonCursor points = part.at(key);
  if (!points.isThere()) return curve;
  bool isCurve = points.value().is_array() && !points.value().empty();
  if (isCurve) {
    for (const Json& point : points.value()) {
      isCurve = point.is_array() && point.size() == 2 && point[0].is_number() && point[1].is_number();
      if (!isCurve) break;
      curve.points.push_back({point[0].get<double>(), point[1].get<double>()});
    }
  }
  if (!isCurve) {
    points.refuse("must be a list of [x, y] points");
    return {};
  }
  for (size_t i = 1; i < curve.points.size(); ++i) {
    if (curve.points[i][0] <= curve.points[i - 1][0]) points.refuse("must rise along x");
  }
  return curve;
}

// What stands under a key: at least one entry.
std::vector<std::pair<std::string, JsonCursor>> entriesOf(const JsonCursor& root, const char* key,
                                                          bool isRequired = true) {
  const JsonCursor place = root.at(key);
  if (place.isObject() && !place.value().empty()) return place.fields();
  if (isRequired || root.has(key)) place.refuse("must be an object with at least one entry");
  return {};
}

std::string neededText(const JsonCursor& part, const char* key) {
  std::string text;
  if (!part.at(key).isThere())
    part.refuse(key, "must be a text");
  else
    part.take(key, text);
  return text;
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
constexpr double kBaseShare = 0.75;  // of the highest clock, where no base clock is described

int nodeOrRoom(const BenchSpec& spec, const std::string& name) {
  if (name == "room") return kRoom;
  const int node = indexOf(spec.nodes, name);
  return node < 0 ? kUnknown : node;
}

void readRoom(const JsonCursor& root, RoomSpec& room) {
  const JsonCursor part = root.object("room");
  part.take("start_c", room.startC);
  part.take("ramp_k_per_h", room.rampKPerH);
  part.take("drift_k", room.driftK);
  part.take("drift_period_s", room.driftPeriodS, kAboveZero);
}

void readNodes(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [name, part] : entriesOf(root, "nodes")) {
    NodeSpec node;
    node.name = name;
    part.need("j_per_k", node.capacityJPerK, kAboveZero);
    part.take("start_above_room_k", node.startAboveRoomK);
    part.take("limit_c", node.limitC);
    part.take("critical_c", node.criticalC);
    spec.nodes.push_back(node);
  }
}

void readFans(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [name, part] : entriesOf(root, "fans", false)) {
    FanSpec fan;
    fan.name = name;
    part.need("max_rpm", fan.maxRpm, kAboveZero);
    part.take("lag_s", fan.lagS, kAboveZero);
    part.take("duty", fan.fixedDutyPercent);
    part.take("hysteresis_k", fan.hysteresisK);
    part.take("noise_at_max_dba", fan.noiseAtMaxDba);
    fan.dutyCurve = readCurve(part, "duty_at_c");
    if (!fan.dutyCurve.points.empty()) {
      fan.curveNode = nodeOrRoom(spec, neededText(part, "follows"));
      if (fan.curveNode < 0) part.refuse("follows", "must name a node");
    }
    spec.fans.push_back(fan);
  }
}

void readLinks(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [name, part] : entriesOf(root, "links")) {
    LinkSpec link;
    link.name = name;
    const Json& between = part.at("between").value();
    if (!between.is_array() || between.size() != 2 || !between[0].is_string() || !between[1].is_string()) {
      part.refuse("between", "must name two nodes, or a node and \"room\"");
      continue;
    }
    link.from = nodeOrRoom(spec, between[0].get<std::string>());
    link.to = nodeOrRoom(spec, between[1].get<std::string>());
    if (link.from == kUnknown || link.to == kUnknown || link.from == link.to)
      part.refuse("between", "names a node that is not in \"nodes\"");
    part.take("w_per_k", link.wPerK, kNotNegative);
    part.take("fan_w_per_k", link.fanWPerK, kNotNegative);
    part.take("fan_rpm", link.fanRpm, kAboveZero);
    part.take("fan_exponent", link.fanExponent);
    if (part.has("fan")) {
      link.fan = indexOf(spec.fans, neededText(part, "fan"));
      if (link.fan < 0) part.refuse("fan", "names a fan that is not in \"fans\"");
    }
    spec.links.push_back(link);
  }
}

void readDeviceLimits(const JsonCursor& part, DeviceSpec& device) {
  part.take("throttle_c", device.throttleC);
  part.take("critical_c", device.criticalC);
  part.take("throttle_hysteresis_k", device.hysteresisK, kAboveZero);
  part.take("throttle_step_mhz", device.throttleStepMhz, kAboveZero);
  part.take("sustained_w", device.sustainedW);
  device.shortW = device.sustainedW;
  part.take("short_w", device.shortW);
  part.take("power_window_s", device.powerWindowS, kAboveZero);
}

void readDevices(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [name, part] : entriesOf(root, "devices")) {
    DeviceSpec device;
    device.name = name;
    device.node = nodeOrRoom(spec, neededText(part, "node"));
    if (device.node < 0) part.refuse("node", "must name a node");
    part.take("units", device.units, kAboveZero);
    part.need("min_mhz", device.minMhz, kAboveZero);
    part.need("max_mhz", device.maxMhz, kAboveZero);
    if (device.maxMhz < device.minMhz) part.refuse("max_mhz", "is below min_mhz");
    device.baseMhz = std::max(device.minMhz, kBaseShare * device.maxMhz);
    part.take("base_mhz", device.baseMhz, kAboveZero);
    if (device.baseMhz < device.minMhz || device.baseMhz > device.maxMhz)
      part.refuse("base_mhz", "is not between min_mhz and max_mhz");
    device.voltsAtMhz = readCurve(part, "volts_at_mhz");
    if (device.voltsAtMhz.points.empty()) part.refuse("volts_at_mhz", "is missing");
    part.need("w_per_ghz_v2", device.wattsPerGhzV2, kAboveZero);
    part.take("idle_w", device.idleW);
    part.take("leak_w", device.leakW);
    part.take("leak_at_c", device.leakAtC);
    part.take("leak_k", device.leakK, kAboveZero);
    part.take("work_per_unit_ghz", device.workPerUnitGhz);
    readDeviceLimits(part, device);
    spec.devices.push_back(device);
  }
}

// What a sensor looks at; None where there is only one.
enum class PartKind { None, Node, Device, Fan };
const char* keyOf(PartKind kind) {
  return kind == PartKind::Node ? "node" : kind == PartKind::Device ? "device" : "fan";
}

struct ProbeRow {
  const char* of;
  Probe probe;
  PartKind in;
};
constexpr ProbeRow kProbes[] = {
    {"temp", Probe::NodeTemperature, PartKind::Node}, {"room", Probe::RoomTemperature, PartKind::None},
    {"clock", Probe::DeviceClock, PartKind::Device},  {"power", Probe::DevicePower, PartKind::Device},
    {"load", Probe::DeviceLoad, PartKind::Device},    {"power limit", Probe::PowerLimit, PartKind::Device},
    {"fan speed", Probe::FanSpeed, PartKind::Fan},    {"fan duty", Probe::FanDuty, PartKind::Fan},
    {"noise", Probe::Noise, PartKind::None},          {"wall power", Probe::WallPower, PartKind::None},
    {"work rate", Probe::WorkRate, PartKind::None},
};

const ProbeRow* probeOf(const std::string& words) {
  for (const ProbeRow& row : kProbes) {
    if (words == row.of) return &row;
  }
  return nullptr;
}

int partIndex(const BenchSpec& spec, const ProbeRow& row, const std::string& name) {
  switch (row.in) {
    case PartKind::None:
      return 0;
    case PartKind::Node:
      return indexOf(spec.nodes, name);
    case PartKind::Device:
      return indexOf(spec.devices, name);
    case PartKind::Fan:
      return indexOf(spec.fans, name);
  }
  return -1;
}

void readSensors(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [role, part] : entriesOf(root, "sensors")) {
    SensorSpec sensor;
    sensor.role = role;
    if (!sensor.role.isKnown()) part.refuse("is no role of a reading");
    const ProbeRow* row = probeOf(neededText(part, "of"));
    if (row == nullptr) {
      part.refuse(
          "of",
          "must be temp, room, clock, power, load, power limit, fan speed, fan duty, noise, wall power or work rate");
      continue;
    }
    sensor.probe = row->probe;
    if (row->in != PartKind::None) {
      sensor.index = partIndex(spec, *row, neededText(part, keyOf(row->in)));
      if (sensor.index < 0) part.refuse(keyOf(row->in), "names nothing on this bench");
    }
    part.take("lag_s", sensor.lagS);
    part.take("step", sensor.step);
    part.take("noise", sensor.noiseSd);
    spec.sensors.push_back(sensor);
  }
}

void readLoads(const JsonCursor& root, BenchSpec& spec) {
  for (const auto& [kind, part] : entriesOf(root, "loads")) {
    if (!part.isObject()) {
      part.refuse("must say how busy each device is");
      continue;
    }
    for (const auto& [device, activity] : part.fields()) {
      const Json& share = activity.value();
      if (indexOf(spec.devices, device) < 0 || !share.is_number() || share < 0 || share > 1)
        activity.refuse("must be a device with an activity from 0 to 1");
      else
        spec.loads[kind][device] = share.get<double>();
    }
  }
}

void readRest(const JsonCursor& root, BenchSpec& spec) {
  spec.name = neededText(root, "name");
  root.take("about", spec.about);
  root.take("step_s", spec.stepS, kAboveZero);
  root.take("control_s", spec.controlS, kAboveZero);
  root.take("noise_floor_dba", spec.noiseFloorDba);
  const JsonCursor wall = root.object("wall");
  wall.take("base_w", spec.wallBaseW);
  wall.take("battery_wh", spec.batteryWh);
  wall.take("efficiency", spec.wallEfficiency, kAboveZero);
  if (wall.has("base_node")) spec.wallBaseNode = nodeOrRoom(spec, neededText(wall, "base_node"));
  root.takeObject("conditions", spec.conditions);
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
  JsonCursor::Mistakes mistakes;
  const JsonCursor top(root, mistakes);
  if (top.at("bench").value() != 1) top.refuse("bench", "must be 1, the version of the format");
  readRoom(top, spec.room);
  readNodes(top, spec);
  readFans(top, spec);
  readLinks(top, spec);
  readDevices(top, spec);
  readSensors(top, spec);
  readLoads(top, spec);
  readRest(top, spec);
  if (!mistakes.empty()) {
    return Error::badInput(
        fmt::format("{}: \"{}\" {}. See docs/bench-format.md.", where, mistakes.front().path, mistakes.front().why));
  }
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
  constexpr off_t kLargest = off_t{4} * 1024 * 1024;
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
