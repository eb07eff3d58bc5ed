// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/result.h"

#include <fmt/format.h>

#include <cstring>

namespace ash {

Error Error::io(const std::string& doing, const std::string& path, int errnoValue) {
  return {ErrorKind::Environment, fmt::format("Cannot {} {}: {}.", doing, path, std::strerror(errnoValue)), false};
}

}  // namespace ash
