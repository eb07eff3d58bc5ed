// SPDX-License-Identifier: GPL-3.0-or-later
// What can be turned on a machine: limits of power and clock, governors, fans. docs/knobs.md.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "model/json.h"

namespace ash {

/// One of the words that a knob can be turned to, and what the kernel's file takes for it.
struct KnobChoice {
  std::string word, raw;
};

/// Files are below the root, without a leading slash; all of them are written, in this order.
struct Knob {
  std::string id;    ///< "cpu.power.limit", "fan.rear.duty"; numbered like roles
  std::string name;  ///< for a person
  std::string unit;  ///< of its numbers; empty for one with choices
  std::vector<std::string> files;
  double rawPerUnit = 1;                          ///< the file's number for one of the unit
  std::vector<std::pair<double, double>> ranges;  ///< of each file by itself, in the unit; none = all have the knob's
  std::optional<double> value, byDefault, least, most, step;
  std::vector<KnobChoice> choices;  ///< none for one with numbers
  std::string choice;               ///< the word that it has now; empty = another one
  bool isFan = false;
  std::string modeFile;    ///< of a fan's duty: pwmN_enable, which has to be 1
  std::string whyNot;      ///< one sentence why it cannot be turned; empty = it can
  bool isForRoot = false;  ///< and it is only the right that is missing

  bool isNumber() const { return choices.empty(); }
  bool isTurnable() const { return whyNot.empty(); }
};

/// As `ashg knobs --json` prints it.
Json knobToJson(const Knob& knob);

/// A number of a knob, with at most three decimals: "65", "45.5".
std::string knobNumber(double value);

/// "65 W".
std::string valueText(double value, const std::string& unit);

/// "88 W", "performance"; "–" where it is not known.
std::string valueWords(const Knob& knob);

}  // namespace ash
