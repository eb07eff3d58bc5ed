// SPDX-License-Identifier: GPL-3.0-or-later
// What the fuzzing programs share.
#pragma once

#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <string>

extern "C" int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size);

namespace ash::fuzz {

inline std::string textOf(const uint8_t* data, size_t size) { return {reinterpret_cast<const char*>(data), size}; }

/// What must hold whatever came in.
inline void mustHold(bool condition) {
  if (!condition) std::abort();
}

}  // namespace ash::fuzz
