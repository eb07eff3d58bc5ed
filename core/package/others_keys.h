// SPDX-License-Identifier: GPL-3.0-or-later
// Keys that somebody else put into a package: kept with the runs that came with them, and put back when those go out.
#pragma once

#include "model/json.h"

namespace ash {

/// In the `extra` of a run's row: {"description", "run", "resources"}, each what keysOfOthers() found.
inline constexpr char kKeysOfOthers[] = "package";

/// Where keys of ours stand (docs/export.md).
enum class PackagePart { Description, Resource, Run };

/// What of `given` this program does not write itself. Lists that it knows are told as objects, their elements by their
/// numbers. Empty when there is nothing.
Json keysOfOthers(PackagePart part, const Json& given);

/// Puts them where they stood. What is there already stays as it is.
void putBack(PackagePart part, const Json& others, Json& ours);

}  // namespace ash
