// SPDX-License-Identifier: GPL-3.0-or-later
// What can be said of a load, declared once beside the kind that it is for: JSON, line, options of `ashg load` and
// their help all come from here.
#pragma once

#include <map>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "load/load_options.h"
#include "model/json_cursor.h"

namespace ash {

/// A field with a grammar of its own, written as a text: "0-3,6".
struct LoadTextForm {
  Status (*read)(const std::string& text, LoadOptions& options);
  std::string (*write)(const LoadOptions& options);  ///< empty when it is as usual
};

/// A line for the shell; in JSON also a list of words.
struct LoadCommandLine {
  std::string LoadOptions::*line;
};

/// Texts by names of the reviewer's own. On a line each is written with `prefix`: "score.fps=…".
struct LoadNamedTexts {
  std::map<std::string, std::string> LoadOptions::*texts;
  std::string_view prefix;
};

struct LoadField {
  std::string_view key;     ///< in JSON and on a line: "queue_depth"
  std::string_view option;  ///< of `ashg load`: "--queue"
  std::string_view help;    ///< what it is, with its unit
  std::variant<double LoadOptions::*, int LoadOptions::*, std::string LoadOptions::*, LoadTextForm, LoadCommandLine,
               LoadNamedTexts>
      place;
  JsonRange range = {};
  std::string_view refusal = {};  ///< the sentence for a number out of its range
  bool isAlwaysWritten = false;   ///< in JSON, even when it is as usual

  bool isNamed() const { return std::holds_alternative<LoadNamedTexts>(place); }
  bool isNumber() const { return place.index() < 2; }
};

/// All fields, in the order in which they are written: those of every kind, then each kind's own.
const std::vector<LoadField>& loadFields();

/// Sets a field from a text as a person types it. A named one takes NAME=TEXT. The error says what it takes.
Status takeFieldText(const LoadField& field, const std::string& text, LoadOptions& options);

/// Every number within its range; the error is the field's own sentence.
Status checkRanges(const LoadOptions& options);

/// The fields of a spec into a load; mistakes are noted with their path.
void readFields(const JsonCursor& spec, LoadOptions& options);
/// The other way round.
void writeFields(const LoadOptions& options, Json& spec);

/// How the field stands when nothing is said of it: "2"; empty for none.
std::string usualText(const LoadField& field);

}  // namespace ash
