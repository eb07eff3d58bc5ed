// SPDX-License-Identifier: GPL-3.0-or-later
// A load as a person writes it in one line.
#pragma once

#include <string>

#include "load/load_options.h"

namespace ash {

/// "vector", "vector threads=6 duty=50 + graphics size=640x360": kinds with options, those at the same time joined by
/// +. Keys are those of a book's spec (docs/loads.md); a value with blanks stands in quotes; score.NAME and live.NAME
/// take a pattern, env.NAME a value. The error names the word that is not understood.
Result<LoadOptions> parseLoadText(const std::string& text);

/// A load as such a line: what is not as usual. What parseLoadText() makes of it is the load again.
std::string loadText(const LoadOptions& load);

/// Kinds that can be chosen by their name alone; a command needs its line.
std::vector<std::string> kindsToChoose();

/// "Cores and graphics = vector + graphics": the name of a load and what it is; without "=" the line names itself.
struct NamedLoad {
  std::string name;
  LoadOptions load;
};
Result<NamedLoad> parseNamedLoad(const std::string& text);

/// Several of them, parted by semicolons; one inside quotes belongs to its load.
Result<std::vector<NamedLoad>> parseNamedLoads(const std::string& text);

}  // namespace ash
