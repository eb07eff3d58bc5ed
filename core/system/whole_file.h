// SPDX-License-Identifier: GPL-3.0-or-later
// A file that is there whole or not at all, and one that is read whole or not at all.
#pragma once

#include <cstdint>
#include <string>

#include "model/result.h"

namespace ash {

/// Writes the text beside the target, under a name that nobody else has, syncs it and moves it into place: a failure,
/// or a power cut, leaves the old file or the new one. `mode` is that of a new file (less the umask).
Status writeWholeFile(const std::string& text, const std::string& path, unsigned mode = 0666);

/// The bytes of a plain file (a link is followed) of at most so many. Error::badInput, in one sentence with the path:
/// it cannot be read, is no file, or is larger, which says `soItIs` of it ("it holds no instruments").
Result<std::string> readWholeFile(const std::string& path, uintmax_t mostB, const std::string& soItIs);

}  // namespace ash
