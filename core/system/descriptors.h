// SPDX-License-Identifier: GPL-3.0-or-later
// How many files this process may have open (getrlimit(2), RLIMIT_NOFILE).
#pragma once

#include <cstddef>

namespace ash {

/// Raises the soft limit to the hard one. A machine with a thousand readings has a thousand files open.
void raiseDescriptorLimit();

/// The soft limit as it stands.
size_t descriptorLimit();

/// The soft limit that programs of others expect (select(2) cannot go beyond it).
inline constexpr size_t kUsualDescriptors = 1024;
/// Sets the soft limit back to that, where it is above; for a process that is about to run somebody else's program.
void lowerDescriptorLimit();

}  // namespace ash
