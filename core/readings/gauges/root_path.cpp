// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/gauges/root_path.h"

namespace ash {

std::string pathBelowRoot(const std::string& root, const std::filesystem::path& file) {
  std::error_code error;
  const auto top = std::filesystem::weakly_canonical(root.empty() ? "/" : root, error);
  const auto resolved = std::filesystem::weakly_canonical(file, error);
  return resolved.lexically_relative(top).string();
}

}  // namespace ash
