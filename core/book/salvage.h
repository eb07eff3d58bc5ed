// SPDX-License-Identifier: GPL-3.0-or-later
// A damaged book: what can still be read of it goes into a new one.
#pragma once

#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

struct SalvageReport {
  std::string path;  ///< of the new book
  long long studies = 0, setups = 0, loads = 0, runs = 0, events = 0, blocks = 0, sweeps = 0;
  std::vector<std::string> losses;  ///< what is not in it, one sentence each
};

/// Reads the damaged file page by page, so that a page that cannot be read takes with it only what stands in it. The
/// file itself is not touched. `to` must not be there yet; when nothing of a book is found it is not made.
Result<SalvageReport> salvageBook(const std::string& damaged, const std::string& to);

/// A name beside the book that is not there yet: "bench-saved.ashbook", "bench-saved-2.ashbook".
std::string salvagePath(const std::string& book);

}  // namespace ash
