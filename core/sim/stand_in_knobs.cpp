// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_knobs.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace ash::sim {
namespace {

using Part = Result<std::unique_ptr<StandInPart>>;

// Makes a knob's file; nothing said when it could be made.
template <typename T>
Status makeKnob(const FileTree& tree, const std::string& file, T value, std::unique_ptr<KnobFile<T>>& knob) {
  auto made = KnobFile<T>::create(tree, file, std::move(value));
  if (!made) return made.error();
  knob = std::move(*made);
  return {};
}

/// Documentation/hwmon/sysfs-interface.rst: 1 = by hand, 2 = as the board wants.
class FanKnobs : public StandInPart {
 public:
  static Part create(const FileTree& tree, const Bench& bench, size_t fan, const std::string& chip) {
    auto part = std::make_unique<FanKnobs>();
    part->m_fan = fan;
    const std::string stem = fmt::format("{}/pwm{}", chip, fan + 1);
    const long long raw = std::llround(bench.fanDutyPercent(fan) * 2.55);
    Status made = makeKnob(tree, stem, raw, part->m_duty);
    if (made) made = makeKnob(tree, stem + "_enable", bench.spec().fans[fan].curveNode < 0 ? 1LL : 2LL, part->m_mode);
    if (!made) return made.error();
    return std::unique_ptr<StandInPart>(std::move(part));
  }
  Status turn(Bench& bench) override {
    if (const auto mode = m_mode->take()) {
      const long long taken = std::clamp<long long>(*mode, 0, 2);
      if (Status answered = m_mode->answer(taken); !answered) return answered;
      if (taken == 0) bench.setFanDuty(m_fan, 100);
      if (taken == 1) bench.setFanDuty(m_fan, bench.fanDutyPercent(m_fan));
      if (taken == 2) bench.setFanDuty(m_fan, std::nullopt);
    }
    const auto duty = m_duty->take();
    if (!duty) return {};
    // A duty counts only while the fan is driven by hand.
    if (m_mode->value() == 1) bench.setFanDuty(m_fan, static_cast<double>(std::clamp<long long>(*duty, 0, 255)) / 2.55);
    return {};
  }
  Status write(const Bench& bench) override {
    const long long raw = std::llround(bench.fanDutyPercent(m_fan) * 2.55);
    return raw == m_duty->value() ? Status() : m_duty->answer(raw);
  }

 private:
  size_t m_fan = 0;
  std::unique_ptr<NumberKnob> m_duty, m_mode;
};

/// One file in each policy of cpufreq; the last one that was written counts for the processor.
template <typename T>
class PolicyFiles {
 public:
  Status add(const FileTree& tree, const std::string& file, const T& value) {
    std::unique_ptr<KnobFile<T>> knob;
    Status made = makeKnob(tree, file, value, knob);
    if (made) m_files.push_back(std::move(knob));
    return made;
  }
  std::optional<T> take() {
    std::optional<T> last;
    for (const auto& file : m_files) {
      if (auto asked = file->take()) last = std::move(asked);
    }
    return last;
  }
  Status answer(const T& value) {
    for (const auto& file : m_files) {
      if (Status answered = file->answer(value); !answered) return answered;
    }
    return {};
  }

 private:
  std::vector<std::unique_ptr<KnobFile<T>>> m_files;
};

template <typename E, size_t N>
std::string wordOf(const std::array<ClockWord<E>, N>& words, E is) {
  return std::find_if(words.begin(), words.end(), [&](const auto& one) { return one.is == is; })->word;
}

template <typename E, size_t N>
std::string listOf(const std::array<ClockWord<E>, N>& words) {
  std::string list;
  for (const auto& one : words) list += fmt::format("{}{}", list.empty() ? "" : " ", one.word);
  return list;
}

/// Documentation/admin-guide/pm/cpufreq.rst.
class ClockKnobs : public StandInPart {
 public:
  static Part create(const FileTree& tree, const Bench& bench, int cpus) {
    auto part = std::make_unique<ClockKnobs>();
    const DeviceSpec& device = bench.spec().devices[0];
    const std::string folder = "sys/devices/system/cpu/cpufreq";
    Status made = makeKnob(tree, folder + "/boost", 1LL, part->m_boost);
    for (int cpu = 0; cpu < cpus && made; ++cpu)
      made = part->addPolicy(tree, fmt::format("{}/policy{}", folder, cpu), device, bench.clockRules(0));
    if (!made) return made.error();
    return std::unique_ptr<StandInPart>(std::move(part));
  }
  Status turn(Bench& bench) override {
    ClockRules rules = bench.clockRules(0);
    Status answered = turnClocks(rules, bench.spec().devices[0]);
    if (answered) answered = turnWords(rules);
    bench.setClockRules(0, rules);
    return answered;
  }
  Status write(const Bench&) override { return {}; }

