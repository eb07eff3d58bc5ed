// SPDX-License-Identifier: GPL-3.0-or-later
// A reading in words: what it is, and which part of the way of the heat it belongs to.
#pragma once

#include <string>
#include <vector>

#include "model/reading.h"

namespace ash {

/// What a reading means, for a person: what was computed, else its role's words, else the device's own label.
std::string meaningWords(const Reading& reading);

/// The stations of the heat on its way out of the machine, in that order.
enum class HeatPlace { Processor, Graphics, PowerDelivery, MemoryAndDrives, AirAndFans, WallAndRoom, Other };
HeatPlace heatPlaceOf(const Reading& reading);
std::string heatPlaceWords(HeatPlace place);

}  // namespace ash
