// SPDX-License-Identifier: GPL-3.0-or-later
// A package as one zip file, and back. A zip file from elsewhere is hostile until it lies unpacked and checked.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// Everything below a folder into a new zip file: whole or not at all. Entries are dated `dated` (ISO 8601, as it is
/// written, in no time zone), or as their files where it is empty or no date.
Status zipFolder(const std::string& folder, const std::string& file, const std::string& dated = {});

/// True for a zip file, by its first bytes.
bool isZip(const std::string& path);

/// Unpacks into a folder that is made. Plain files only, whatever their entries say they are; names that lead out, two
/// of one name, more than 100,000 entries or 8 GiB, or 1,000 times the file's own size are refused.
Status unzipInto(const std::string& file, const std::string& folder);

}  // namespace ash
