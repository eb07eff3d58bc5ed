// SPDX-License-Identifier: GPL-3.0-or-later
// Owners of what sd-bus hands out (sd-bus(3)).
#pragma once

#include <systemd/sd-bus.h>

#include <memory>
#include <string>
#include <vector>

namespace ash {

struct BusCloser {
  void operator()(sd_bus* bus) const { sd_bus_flush_close_unref(bus); }
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
using OwnedMessage = std::unique_ptr<sd_bus_message, BusMessageCloser>;
using OwnedSlot = std::unique_ptr<sd_bus_slot, BusSlotCloser>;
using OwnedTrack = std::unique_ptr<sd_bus_track, BusTrackCloser>;

}  // namespace ash
