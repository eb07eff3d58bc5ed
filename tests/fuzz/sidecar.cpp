// SPDX-License-Identifier: GPL-3.0-or-later
// A sidecar is refused with a sentence or read.
#include "exchange/csv_read.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const auto facts = parseSidecar(fuzz::textOf(data, size), "x.json");
  if (!facts) {
    fuzz::mustHold(!facts.error().message.empty());
    return 0;
  }
  // What was kept can be written again.
  static_cast<void>(facts->conditions.dump());
  static_cast<void>(facts->extra.dump());
  static_cast<void>(facts->machine.dump());
  return 0;
}
