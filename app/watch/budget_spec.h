// SPDX-License-Identifier: GPL-3.0-or-later
// What a live reading's budget column shows.
#pragma once

#include <string>

#include "app/look/budget_column.h"

namespace ash {

class LiveModel;

/// What columns stand on: the room where it is known, else 20 °C so that they still mean something.
double budgetFootC(const LiveModel& model);

/// The column of a temperature, in the colour of the run's setup; that of the watched one is full.
look::ColumnSpec budgetSpec(const LiveModel& model, const std::string& column);

}  // namespace ash
