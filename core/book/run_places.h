// SPDX-License-Identifier: GPL-3.0-or-later
// Runs that are named from outside a study: by id, by study and setup, in this book or in another.
#pragma once

#include <string>
#include <vector>

#include "book/book.h"

namespace ash {

/// "OTHER.ashbook#WHAT" taken apart; `book` is empty where only WHAT stands.
struct RunPlace {
  std::string book, what;
};
RunPlace splitRunPlace(const std::string& text);

/// The runs that "ID" or "STUDY/SETUP" names: one, or all of the setup that have ended and are not void. The error says
/// what there is.
Result<std::vector<RunSummary>> runsNamed(const Book& book, const std::string& what);

/// The setup that "STUDY / SETUP" names, with or without blanks around the stroke. The error says which there are.
struct SetupPlace {
  Study study;
  Setup setup;
};
Result<SetupPlace> setupNamed(const Book& book, const std::string& what);

/// The path of a book that may have been moved: as it was said, beside `beside` (a book) under its old name, or the
/// book of that folder that holds the run, among the first 200. The error says where was looked.
Result<std::string> findMovedBook(const std::string& said, const std::string& run, const std::string& beside);

}  // namespace ash
