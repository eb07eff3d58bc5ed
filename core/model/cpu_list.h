// SPDX-License-Identifier: GPL-3.0-or-later
// Lists of processors as the kernel writes them: "0-3,6" (Documentation/admin-guide/cputopology.rst).
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ash {

/// "6" or "0-3": the first and the last; none for anything else, one that runs backwards, or beyond `highest`.
std::optional<std::pair<int, int>> parseCpuRange(std::string_view text, int highest);

/// In rising order, neighbours joined: {6, 0, 1, 2} is "0-2,6".
std::string cpuListText(std::vector<int> cpus);

}  // namespace ash
