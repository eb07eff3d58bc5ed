// SPDX-License-Identifier: GPL-3.0-or-later
#include "bus/owned_bus.h"

namespace ash {

Result<OwnedBus> openBus(WhichBus which, uint64_t patienceUs) {
  const bool isSystem = which == WhichBus::System;
  sd_bus* bus = nullptr;
  if (const int code = isSystem ? sd_bus_open_system(&bus) : sd_bus_open_user(&bus); code < 0)
    return Error::io("reach", isSystem ? "the system bus" : "the session bus", -code);
  sd_bus_set_method_call_timeout(bus, patienceUs);
  return OwnedBus(bus);
}

}  // namespace ash
