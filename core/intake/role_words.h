// SPDX-License-Identifier: GPL-3.0-or-later
// What a column's name says in the trade's own words: the table of docs/import.md.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "model/role.h"

namespace ash {

/// A name taken apart: small letters, words apart, numbers of their own ("CPU Core #3" is cpu, core, 3), and words that
/// are written together apart ("Gehäuselüfter" is gehäuse, lüfter).
std::vector<std::string> wordsOfName(std::string_view name);

/// A quantity that a name says by itself ("temperature", "Takt"), for columns without a unit; Other when it does not.
Quantity quantityOfName(const std::vector<std::string>& words);

/// The role of a name whose quantity is known; empty where it leaves a doubt.
Role roleByWords(const std::vector<std::string>& words, Quantity quantity);

/// The table as docs/import.md prints it, a line of Markdown a row.
std::string roleWordsTable();

}  // namespace ash