 private:
  Status addPolicy(const FileTree& tree, const std::string& policy, const DeviceSpec& device, const ClockRules& rules) {
    Status made = tree.texts(policy, {{"scaling_available_governors", listOf(kGovernorWords)},
                                      {"energy_performance_available_preferences", listOf(kPreferenceWords)}});
    if (made) made = m_most.add(tree, policy + "/scaling_max_freq", std::llround(device.maxMhz * 1000));
    if (made) made = m_least.add(tree, policy + "/scaling_min_freq", std::llround(device.minMhz * 1000));
    if (made) made = m_governor.add(tree, policy + "/scaling_governor", wordOf(kGovernorWords, rules.governor));
    if (made)
      made =
          m_preference.add(tree, policy + "/energy_performance_preference", wordOf(kPreferenceWords, rules.preference));
    return made;
  }
  // As cpufreq does: both within what the processor can, the lowest never above the highest.
  Status turnClocks(ClockRules& rules, const DeviceSpec& device) {
    const auto most = m_most.take(), least = m_least.take();
    const auto mhz = [](long long khz) { return static_cast<double>(khz) / 1000; };
    if (most) rules.mostMhz = std::clamp(mhz(*most), device.minMhz, device.maxMhz);
    if (least) rules.leastMhz = std::clamp(mhz(*least), device.minMhz, std::min(rules.mostMhz, device.maxMhz));
    rules.leastMhz = std::min(rules.leastMhz, rules.mostMhz);
    Status answered;
    if (most) answered = m_most.answer(std::llround(rules.mostMhz * 1000));
    if (answered && (most || least))
      answered = m_least.answer(std::llround(std::max(rules.leastMhz, device.minMhz) * 1000));
    return answered;
  }
  // A word that is on no list changes nothing, and the one before stands there again.
  template <typename E, size_t N>
  static Status turnWord(PolicyFiles<std::string>& files, const std::array<ClockWord<E>, N>& words, E& rule) {
    const auto asked = files.take();
    if (!asked) return {};
    for (const auto& one : words) {
      if (*asked == one.word) rule = one.is;
    }
    return files.answer(wordOf(words, rule));
  }
  Status turnWords(ClockRules& rules) {
    Status answered;
    if (const auto boost = m_boost->take()) {
      rules.mayBoost = *boost != 0;
      answered = m_boost->answer(rules.mayBoost ? 1 : 0);
    }
    if (answered) answered = turnWord(m_governor, kGovernorWords, rules.governor);
    if (answered) answered = turnWord(m_preference, kPreferenceWords, rules.preference);
    return answered;
  }

  PolicyFiles<long long> m_most, m_least;
  PolicyFiles<std::string> m_governor, m_preference;
  std::unique_ptr<NumberKnob> m_boost;
};

/// Documentation/hwmon/sysfs-interface.rst (power1_cap), and the highest clock as i915 has it.
class CardKnobs : public StandInPart {
 public:
  static Part create(const FileTree& tree, const Bench& bench, size_t device, const std::string& card,
                     const std::string& chip) {
    auto part = std::make_unique<CardKnobs>();
    part->m_device = device;
    const DeviceSpec& spec = bench.spec().devices[device];
    const std::string gt = card + "/gt/gt0", cap = chip + "/power1_cap";
    Status made = tree.texts(gt, {{"rps_RPn_freq_mhz", fmt::format("{:.0f}", spec.minMhz)},
                                  {"rps_RP0_freq_mhz", fmt::format("{:.0f}", spec.maxMhz)},
                                  {"rps_min_freq_mhz", fmt::format("{:.0f}", spec.minMhz)}});
    if (made) made = makeKnob(tree, gt + "/rps_max_freq_mhz", std::llround(spec.maxMhz), part->m_most);
    if (made && spec.sustainedW > 0) {
      const auto microwatts = [](double watts) { return std::to_string(std::llround(watts * 1e6)); };
      made = tree.texts(chip, {{"power1_cap_default", microwatts(spec.sustainedW)},
                               {"power1_cap_min", microwatts(std::min(kStandInLeastW, spec.sustainedW))},
                               {"power1_cap_max", microwatts(std::max(spec.shortW, spec.sustainedW))}});
      if (made) made = makeKnob(tree, cap, std::llround(spec.sustainedW * 1e6), part->m_cap);
    }
    if (!made) return made.error();
    return std::unique_ptr<StandInPart>(std::move(part));
  }
  Status turn(Bench& bench) override {
    const DeviceSpec& given = bench.given().devices[m_device];
    if (const auto mhz = m_most->take()) {
      ClockRules rules = bench.clockRules(m_device);
      rules.mostMhz = std::clamp(static_cast<double>(*mhz), given.minMhz, given.maxMhz);
      bench.setClockRules(m_device, rules);
      if (Status answered = m_most->answer(std::llround(rules.mostMhz)); !answered) return answered;
    }
    const auto microwatts = m_cap ? m_cap->take() : std::nullopt;
    if (!microwatts) return {};
    const double watts = std::clamp(static_cast<double>(*microwatts) / 1e6, std::min(kStandInLeastW, given.sustainedW),
                                    std::max(given.shortW, given.sustainedW));
    bench.setPowerLimit(m_device, watts);
    return m_cap->answer(std::llround(watts * 1e6));
  }
  Status write(const Bench&) override { return {}; }

 private:
  size_t m_device = 0;
  std::unique_ptr<NumberKnob> m_most, m_cap;
};

}  // namespace

Result<std::unique_ptr<StandInPart>> makeFanKnobs(const FileTree& tree, const Bench& bench, size_t fan,
                                                  const std::string& chipFolder) {
  return FanKnobs::create(tree, bench, fan, chipFolder);
}

Result<std::unique_ptr<StandInPart>> makeClockKnobs(const FileTree& tree, const Bench& bench, int cpus) {
  return ClockKnobs::create(tree, bench, cpus);
}

Result<std::unique_ptr<StandInPart>> makeCardKnobs(const FileTree& tree, const Bench& bench, size_t device,
                                                   const std::string& cardFolder, const std::string& chipFolder) {
  return CardKnobs::create(tree, bench, device, cardFolder, chipFolder);
}

}  // namespace ash::sim
