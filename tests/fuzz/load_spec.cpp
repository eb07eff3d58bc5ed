// SPDX-License-Identifier: GPL-3.0-or-later
// What a book or a person asks of a load: a spec as JSON, a line, a duty over time, a pattern with a line to match.
#include "load/load_text.h"
#include "model/active_parts.h"
#include "model/pattern.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string text = fuzz::textOf(data, size);
  const Json spec = parseQuietly(text);
  if (const auto load = loadFromJson("vector", spec); load && checkLoadOptions(*load)) {
    // What was understood is written so that it is understood the same.
    const Json once = loadToJson(*load);
    const auto again = loadFromJson("", once);
    fuzz::mustHold(again.operator bool() && jsonText(loadToJson(*again)) == jsonText(once));
  }
  for (const ActivePart& part : activeParts(Load{"x", spec.is_object() ? spec : Json::object(), 0})) {
    fuzz::mustHold(!canonicalText(part).empty());
    fuzz::mustHold(!detailLines(part).empty());
  }
  static_cast<void>(parseNamedLoads(text));
  static_cast<void>(parseDutySteps(text));
  static_cast<void>(parseCoreList(text));
  const size_t half = text.find('\n');
  if (half == std::string::npos) return 0;
  if (const auto pattern = Pattern::compile(text.substr(0, half))) {
    const std::string line = text.substr(half + 1);
    if (const auto found = pattern->find(line))
      fuzz::mustHold(found->size() == static_cast<size_t>(pattern->groupCount()) + 1);
  }
  return 0;
}
