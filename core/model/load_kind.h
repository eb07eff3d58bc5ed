// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of load there are.
#pragma once

#include <array>
#include <optional>
#include <string>

#include "model/device.h"
#include "model/open_word.h"

namespace ash {

struct LoadWords {
  enum Known { Vector, Integer, Cache, Memory, Mixed, Storage, Graphics, Command, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"vector", "integer", "cache",    "memory",
                                                                 "mixed",  "storage", "graphics", "command"};
};
/// A kind that this version does not have is kept by its word and refused when it is to run.
using LoadKind = OpenWord<LoadWords>;

/// What a load of the kind works: the processor, where it is not the graphics or a drive. A command of the reviewer's
/// own and a kind that is not known work nobody knows what: none.
inline std::optional<DeviceKind> workedBy(const LoadKind& kind) {
  if (kind == LoadKind::Command || kind == LoadKind::Other) return std::nullopt;
  if (kind == LoadKind::Graphics) return DeviceKind::Gpu;
  return kind == LoadKind::Storage ? DeviceKind::Storage : DeviceKind::Cpu;
}

/// The kind that the words of a load begin with ("storage write 4 jobs"); Other where they name none.
inline LoadKind kindOfLoad(const std::string& words) {
  return LoadKind::fromText(words.substr(0, words.find_first_of(" ,+(")));
}

}  // namespace ash
