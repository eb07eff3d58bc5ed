// SPDX-License-Identifier: GPL-3.0-or-later
// OpenMetrics 1.0 text (IETF draft-richih-opsawg-openmetrics) and the older text format that it came from, as far as
// samples need it: names, labels, values, stamps, the type of a family.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "model/reading.h"
#include "model/result.h"

namespace ash {

struct MetricSample {
  std::string name;  ///< with its suffix: "ash_energy_joules_total"
  std::map<std::string, std::string> labels;
  double value = kMissing;   ///< NaN and infinities are missing
  double stampS = kMissing;  ///< its own, seconds since 1970; missing = none
  bool isCounter = false;    ///< of a family of that type
};

struct MetricsPage {
  std::vector<MetricSample> samples;
  bool hasEnd = false;  ///< "# EOF"
};

/// A page of at most 16 MiB. `isOpenMetrics` is told by its content type: stamps are then seconds (else milliseconds),
/// and
/// "# EOF" must end it. Refused with the line: what is no sample, comment or blank line; a label that is not closed;
/// more than 200,000 samples.
Result<MetricsPage> parseMetrics(std::string_view text, bool isOpenMetrics);

/// Base units by the end of a name, "_celsius", "_watts_total", "_bytes": as "°C", "W"; nothing when it has none. The
/// unit is that of the value itself, before any rate.
std::optional<UnitMatch> unitOfMetric(std::string_view name);

}  // namespace ash
