// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/roles_offered.h"

#include "model/role.h"

namespace ash::look {

std::vector<std::string> rolesOffered(Quantity quantity) {
  constexpr const char* kOffered[] = {"cpu.temp",
                                      "cpu.temp.mean",
                                      "cpu.temp.package",
                                      "gpu.temp",
                                      "gpu.temp.hotspot",
                                      "gpu.temp.memory",
                                      "board.temp.vrm",
                                      "board.temp",
                                      "memory.temp",
                                      "storage.temp",
                                      "coolant.temp",
                                      "case.temp",
                                      "exhaust.temp",
                                      "room.temp",
                                      "room2.temp",
                                      "surface.skin",
                                      "cpu.power",
                                      "gpu.power",
                                      "gpu.power.chip",
                                      "wall.power",
                                      "battery.power",
                                      "cpu.clock",
                                      "gpu.clock",
                                      "gpu.clock.memory",
                                      "cpu.volt",
                                      "gpu.volt",
                                      "cpu.load",
                                      "gpu.load",
                                      "fan.cpu",
                                      "fan.gpu",
                                      "fan.front",
                                      "fan.rear",
                                      "fan.top",
                                      "fan.bottom",
                                      "pump",
                                      "fan.cpu.duty",
                                      "fan.gpu.duty",
                                      "battery.charge",
                                      "cpu.energy",
                                      "gpu.energy",
                                      "storage.read",
                                      "storage.write",
                                      "noise"};
  std::vector<std::string> roles;
  for (const char* role : kOffered) {
    if (quantity == Quantity::Other || Role(role).quantity() == quantity) roles.emplace_back(role);
  }
  return roles;
}

}  // namespace ash::look
