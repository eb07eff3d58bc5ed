// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/supply_words.h"

#include "readings/kernel/found.h"

namespace ash {

SupplyType supplyTypeOf(const std::filesystem::path& folder) {
  return SupplyType::fromText(readWords(folder / "type"));
}
bool isOfPeripheral(const std::filesystem::path& folder) { return readWords(folder / "scope") == "Device"; }
bool isMissing(const std::filesystem::path& folder) { return readWords(folder / "present") == "0"; }
bool isDischarging(const std::filesystem::path& folder) { return readWords(folder / "status") == "Discharging"; }

}  // namespace ash
