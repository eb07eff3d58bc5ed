// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/near_limit.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/number_text.h"
#include "readings/linux_machine.h"

namespace ash {

std::string NearLimit::sentence() const {
  return fmt::format("{} is {} K below its critical limit", words, roundedText(std::max(0.0, leftK), 1));
}

void lookForLimit(const std::vector<Reading>& readings, const std::vector<double>& values, NearLimit& nearest) {
  for (size_t i = 0; i < readings.size() && i < values.size(); ++i) {
    const Reading& reading = readings[i];
    const auto critical = reading.limits.find("critical");
    if (reading.quantity != Quantity::Temperature || critical == reading.limits.end()) continue;
    const double leftK = critical->second - values[i];  // missing is not near
    if (leftK < nearest.leftK) nearest = {leftK, reading.role.empty() ? reading.id : reading.role.title()};
  }
}

NearLimit nearestToLimit(const std::string& root) {
  NearLimit nearest;
  for (const auto& source : openLinuxMachine(root).sources)
    lookForLimit(source->info().readings, sweepPatiently(source).values, nearest);
  return nearest;
}

}  // namespace ash
