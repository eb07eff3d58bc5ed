// SPDX-License-Identifier: GPL-3.0-or-later
// The core's words, which are UTF-8, as the interface holds them.
#pragma once

#include <QString>
#include <string>
#include <string_view>

namespace ash::look {

inline QString text(std::string_view utf8) {
  return QString::fromUtf8(utf8.data(), static_cast<qsizetype>(utf8.size()));
}

}  // namespace ash::look
