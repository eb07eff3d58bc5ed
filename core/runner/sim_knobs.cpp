// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/sim_knobs.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "model/text.h"

namespace ash {
namespace {

constexpr double kLeastW = 3;         // as the stand-in machine's firmware
constexpr double kMostOfLimit = 1.5;  // where no short limit is described
constexpr char kManual[] = "manual", kAutomatic[] = "automatic";

Knob numberKnob(std::string id, std::string name, std::string unit, double value, double least, double most) {
  Knob knob;
  knob.id = std::move(id);
  knob.name = std::move(name);
  knob.unit = std::move(unit);
  knob.value = value;
  knob.least = least;
  knob.most = most;
  return knob;
}

// A knob, and what turning it to a target does.
struct SimKnob {
  Knob knob;
  std::function<void(sim::Bench&, const KnobTarget&)> turn;
};

void addDevice(const sim::Bench& bench, size_t d, std::vector<SimKnob>& all) {
  const sim::DeviceSpec &device = bench.given().devices[d], &now = bench.spec().devices[d];
  if (device.sustainedW > 0) {
    const double most = device.shortW > 0 ? device.shortW : kMostOfLimit * device.sustainedW;
    Knob knob = numberKnob(device.name + ".power.limit", "Power limit of " + device.name, "W", now.sustainedW,
                           std::min(kLeastW, device.sustainedW), std::max(most, device.sustainedW));
    knob.byDefault = device.sustainedW;
    all.push_back({knob, [d](sim::Bench& b, const KnobTarget& to) { b.setPowerLimit(d, to.number); }});
  }
  if (device.maxMhz > device.minMhz) {
    Knob knob = numberKnob(device.name + ".clock.most", "Highest clock allowed of " + device.name, "MHz", now.maxMhz,
                           device.minMhz, device.maxMhz);
    knob.byDefault = device.maxMhz;
    all.push_back({knob, [d](sim::Bench& b, const KnobTarget& to) { b.setHighestClock(d, to.number); }});
  }
}

void addFan(const sim::Bench& bench, size_t f, std::vector<SimKnob>& all) {
  const sim::FanSpec& fan = bench.spec().fans[f];
  const std::string id = "fan." + fan.name;
  all.push_back({numberKnob(id + ".duty", "Duty of the fan " + fan.name, "%", bench.fanDutyPercent(f), 0, 100),
                 [f](sim::Bench& b, const KnobTarget& to) { b.setFanDuty(f, to.number); }});
  if (fan.curveNode < 0) return;
  Knob mode;
  mode.isFan = true;
  mode.id = id + ".mode";
  mode.name = "Control of the fan " + fan.name;
  mode.choices = {{kManual, kManual}, {kAutomatic, kAutomatic}};
  mode.choice = bench.isFanByHand(f) ? kManual : kAutomatic;
  all.push_back({mode, [f](sim::Bench& b, const KnobTarget& to) {
                   b.setFanDuty(f, to.word == kManual ? std::optional(b.fanDutyPercent(f)) : std::nullopt);
                 }});
}

std::vector<SimKnob> all(const sim::Bench& bench) {
  std::vector<SimKnob> knobs;
  for (size_t d = 0; d < bench.spec().devices.size(); ++d) addDevice(bench, d, knobs);
  for (size_t f = 0; f < bench.spec().fans.size(); ++f) addFan(bench, f, knobs);
  return knobs;
}

Result<SimKnob> findKnob(const sim::Bench& bench, const std::string& id) {
  for (SimKnob& one : all(bench)) {
    if (one.knob.id == id) return std::move(one);
  }
  return Error::badInput(
      fmt::format("There is no knob \"{}\" on this bench; `ashg knobs --sim` lists them.", withoutControls(id)));
}

}  // namespace

std::vector<Knob> knobsOf(const sim::Bench& bench) {
  std::vector<Knob> knobs;
  for (SimKnob& one : all(bench)) knobs.push_back(std::move(one.knob));
  return knobs;
}

Status canTurn(const sim::Bench& bench, const std::string& knob) {
  const auto one = findKnob(bench, knob);
  return one ? Status() : one.error();
}

Status checkKnob(const sim::Bench& bench, const KnobSetting& setting) {
  const auto one = findKnob(bench, setting.knob);
  if (!one) return one.error();
  const auto target = targetOf(one->knob, setting.value);
  return target ? Status() : target.error();
}

Result<Turned> turnKnob(sim::Bench& bench, const KnobSetting& setting) {
  const auto one = findKnob(bench, setting.knob);
  if (!one) return one.error();
  const auto target = targetOf(one->knob, setting.value);
  if (!target) return target.error();
  one->turn(bench, *target);
  const std::string now = one->knob.isNumber() ? knobNumber(target->number) : target->word;
  return Turned{setting.knob, one->knob.unit, now, now, true};
}

}  // namespace ash
