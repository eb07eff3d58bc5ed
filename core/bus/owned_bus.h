// SPDX-License-Identifier: GPL-3.0-or-later
// Owners of what sd-bus hands out (sd-bus(3)), and connections to the two buses.
#pragma once

#include <systemd/sd-bus.h>

#include <cstdint>
#include <memory>

#include "model/result.h"

namespace ash {

struct BusCloser {
  void operator()(sd_bus* bus) const { sd_bus_close_unref(bus); }
};
struct BusMessageCloser {
  void operator()(sd_bus_message* message) const { sd_bus_message_unref(message); }
};
struct BusSlotCloser {
  void operator()(sd_bus_slot* slot) const { sd_bus_slot_unref(slot); }
};
struct BusTrackCloser {
  void operator()(sd_bus_track* track) const { sd_bus_track_unref(track); }
};
using OwnedBus = std::unique_ptr<sd_bus, BusCloser>;
using OwnedBusMessage = std::unique_ptr<sd_bus_message, BusMessageCloser>;
using OwnedBusSlot = std::unique_ptr<sd_bus_slot, BusSlotCloser>;
using OwnedBusTrack = std::unique_ptr<sd_bus_track, BusTrackCloser>;

enum class WhichBus { System, Session };

/// A connection of its own; calls without a patience of theirs wait `patienceUs` at most. $DBUS_SYSTEM_BUS_ADDRESS and
/// $DBUS_SESSION_BUS_ADDRESS count where they are set. Refused: there is no such bus.
Result<OwnedBus> openBus(WhichBus which, uint64_t patienceUs);

}  // namespace ash
