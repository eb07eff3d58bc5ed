// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever is typed is kept as something that can be told, or refused with a reason; completions can be typed on.
#include "model/entry_line.h"
#include "model/owed_readings.h"

#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string line = fuzz::textOf(data, size);
  const std::vector<OwedReading> owed = {{"noise", "50 cm", OwedReading::When::Settled},
                                         {"room.temp", "", OwedReading::When::AtEnd}};
  static_cast<void>(completeEntry(line, owed));
  const auto entry = parseEntry(line);
  if (!entry) {
    fuzz::mustHold(!entry.error().message.empty());
    return 0;
  }
  fuzz::mustHold(!entryWords(*entry).empty());
  const Event event = eventOf(*entry, 1);
  fuzz::mustHold(!event.kind.empty());
  static_cast<void>(stillToTake(owed, {event}, {{PhaseKind::Soak, 0, 10, true}}, 5));
  return 0;
}
