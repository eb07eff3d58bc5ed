// SPDX-License-Identifier: GPL-3.0-or-later
// Whose work it was: what a load works, and which reading tells what a device does of it.
#pragma once

#include "analysis/run/context.h"
#include "model/role.h"

namespace ash {

/// What the load works: by its kind, else by what is busy under it (a drive that moves data, or the graphics, while the
/// processor hardly works); the processor where nothing says otherwise.
DeviceKind workedDevice(const RunContext& context);

/// The reading of the work that a device does; not known where the work is another device's or is not logged.
Role workRoleOf(const RunContext& context, const Device& device);

}  // namespace ash
