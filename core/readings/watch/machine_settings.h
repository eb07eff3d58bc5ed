// SPDX-License-Identifier: GPL-3.0-or-later
// How a machine is set: governors, boost, power limits, fans, links, firmware. Two runs can only be compared when both
// are known, so they are read back from the kernel at the start and the end of every run.
#pragma once

#include <string>
#include <vector>

#include "model/json.h"

namespace ash {

/// One setting as it is read back. `key` is stable ("cpu.governor"), `words` say it to a person, `value` is a text or a
/// number in `unit`.
struct MachineSetting {
  std::string key;
  std::string words;
  Json value;
  std::string unit;
  bool matters = true;  ///< a change during a run is told; false for what moves by itself or only names a version
};

/// All settings that can be read below `root`, in a fixed order; what is not there is left out.
std::vector<MachineSetting> readMachineSettings(const std::string& root);

/// {"cpu.governor": "powersave", …}
Json settingsToJson(const std::vector<MachineSetting>& settings);

/// "45 W", "powersave", "none" for a setting that is gone.
std::string settingText(const MachineSetting* setting);

/// What is set otherwise than the conditions of a setup ask (power_limit_w, governor, energy_preference, boost,
/// platform_profile, fan_duty): one sentence each, "Asked for a power limit of 45 W; the machine has 23 W." Pure.
std::vector<std::string> notAsAsked(const Json& conditions, const std::vector<MachineSetting>& settings);

}  // namespace ash
