// SPDX-License-Identifier: GPL-3.0-or-later
// A reading that is nothing but its role.
#pragma once

#include "model/reading.h"

namespace ash::tests {

inline Reading readingCalled(const char* role) {
  Reading reading;
  reading.id = reading.name = role;
  reading.role = role;
  reading.quantity = reading.role.quantity();
  reading.unit = unitOf(reading.quantity);
  return reading;
}

}  // namespace ash::tests
