// SPDX-License-Identifier: GPL-3.0-or-later
// Gives up what root may beyond its own files.
#pragma once

#include "model/result.h"

namespace ash {

/// No capability is left to this process, and none can be gained (capabilities(7), PR_SET_NO_NEW_PRIVS): it writes what
/// its user owns, as the kernel's knobs are root's, and nothing else. For good.
Status dropRights();

}  // namespace ash
