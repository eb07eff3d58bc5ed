// SPDX-License-Identifier: GPL-3.0-or-later
// A foreign log into a book, as a run: whole or not at all.
#pragma once

#include <string>

#include "intake/foreign_log.h"

namespace ash {

/// Where a run is to stand; empty names are filled in: study "Taken in", setup as the file is called, load "not told".
struct ImportPlace {
  std::string book, study = {}, setup = {}, load = {};
  std::vector<Event> typed = {};  ///< readings by hand and notes that belong to it: its room, what changed
};

struct TakenIn {
  LogFacts facts;
  std::string run;
};

/// Reads the log and keeps it. A book that is not there is made, and is gone again when nothing was kept.
Result<TakenIn> takeIn(const std::string& path, const ImportWishes& wishes, const ImportPlace& place,
                       const ImportProgress& progress = {});

/// What this person has said of columns in imports before, by the header's name. Nothing where nothing can be read.
SaidOfColumns rememberedColumns();
/// Adds to it; a file that cannot be written is no error of the import.
void rememberColumns(const SaidOfColumns& said);
/// Nothing is remembered from now on.
Status forgetColumns();

}  // namespace ash
