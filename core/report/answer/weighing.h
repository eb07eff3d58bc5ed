// SPDX-License-Identifier: GPL-3.0-or-later
// Which setup is right for a person who says what noise and money are worth to them in kelvin.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/study/study_report.h"

namespace ash {

/// What a person would give up in warmth. An exchange rate, unlike a share of a spread, does not turn the order of two
/// setups round when a third one joins.
struct Worth {
  double kelvinPerDecibel = 0;
  double kelvinPerMoney = 0;  ///< of the study's currency
};

/// A setup with all that it costs in kelvin: its temperature, and at what they are worth its noise over that of the
/// quietest and its price over that of the cheapest. A temperature that is none over room counts over the coolest.
struct WeighedSetup {
  std::string setup;
  int setupIndex = 0;
  double temperatureK = 0, noiseK = 0, priceK = 0;
  double halfK = kMissing;  ///< 95 %, of all; a price is exact
  bool isAtLeast = false;   ///< its temperature is a bound: a device at its limit, or not settled
  double totalK() const { return temperatureK + noiseK + priceK; }
};

/// Where another setup comes first, when one worth is changed alone.
struct OrderTurn {
  double at = 0;  ///< of that worth
  std::string first;
};

struct Weighing {
  Figure temperature = FigureId::Other;
  std::vector<WeighedSetup> order;   ///< the least first
  std::vector<std::string> leftOut;  ///< that lack a figure which is worth something
  std::vector<std::string> level;    ///< whom the first is not shown to be ahead of
  std::vector<OrderTurn> byNoise, byPrice;
};

/// Weighs the setups of a load by the temperature that the study ranks by, else by the processor's, over room where
/// that is known. A worth below zero counts as zero.
Weighing weigh(const StudyReport& report, const LoadStanding& load, const Worth& worth);

/// Who has the least `fixed` + worth · `slope` as the worth grows from zero to `most`, by index: the lower envelope of
/// straight lines. The first turn is at zero. Pure.
struct WorthLine {
  double fixed = 0, slope = 0;
};
std::vector<std::pair<double, size_t>> leastAlong(const std::vector<WorthLine>& lines, double most);

inline constexpr double kMostKelvinPerDecibel = 10, kMostKelvinPerMoney = 2;

}  // namespace ash
