// SPDX-License-Identifier: GPL-3.0-or-later
// What in a book would do something on this machine: commands, addresses, knobs, files that it names, and what it says
// of a machine's readings. A book may come from a stranger, so each is shown whole and confirmed on a machine before it
// counts there.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <vector>

#include "model/open_word.h"
#include "model/reading_choice.h"
#include "model/study.h"

namespace ash {

struct ActiveWords {
  enum Known { Command, Address, Knob, Bench, Reading, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"command", "address", "knob", "bench", "reading"};
};
using ActiveKind = OpenWord<ActiveWords>;

struct ActivePart {
  std::string where;  ///< "load render", "setup mesh", "plan", "reading …"
  ActiveKind kind;    ///< what it would do
  std::string text;   ///< in a few words: the line of a command, the address
  Json body;          ///< all that decides what happens: of a load its whole spec
  bool operator==(const ActivePart&) const = default;
};

/// The whole body a line a field ("environment.PATH: /opt/x"), as it is to be shown before it is confirmed. Characters
/// that are not seen, or turn the direction of writing, are written as escapes.
std::vector<std::string> detailLines(const ActivePart& part);

/// What is confirmed, as one text: kind and body with their keys in alphabetical order, wherever the part stands.
std::string canonicalText(const ActivePart& part);

/// All of a study: loads, setups and plan with the keys "command", "address", "knob" and "knobs" at any depth, phases
/// that turn knobs, and a simulated bench that is a file.
std::vector<ActivePart> activeParts(const Study& study);
/// Of one load, one setup and the plan: what a run of that cell would use.
std::vector<ActivePart> activeParts(const Study& study, const std::string& setup, const std::string& load);
/// Of one load.
std::vector<ActivePart> activeParts(const Load& load);
/// The knobs that a procedure turns; none where it turns none.
std::optional<ActivePart> activePart(const std::string& where, const std::string& phases);
/// What was said of one reading of a machine (machineKey()).
ActivePart activePart(const std::string& machine, const std::string& reading, const ReadingChoice& choice);

}  // namespace ash
