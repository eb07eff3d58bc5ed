// SPDX-License-Identifier: GPL-3.0-or-later
// Setups compared at equal noise, power or fan speed: each walked up a ladder of settings, the figures read off between
// its rungs, never beyond them.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "analysis/comparison/pooling.h"

namespace ash {

/// "noise", "noise=38.5", "power=100", "fan", "none".
Result<EqualBy> parseEqualBy(const std::string& text);

/// A monotone curve through measured points (F. N. Fritsch and R. E. Carlson, SIAM J. Numer. Anal. 17, 1980): it never
/// overshoots them. `x` strictly rising. Missing outside [x.front(), x.back()].
class MonotoneCurve {
 public:
  MonotoneCurve(std::vector<double> x, std::vector<double> y);
  double at(double x) const;

 private:
  std::vector<double> m_x, m_y, m_slope;
};

/// One rung: what it is levelled by, and one figure, over its repeats.
struct Rung {
  double x = kMissing, y = kMissing;
  double varianceX = 0, varianceY = 0;  ///< of the means
  double degrees = INFINITY;
};

/// A figure read off a ladder. Missing, with the reason, where the ladder does not reach.
struct ReadOff {
  double value = kMissing, variance = 0, degrees = INFINITY;
  std::string reason;
};

/// The figure at `x`; uncertainties of both of a rung's means are carried through the curve (JCGM 100:2008, 5.1.2), and
/// what the curve may do between the rungs is added (curve_shape.h).
ReadOff readOff(std::vector<Rung> rungs, double x, const std::string& what, const std::string& unit);

/// The value of a setting at which a figure is met, e.g. the power limit that gives 100 W; where none meets it the
/// reason says how far the ladder goes: "its floor is 137 W".
ReadOff settingThatMeets(std::vector<Rung> rungs, double wanted, const std::string& unit);

/// The pools as ladders: setups that differ in the setting alone belong together, by their conditions and the words of
/// their names before the number.
struct PoolLadder {
  std::string name, load;
  std::vector<Pool> rungs;
};
std::vector<PoolLadder> laddersOf(const std::vector<Pool>& pools);

/// What the pool is levelled by: the noise, the device's power or the wall's, a fan. None where not every run has one.
std::optional<Figure> levelMetric(const std::vector<PoolLadder>& ladders, const MetricMaps& maps, EqualBy::What what);

/// Energy (kWh) and cost of a year at a power for so many hours a day.
struct YearlyUse {
  double kiloWattHours = kMissing, cost = kMissing;
};
YearlyUse yearlyUse(double watts, double hoursADay, double tariffPerKiloWattHour);

}  // namespace ash
