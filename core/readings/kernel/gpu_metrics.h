// SPDX-License-Identifier: GPL-3.0-or-later
// The binary table gpu_metrics of the amdgpu driver: which limits hold the chip back.
// Documentation/gpu/amdgpu/thermal.rst names the file; the layout is that of the kernel's kgd_pp_interface.h.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ash {

/// The throttle bits of one table: those that mean the same on every chip where the revision has them.
struct GpuThrottleBits {
  uint64_t bits = 0;
  bool areChipIndependent = false;  ///< false: their meaning differs from chip to chip, only zero or not can be told
};

/// Empty for an unknown revision, a table shorter than it says, and one whose field is not filled (all bits set).
std::optional<GpuThrottleBits> parseGpuThrottle(std::string_view table);

/// What holds the chip back in words: "power (PPT0)", "hotspot temperature". Empty when nothing does.
std::vector<std::string> gpuThrottleWords(uint64_t chipIndependentBits);

}  // namespace ash
