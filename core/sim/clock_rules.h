// SPDX-License-Identifier: GPL-3.0-or-later
// What holds a simulated device's clock beside power and heat: how it was set, as on a machine.
#pragma once

#include <array>
#include <limits>

#include "sim/bench_spec.h"

namespace ash::sim {

/// Who chooses the clock within its bounds: always the highest, always the lowest, as the load wants it
/// (Documentation/admin-guide/pm/cpufreq.rst, "Generic Scaling Governors").
enum class Governor { Performance, Powersave, Schedutil };

/// What counts for more, work or energy. `Power` takes the clocks above the base clock away, `BalancePower` the upper
/// half of them, the others nothing.
enum class Preference { Performance, BalancePerformance, BalancePower, Power };

/// A word of the kernel and what it stands for here.
template <typename E>
struct ClockWord {
  const char* word;
  E is;
};
inline constexpr std::array<ClockWord<Governor>, 3> kGovernorWords = {
    {{"performance", Governor::Performance}, {"powersave", Governor::Powersave}, {"schedutil", Governor::Schedutil}}};
inline constexpr std::array<ClockWord<Preference>, 4> kPreferenceWords = {
    {{"performance", Preference::Performance},
     {"balance_performance", Preference::BalancePerformance},
     {"balance_power", Preference::BalancePower},
     {"power", Preference::Power}}};

/// How a device is set; MHz.
struct ClockRules {
  double mostMhz = std::numeric_limits<double>::infinity();
  double leastMhz = 0;
  bool mayBoost = true;  ///< above the base clock
  Governor governor = Governor::Schedutil;
  Preference preference = Preference::BalancePerformance;

  /// The highest clock that is left to the device, MHz.
  double highestMhz(const DeviceSpec& device) const;
  /// Its clock with nothing to do, MHz.
  double idleMhz(const DeviceSpec& device) const;
};

}  // namespace ash::sim
