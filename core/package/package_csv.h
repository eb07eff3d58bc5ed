// SPDX-License-Identifier: GPL-3.0-or-later
// CSV by RFC 4180, to the letter: what is written reads back the same.
#pragma once

#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"

namespace ash {

/// A cell, in quotes where it needs them.
std::string csvCell(std::string_view text);
/// A number in the shortest form that reads back the same; empty for a missing one.
std::string csvNumber(double value);

/// Hands each record to `take`, the header first; its error ends the reading. The error says where a quote is out of
/// place or a record has another width.
Status eachCsvRecord(std::string_view text, const std::string& where,
                     const std::function<Status(const std::vector<std::string>& record, size_t number)>& take);

/// Records of cells, the header among them. Errors as eachCsvRecord().
Result<std::vector<std::vector<std::string>>> parseStrictCsv(std::string_view text, const std::string& where);

/// Whose a file of a package is, in run.json.
inline constexpr char kOfRun[] = "run", kOfSetup[] = "setup";

}  // namespace ash
