// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/sim_knobs.h"

#include <fmt/format.h>

#include <algorithm>
#include <functional>

#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kLeastW = 3;         // as the stand-in machine's firmware
constexpr double kMostOfLimit = 1.5;  // where no short limit is described
constexpr char kManual[] = "manual", kAutomatic[] = "automatic", kOn[] = "on", kOff[] = "off";

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

// Cards have no knobs of these kinds (the list of ids in docs/knobs.md).
bool isProcessor(const sim::DeviceSpec& device) { return Role(device.name + ".clock").device().is(DeviceKind::Cpu); }

// As a machine's own knobs are called.
std::string deviceTitle(const sim::DeviceSpec& device) {
  const DeviceKind kind = Role(device.name + ".clock").device().kind();
  return kind == DeviceKind::Cpu ? "Processor" : kind == DeviceKind::Gpu ? "Graphics" : device.name;
}

// Sets one thing of how a device's clock is held.
template <typename Change>
auto turningRules(size_t device, Change change) {
  return [device, change](sim::Bench& bench, const KnobTarget& to) {
    sim::ClockRules rules = bench.clockRules(device);
    change(rules, to);
    bench.setClockRules(device, rules);
  };
}

void addClocks(const sim::Bench& bench, size_t d, std::vector<SimKnob>& all) {
  const sim::DeviceSpec& device = bench.given().devices[d];
  const sim::ClockRules& rules = bench.clockRules(d);
  const auto knob = [&](const std::string& which, const std::string& name, double value, double byDefault) {
    Knob one = numberKnob(device.name + ".clock." + which,
                          fmt::format("{} {} clock allowed", name, lowerCase(deviceTitle(device))), "MHz", value,
                          device.minMhz, device.maxMhz);
    one.byDefault = byDefault;
    return one;
  };
  all.push_back({knob("most", "Highest", std::min(rules.mostMhz, device.maxMhz), device.maxMhz),
                 turningRules(d, [](sim::ClockRules& r, const KnobTarget& to) { r.mostMhz = to.number; })});
  if (!isProcessor(device)) return;
  all.push_back({knob("least", "Lowest", std::max(rules.leastMhz, device.minMhz), device.minMhz),
                 turningRules(d, [](sim::ClockRules& r, const KnobTarget& to) { r.leastMhz = to.number; })});
}

Knob wordKnob(std::string id, std::string name, const std::vector<std::string>& words, std::string now) {
  Knob knob;
  knob.id = std::move(id);
  knob.name = std::move(name);
  for (const std::string& word : words) knob.choices.push_back({word, word});
  knob.choice = std::move(now);
  return knob;
}

// A knob whose words the bench knows, and the rule that it sets.
template <typename Words, typename E>
SimKnob ruleOfWords(const std::string& id, const std::string& name, size_t device, const Words& known,
                    E sim::ClockRules::*rule, E now) {
  std::vector<std::string> words;
  std::string nowWord;
  for (const auto& one : known) {
    words.emplace_back(one.word);
    if (one.is == now) nowWord = one.word;
  }
  return {wordKnob(id, name, words, nowWord),
          turningRules(device, [&known, rule](sim::ClockRules& rules, const KnobTarget& to) {
            for (const auto& one : known) {
              if (to.word == one.word) rules.*rule = one.is;
            }
          })};
}

void addClockWords(const sim::Bench& bench, size_t d, std::vector<SimKnob>& all) {
  const std::string& device = bench.given().devices[d].name;
  const sim::ClockRules& rules = bench.clockRules(d);
  all.push_back({wordKnob(device + ".boost", "Processor boost", {kOn, kOff}, rules.mayBoost ? kOn : kOff),
                 turningRules(d, [](sim::ClockRules& r, const KnobTarget& to) { r.mayBoost = to.word == kOn; })});
  all.push_back(ruleOfWords(device + ".governor", "Processor governor", d, sim::kGovernorWords,
                            &sim::ClockRules::governor, rules.governor));
  all.push_back(ruleOfWords(device + ".preference", "Processor: work before energy", d, sim::kPreferenceWords,
                            &sim::ClockRules::preference, rules.preference));
}

void addDevice(const sim::Bench& bench, size_t d, std::vector<SimKnob>& all) {
  const sim::DeviceSpec &device = bench.given().devices[d], &now = bench.spec().devices[d];
  if (device.sustainedW > 0) {
    const double most = device.shortW > 0 ? device.shortW : kMostOfLimit * device.sustainedW;
    Knob knob = numberKnob(device.name + ".power.limit", deviceTitle(device) + " power limit", "W", now.sustainedW,
                           std::min(kLeastW, device.sustainedW), std::max(most, device.sustainedW));
    knob.byDefault = device.sustainedW;
    all.push_back({knob, [d](sim::Bench& b, const KnobTarget& to) { b.setPowerLimit(d, to.number); }});
    if (isProcessor(device) && device.shortW > 0) {
      knob.id += ".short";
      knob.name += ", for a moment";
      knob.value = now.shortW;
      knob.byDefault = device.shortW;
      all.push_back({knob, [d](sim::Bench& b, const KnobTarget& to) { b.setShortLimit(d, to.number); }});
    }
  }
  if (device.maxMhz > device.minMhz) addClocks(bench, d, all);
  if (isProcessor(device)) addClockWords(bench, d, all);
}

void addFan(const sim::Bench& bench, size_t f, std::vector<SimKnob>& all) {
  const sim::FanSpec& fan = bench.spec().fans[f];
  const std::string id = "fan." + fan.name;
  all.push_back({numberKnob(id + ".duty", "Duty of the fan " + fan.name, "%", bench.fanDutyPercent(f), 0, 100),
                 [f](sim::Bench& b, const KnobTarget& to) { b.setFanDuty(f, to.number); }});
  if (fan.curveNode < 0) return;
  Knob mode = wordKnob(id + ".mode", "Control of the fan " + fan.name, {kManual, kAutomatic},
                       bench.isFanByHand(f) ? kManual : kAutomatic);
  mode.isFan = true;
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
