// SPDX-License-Identifier: GPL-3.0-or-later
// A file that is there whole or not at all.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// Writes the text beside the target, under a name that nobody else has, syncs it and moves it into place: a failure,
/// or a power cut, leaves the old file or the new one. `mode` is that of a new file (less the umask).
Status writeWholeFile(const std::string& text, const std::string& path, unsigned mode = 0666);

}  // namespace ash
