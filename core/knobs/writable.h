// SPDX-License-Identifier: GPL-3.0-or-later
// The list of all that is ever written of a machine: whatever is found, asked for or kept, nothing else is.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace ash {

/// A kind of file of the kernel. Patterns are those of fnmatch(3).
struct WritableFile {
  const char* folder;  ///< the file's folder, its last part only
  const char* name;
  const char* below;  ///< where in the tree, without a leading slash
  const char* what;   ///< for a person
};

/// docs/security.md holds the same list.
const std::vector<WritableFile>& writableFiles();

/// `file` is below the root, without a leading slash. Refused, too: `..`, empty parts, controls.
bool isWritableFile(std::string_view file);

}  // namespace ash
