// SPDX-License-Identifier: GPL-3.0-or-later
// Round numbers along an axis.
#pragma once

#include <vector>

namespace ash {

/// Round numbers from `low` to `high`, about `count` of them.
std::vector<double> niceTicks(double low, double high, int count);

/// The same of minutes, where a quarter of an hour and its like are round; values in minutes.
std::vector<double> minuteTicks(double low, double high, int count);

/// Tenths, tens, hundreds … with their doubles and fives between, for an axis of octaves.
std::vector<double> logTicks(double low, double high);

/// Decimals that keep neighbouring ticks apart.
int digitsOfTicks(const std::vector<double>& ticks);

}  // namespace ash
