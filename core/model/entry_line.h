// SPDX-License-Identifier: GPL-3.0-or-later
// The entry line: one line of text for a person with busy hands becomes an event of a run. Grammar in
// docs/entry-line.md.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"
#include "model/role.h"
#include "model/run_facts.h"
#include "model/study_plan.h"

namespace ash {

struct Entry {
  enum class Kind { Reading, Setting, Note, Void, Fail };
  Kind kind = Kind::Note;
  Role role;                    ///< of a reading: "noise", "surface.hinge", "score", "wall.power", "room.temp"
  std::string name;             ///< of a setting: "power-limit"; of a score: "graphics", may be empty
  std::string place;            ///< where a reading was taken: "50 cm"
  std::string unit;             ///< as it is kept
  double value = kMissing;      ///< in the stored unit
  double valueHigh = kMissing;  ///< upper end of a range
  std::string text;             ///< words of a note or a void; a setting's value as typed
};

/// Reads a line. What begins with none of the words of the grammar is a note. The error says what is missing.
Result<Entry> parseEntry(std::string_view line);

/// How it will be kept: "noise 38.5 dBA at 50 cm, by hand".
std::string entryWords(const Entry& entry);

/// The event it becomes at a moment of the run (s since its first sample).
Event eventOf(const Entry& entry, double atS);

/// A way to finish the line that is being typed.
struct EntryCompletion {
  std::string line;   ///< the whole line, finished as far as it is known
  std::string words;  ///< what it means
};

/// Completions of what has been typed, the likeliest first: readings still to take, then the words of the grammar.
std::vector<EntryCompletion> completeEntry(std::string_view line, const std::vector<OwedReading>& owed);

}  // namespace ash
