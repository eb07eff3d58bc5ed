// SPDX-License-Identifier: GPL-3.0-or-later
// The PCI Express links of graphics cards, drives and network chips: a slot with too few lanes spoils a comparison.
// Documentation/ABI/testing/sysfs-bus-pci.
#pragma once

#include <string>
#include <vector>

#include "readings/kernel/found.h"

namespace ash {

std::vector<Finder> pciLinkFinders(const std::string& root);

/// "16.0 GT/s PCIe" in GT/s; NaN for anything else ("Unknown").
double parseLinkSpeed(const std::string& text);

/// "slot 0c:00.0" for a folder below a PCI device, empty for any other.
std::string pciPlace(const std::string& path);

}  // namespace ash
