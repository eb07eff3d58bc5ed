// SPDX-License-Identifier: GPL-3.0-or-later
// Readings as a page of OpenMetrics 1.0.
#pragma once

#include <string>
#include <vector>

#include "model/reading.h"

namespace ash {

/// A reading with the value it had at a moment; a missing one is not on the page.
struct ServedReading {
  Reading reading;
  double value = kMissing;
  double stampS = kMissing;  ///< when it was taken, seconds since 1970; missing = not told
};

inline constexpr char kOpenMetricsType[] = "application/openmetrics-text; version=1.0.0; charset=utf-8";

/// Families by quantity and base unit, each with TYPE, UNIT and HELP (OpenMetrics 1.0: a unit is the end of its
/// family's name): ash_temperature_celsius, ash_power_watts, ash_frequency_hertz, ash_energy_joules (a counter) …
/// Labels: role, device, name, id, as `ashg readings --json` has them. With `clockS`, the wall's clock now (seconds
/// since 1970), also ash_clock_seconds, by which whoever reads it can tell how far the clocks are apart. "# EOF" at the
/// end.
std::string metricsPage(const std::vector<ServedReading>& readings, double clockS = kMissing);

}  // namespace ash
