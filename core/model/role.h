// SPDX-License-Identifier: GPL-3.0-or-later
// Roles: what a reading means, so that it can be compared between machines. Codes are dotted and lower case.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "model/unit.h"

namespace ash {

/// A role that was recognised: its quantity, and the device it belongs to ("cpu", "gpu2", "board.vrm", "storage").
struct RoleInfo {
  Quantity quantity = Quantity::Other;
  std::string device;
};

/// Looks a role code up ("cpu.temp", "gpu2.temp.hotspot", "fan.rear.duty"). Empty when it is none.
std::optional<RoleInfo> findRole(std::string_view code);

/// The role in words for a person, e.g. "Processor temperature". The code itself where it is no role.
std::string plainRoleName(std::string_view code);

/// The device in a short word for a figure's heading: "CPU", "GPU", "VRM", "SSD", "Room".
std::string shortDeviceName(std::string_view roleCode);

/// True for any reading of ambient air ("room.temp", "room2.temp"); such a reading never leads a run.
bool isRoomRole(std::string_view code);

/// True for a place of the reviewer's own on a surface ("surface.lid").
bool isSurfaceRole(std::string_view code);

/// True when the role names a temperature of something that can be loaded (not the room).
bool isLoadedTemperature(std::string_view code);

}  // namespace ash
