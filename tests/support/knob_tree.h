// SPDX-License-Identifier: GPL-3.0-or-later
// A tree that looks like a machine with knobs.
#pragma once

#include <cstdlib>
#include <map>
#include <string>

#include "knobs/find_knobs.h"
#include "tests/support/fake_root.h"

namespace ash::tests {

/// A machine with a power zone, two clusters, a graphics card's chip and a board with two fans.
struct KnobTree : FakeRoot {
  explicit KnobTree(const char* hottestMilli = "45000") {
    setenv("XDG_STATE_HOME", path("state").c_str(), 1);
    powerZone("package-0", "intel-rapl/intel-rapl:0",
              {{"energy_uj", "1"},
               {"constraint_0_name", "long_term"},
               {"constraint_0_power_limit_uw", "88000000"},
               {"constraint_0_max_power_uw", "120000000"},
               {"constraint_1_name", "short_term"},
               {"constraint_1_power_limit_uw", "140000000"},
               {"constraint_1_max_power_uw", "0"}});
    for (int number = 0; number < 4; ++number)
      cpu(number, 0, number, number < 2 ? "5100000" : "3900000",
          {{"cpuinfo_min_freq", "800000"},
           {"scaling_min_freq", "800000"},
           {"scaling_max_freq", number < 2 ? "5100000" : "3900000"},
           {"scaling_governor", "schedutil"},
           {"scaling_available_governors", number < 2 ? "performance schedutil powersave" : "performance schedutil"}});
    files("sys/devices/system/cpu/cpufreq", {{"boost", "1"}});
    chip(0, "pci0000:00/0000:00:01.0/0000:01:00.0", "amdgpu");
    for (const auto& [name, text] : Files{{"temp1_input", "41000"},
                                          {"temp1_label", "edge"},
                                          {"power1_average", "20000000"},
                                          {"power1_cap", "180000000"},
                                          {"power1_cap_min", "90000000"},
                                          {"power1_cap_max", "200000000"},
                                          {"power1_cap_default", "180000000"}})
      attribute(name, text + "\n");
    chip(1, "platform/nct6775.656", "nct6798");
    for (const auto& [name, text] : Files{{"fan1_input", "900"},
                                          {"pwm1", "128"},
                                          {"pwm1_enable", "5"},
                                          {"fan2_input", "1100"},
                                          {"pwm2", "200"},
                                          {"pwm2_enable", "1"},
                                          {"temp1_input", hottestMilli},
                                          {"temp1_label", "SYSTIN"},
                                          {"temp1_crit", "100000"}})
      attribute(name, text + "\n");
  }
  std::string at(const std::string& file) const {
    std::string text = readFile(path(file));
    while (text.ends_with('\n')) text.pop_back();
    return text;
  }
  std::string limit() const { return at(kLimit); }
  /// Every file that a knob writes, with what stands in it.
  std::map<std::string, std::string> all() const {
    std::map<std::string, std::string> texts;
    for (const Knob& knob : findKnobs(path())) {
      for (const std::string& file : knob.files) texts[file] = at(file);
    }
    return texts;
  }
  static constexpr const char* kLimit =
      "sys/devices/virtual/powercap/intel-rapl/intel-rapl:0/constraint_0_power_limit_uw";
};

}  // namespace ash::tests
