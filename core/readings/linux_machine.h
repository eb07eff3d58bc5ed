// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can be read on a Linux machine, or on a tree that looks like one.
#pragma once

#include <memory>
#include <set>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/reading_choice.h"
#include "readings/gauges/source.h"

namespace ash {

/// Of LinuxMachine::missing: another source may tell the room.
inline constexpr char kNoRoomIsRead[] =
    "No room temperature is read here: one that is typed counts, and without it nothing is told over room.";

struct LinuxMachine {
  std::vector<std::shared_ptr<Source>> sources;
  std::vector<SkippedReading> skipped;
  /// What was looked for and is not there, each as one sentence for a person.
  std::vector<std::string> missing;
  /// Readings that a person has hidden. Those with a limit of danger stand among the sources, too, without a role and
  /// with isHidden set: a stop rule hangs on them.
  std::vector<Reading> hidden;
  /// Devices that did not come back when they were looked at (Finder::what).
  std::vector<std::string> hung;
  Json facts = Json::object();  ///< "name", "boot_id", "kernel", "firmware", "board", "processor"
};

/// Finds and opens every source below `root` ("" = this machine), gives their readings their meaning by rule, and
/// applies what a person has said of them. A device that does not answer within two seconds is skipped; one of `hung`,
/// which did not answer before, is not asked again: each time would leave another thread with it. Roles of
/// `toldElsewhere` are not given: the next number is.
LinuxMachine openLinuxMachine(const std::string& root, const ReadingChoices& choices = {},
                              const std::vector<std::string>& hung = {},
                              const std::set<std::string>& toldElsewhere = {});

/// True for a temperature of something that can be loaded, by its role or by what it is by rule, for which a critical
/// limit is known.
bool hasDanger(const Reading& reading);

/// Name, board, processor, kernel, firmware and boot of the machine; quick.
Json machineFacts(const std::string& root);

/// By what a machine is known again in a book: its name and its board.
std::string machineKey(const Json& facts);

/// /proc/sys/kernel/random/boot_id of this machine; empty when it cannot be read.
std::string bootId(const std::string& root = "");

/// Sweeps a source on a thread of its own; every value is missing when it does not answer in time.
Sweep sweepPatiently(const std::shared_ptr<Source>& source);

}  // namespace ash
