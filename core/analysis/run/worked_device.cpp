// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/worked_device.h"

#include <cmath>

#include "model/load_kind.h"

namespace ash {
namespace {

constexpr double kBusyPercent = 20;
constexpr double kMovesMbPerS = 1;

// Nobody says what was run: a device that is busy while the processor is not did it.
DeviceKind busyDevice(const RunContext& context) {
  const auto under = [&](const char* role) { return context.load ? meanIn(context, role, *context.load) : kMissing; };
  if (!(under(roles::kCpuLoad) < kBusyPercent)) return DeviceKind::Cpu;
  if (under(roles::kGpuLoad) >= kBusyPercent) return DeviceKind::Gpu;
  const bool moves = under(roles::kStorageWrite) > kMovesMbPerS || under(roles::kStorageRead) > kMovesMbPerS;
  return moves ? DeviceKind::Storage : DeviceKind::Cpu;
}

}  // namespace

DeviceKind workedDevice(const RunContext& context) {
  const RunFacts& facts = context.run.facts;
  const auto byKind = workedBy(facts.loadKind == LoadKind::Other ? kindOfLoad(facts.load) : facts.loadKind);
  return byKind ? *byKind : busyDevice(context);
}

Role workRoleOf(const RunContext& context, const Device& device) {
  if (device.number() != Device::kNoNumber) return {};
  const auto isLogged = [&](const char* role) { return context.find(role) != nullptr; };
  const DeviceKind worked = workedDevice(context);
  if (device.is(DeviceKind::Gpu) && isLogged(roles::kFrameRate)) return Role(roles::kFrameRate);
  const bool isWorked = device.is(worked);
  if (device.is(DeviceKind::Storage) && isWorked && context.load) {
    for (const char* rate : {roles::kStorageWrite, roles::kStorageRead}) {
      if (meanIn(context, rate, *context.load) > kMovesMbPerS) return Role(rate);
    }
  }
  return isWorked && isLogged(roles::kWorkRate) ? Role(roles::kWorkRate) : Role();
}

}  // namespace ash
