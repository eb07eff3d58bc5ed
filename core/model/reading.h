// SPDX-License-Identifier: GPL-3.0-or-later
// A reading: one thing that can be measured, where it comes from, what it means and what limits it has.
#pragma once

#include <limits>
#include <map>
#include <string>

#include "model/role.h"
#include "model/unit.h"

namespace ash {

inline constexpr double kMissing = std::numeric_limits<double>::quiet_NaN();

/// The kind of a reading that is a fan's duty.
inline constexpr char kDutyKind[] = "pwm";

/// The kind of a reading that an instrument tells.
inline constexpr char kInstrumentKind[] = "instrument";

/// Describes one reading. It holds no samples; those stand in a SampleBlock at the same place.
struct Reading {
  std::string id;      ///< stable over reboots, unique on this machine
  std::string path;    ///< relative to the root, links resolved; empty when it comes from no file
  std::string device;  ///< name of the device for a person
  std::string driver;  ///< kernel driver, instrument type, "computed" or "typed"
  std::string kind;    ///< temp, voltage, current, power, energy, fan, pwm, clock, load, …
  std::string name;    ///< the device's own label
  Role role;           ///< role code, empty when it has none
  Quantity quantity = Quantity::Other;
  std::string unit;                            ///< stored unit
  std::map<std::string, double> limits;        ///< "max", "critical", "throttle", "min", … in the stored unit
  std::map<std::string, std::string> origins;  ///< where a limit of that name comes from: "temp1_crit", "typed"
  double step = 0.0;                           ///< smallest change it can show (stored unit); 0 = unknown
  double accuracy = 0.0;                       ///< stated accuracy, ± (stored unit); 0 = not stated
  double accuracyPercent = 0.0;                ///< and the share of the reading beside it; 0 = none
  double refreshS = 0.0;  ///< how often the device itself renews it; repeats within are no news; 0 = unknown
  std::string place;      ///< where it sits, for meters and probes ("before the UPS", "50 cm")
  std::string meaning;    ///< in words where its role does not say it: "hottest of 8 cores, computed"
  std::string deviceKey;  ///< the same for all readings of one device; not kept
  Role ruleRole;          ///< what it is by rule, whatever a person said since: danger is watched by this; not kept
  bool isHidden = false;  ///< a person does not want to see it; it is read only because it has a limit of danger

  /// The column name in a log: its role where there is one, else its id.
  const std::string& column() const { return role.empty() ? id : role.text(); }
};

/// Something that could not be taken as a reading, with its reason.
struct SkippedReading {
  std::string path;
  std::string why;
};

}  // namespace ash
