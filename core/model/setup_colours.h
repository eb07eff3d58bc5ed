// SPDX-License-Identifier: GPL-3.0-or-later
// A setup keeps its colour on every screen and in the write-up: the eight there are, by its place in the study, on a
// light ground and on a dark one. Then they start over.
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>

namespace ash {

/// 0xRRGGBB.
inline constexpr std::array<uint32_t, 8> kSetupColours = {0x2F5D8A, 0x7B3F73, 0x1C7C7D, 0x5B6770,
                                                          0xA8801E, 0x8A2F4F, 0x4C7A45, 0x4B4A9C};
inline constexpr std::array<uint32_t, 8> kSetupColoursOnDark = {0x6E9CC9, 0xBA7FB1, 0x55B3B4, 0x98A5AF,
                                                                0xD9B04C, 0xC46A8A, 0x86B37E, 0x8E8DD6};

/// That of a setup; of one that is none of the study's, the first.
constexpr uint32_t setupColour(int setupIndex, bool onDark) {
  const auto& colours = onDark ? kSetupColoursOnDark : kSetupColours;
  return colours[static_cast<size_t>(std::max(0, setupIndex)) % colours.size()];
}

}  // namespace ash
