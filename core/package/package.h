// SPDX-License-Identifier: GPL-3.0-or-later
// Runs as a data package that a stranger can use without us (Frictionless Data Package 1.0 with table schemas), and
// back. Form in docs/export.md.
#pragma once

#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

/// The title of a package for which none is wished.
inline constexpr char kPlainTitle[] = "Runs recorded with Ash Gauge";

struct PackageWishes {
  std::vector<std::string> runs;
  std::string title, license;  ///< license: a name such as "CC-BY-4.0"; empty = that with which its runs came, if any
  /// When it was made (ISO 8601), for one that is to have the same bytes whenever it is written: its entries are dated
  /// so, too. Empty = now.
  std::string created = {};
};

/// Writes into a folder that is made, or into a zip file where the name ends with .zip: whole, or not at all. Refused:
/// a folder that holds something, a file that is there, a run that goes on.
Status writePackage(const std::string& bookPath, const PackageWishes& wishes, const std::string& folder);

/// True for a folder with a package in it, and for a zip file.
bool isPackage(const std::string& path);

/// Takes every run of a package in; their ids. Keys that this program does not know, title and licence of the package
/// stay with its runs and go out with them again. Refused whole: a file that is not as long or not what was said, that
/// lies outside or is a link, two of one name, a run that the book has.
Result<std::vector<std::string>> readPackage(const std::string& from, const std::string& bookPath);

}  // namespace ash
