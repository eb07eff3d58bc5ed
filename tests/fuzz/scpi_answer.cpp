// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter answers: a number in a known unit, or a sentence that a terminal can be shown.
#include <cmath>

#include "instruments/scpi_answer.h"
#include "model/text.h"
#include "tests/fuzz/fuzz.h"

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const std::string answer(reinterpret_cast<const char*>(data), size);
  const auto number = ash::parseScpiNumber(answer);
  if (number) {
    ash::fuzz::mustHold(!std::isinf(number->value));
    if (number->unit) ash::fuzz::mustHold(number->unit->factor != 0);
  } else {
    ash::fuzz::mustHold(ash::withoutControls(number.error().message) == number.error().message);
    ash::fuzz::mustHold(ash::isUtf8(number.error().message));
  }
  return 0;
}
