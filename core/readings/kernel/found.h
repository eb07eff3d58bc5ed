// SPDX-License-Identifier: GPL-3.0-or-later
// What the finders of this folder have in common: what they give back, and how small kernel files are looked at once.
#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "readings/gauges/gauge_source.h"

namespace ash {

/// What one look at a device or an interface has brought.
struct Found {
  std::vector<std::unique_ptr<GaugeSource>> sources;
  std::vector<SkippedReading> skipped;
};

/// One look that may take long or never come back: a device whose files block. Nothing it captures may be changed by
/// others meanwhile.
struct Finder {
  std::string what;  ///< path below the root, for the sentence when it does not come back
  std::function<Found()> find;
};

/// Folder entries whose name begins with `prefix` and goes on with a number ("policy0", "cpu12"), by that number.
std::vector<std::pair<int, std::filesystem::path>> numberedEntries(const std::filesystem::path& folder,
                                                                   const std::string& prefix);

/// The integer in a file, empty when there is none.
std::optional<int64_t> readNumber(const std::filesystem::path& file);
/// A text for a person: no control characters, blanks trimmed; empty when it is missing, empty or no UTF-8.
std::string readWords(const std::filesystem::path& file);

/// "0-3,8" or "0 1 2" as numbers; both kinds of list occur.
std::vector<int> parseCpuList(const std::string& text);

/// A reading with quantity, unit and kind set.
Reading makeReading(Quantity quantity, std::string kind, std::string name);
/// The same with a unit that no quantity has ("Wh", "lanes", "bool").
Reading makeReading(const char* unit, std::string kind, std::string name);

/// Sets path and id from a file, the id with the numbers blanked that change from boot to boot; `part` names a part of
/// the file ("#rate", "#cpu3").
void setPath(const std::string& root, const std::filesystem::path& file, const std::string& part, Reading& reading);

/// The identity of a path: hwmonN, cardN, nvmeN… are handed out in the order of probing, so their number is blanked.
std::string stableId(const std::string& path);

/// Where a device stands, as one key for all its readings.
std::string deviceKeyOf(const std::string& root, const std::filesystem::path& folder);

/// Power above this is no power of a machine on a desk (W).
inline constexpr double kMostPowerW = 20000;

}  // namespace ash
