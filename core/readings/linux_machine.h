// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can be read on a Linux machine, or on a tree that looks like one.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/json.h"
#include "readings/source.h"

namespace ash {

struct LinuxMachine {
  std::vector<std::unique_ptr<Source>> sources;
  std::vector<SkippedReading> skipped;
  /// What was looked for and is not there, each as one sentence for a person.
  std::vector<std::string> missing;
  Json facts = Json::object();  ///< "name", "boot_id", "kernel"
};

/// Finds and opens every source below `root` ("" = this machine).
LinuxMachine openLinuxMachine(const std::string& root);

/// /proc/sys/kernel/random/boot_id of this machine; empty when it cannot be read.
std::string bootId(const std::string& root = "");

}  // namespace ash
