// SPDX-License-Identifier: GPL-3.0-or-later
// What can be turned on a stand-in machine beside its power limits: files that are written into as into the kernel's.
#pragma once

#include <memory>
#include <string>

#include "sim/stand_in_parts.h"

namespace ash::sim {

/// Duty and mode of a fan as files of the chip in `chipFolder` (pwmN, pwmN_enable).
Result<std::unique_ptr<StandInPart>> makeFanKnobs(const FileTree& tree, const Bench& bench, size_t fan,
                                                  const std::string& chipFolder);

/// The processor's clocks (`cpus` policies of cpufreq): highest, lowest, governor, preference, and boost for all.
Result<std::unique_ptr<StandInPart>> makeClockKnobs(const FileTree& tree, const Bench& bench, int cpus);

/// A graphics device's highest clock in `cardFolder`, and its power limit in `chipFolder` when it has one.
Result<std::unique_ptr<StandInPart>> makeCardKnobs(const FileTree& tree, const Bench& bench, size_t device,
                                                   const std::string& cardFolder, const std::string& chipFolder);

}  // namespace ash::sim
