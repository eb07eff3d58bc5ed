// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/writable.h"

#include <fnmatch.h>

#include <algorithm>

#include "model/text.h"

namespace ash {
namespace {

bool fits(const char* pattern, std::string_view part) { return fnmatch(pattern, std::string(part).c_str(), 0) == 0; }

bool isPlainPart(std::string_view part) {
  return !part.empty() && part != "." && part != ".." && withoutControls(part) == part;
}

}  // namespace

const std::vector<WritableFile>& writableFiles() {
  static const std::vector<WritableFile> kAll = {
      {"intel-rapl:[0-9]", "constraint_[0-7]_power_limit_uw", "sys/", "power limit of a package"},
      {"policy[0-9]*", "scaling_max_freq", "sys/devices/system/cpu/cpufreq/", "highest clock of a core's policy"},
      {"policy[0-9]*", "scaling_min_freq", "sys/devices/system/cpu/cpufreq/", "lowest clock of a core's policy"},
      {"policy[0-9]*", "scaling_governor", "sys/devices/system/cpu/cpufreq/", "governor of a core's policy"},
      {"policy[0-9]*", "energy_performance_preference", "sys/devices/system/cpu/cpufreq/", "work before energy"},
      {"cpufreq", "boost", "sys/devices/system/cpu/", "clocks above the base clock"},
      {"intel_pstate", "no_turbo", "sys/devices/system/cpu/", "clocks above the base clock, turned round"},
      {"hwmon[0-9]*", "power1_cap", "sys/", "power limit of a graphics card"},
      {"hwmon[0-9]*", "pwm[0-9]", "sys/", "duty of a fan"},
      {"hwmon[0-9]*", "pwm1[0-6]", "sys/", "duty of a fan"},
      {"hwmon[0-9]*", "pwm[0-9]_enable", "sys/", "what drives a fan"},
      {"hwmon[0-9]*", "pwm1[0-6]_enable", "sys/", "what drives a fan"},
      {"gt0", "rps_max_freq_mhz", "sys/", "highest clock of a graphics card"}};
  return kAll;
}

bool isWritableFile(std::string_view file) {
  constexpr size_t kLongest = 512, kParts = 3;
  if (file.size() > kLongest) return false;
  const auto parts = splitText(file, '/');
  if (parts.size() < kParts || !std::all_of(parts.begin(), parts.end(), isPlainPart)) return false;
  const std::string_view folder = parts[parts.size() - 2], name = parts.back();
  return std::any_of(writableFiles().begin(), writableFiles().end(), [&](const WritableFile& one) {
    return file.starts_with(one.below) && fits(one.folder, folder) && fits(one.name, name);
  });
}

}  // namespace ash
