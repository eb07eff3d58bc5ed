// SPDX-License-Identifier: GPL-3.0-or-later
// A rule that can be read can be written and read again as the same, and can be watched.
#include "runner/stop_rule_watch.h"

#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const auto rule = parseStopRule(fuzz::textOf(data, size));
  if (!rule) return 0;
  const std::string text = stopRuleText(*rule);
  const auto again = parseStopRule(text);
  fuzz::mustHold(static_cast<bool>(again));
  fuzz::mustHold(stopRuleText(*again) == text);
  StopRuleWatch watch({*rule}, 95.0);
  for (double t = 0; t < 5; t += 0.5) {
    const RoleValues values = {{rule->role, t * 30}, {"cpu.clock", 4000 - 300 * t}, {"cpu.temp", 94.5}};
    static_cast<void>(watch.take({t, values, {}, true, t > 3 ? 1 : 0, 1e6}));
  }
  return 0;
}
