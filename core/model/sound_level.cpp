// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/sound_level.h"

#include <fmt/format.h>

#include <cmath>

#include "model/reading.h"
#include "model/text.h"

namespace ash {

double soundSumDba(const std::vector<double>& levelsDba) {
  if (levelsDba.empty()) return kMissing;
  double power = 0;
  for (const double level : levelsDba) power += std::pow(10, level / 10);
  return 10 * std::log10(power);
}

double soundAtDistanceDba(double levelDba, double measuredAtM, double wantedAtM) {
  if (!(measuredAtM > 0) || !(wantedAtM > 0)) return kMissing;
  return levelDba - 20 * std::log10(wantedAtM / measuredAtM);
}

double soundEstimateSeDb(double measuredAtM, double wantedAtM) {
  constexpr double kShare = 0.25;
  return kShare * std::abs(soundAtDistanceDba(0, measuredAtM, wantedAtM));
}

std::optional<double> distanceM(const std::string& place) {
  for (const auto& [unit, metres] : {std::pair{"cm", 0.01}, std::pair{"mm", 0.001}, std::pair{"m", 1.0}}) {
    if (!place.ends_with(unit)) continue;
    const std::string_view number(place.data(), place.size() - std::string_view(unit).size());
    const auto value = parseNumber(std::string(trimmed(number)));
    if (value && *value > 0) return *value * metres;
  }
  return std::nullopt;
}

std::string distanceText(double metres) {
  return metres < 1 ? fmt::format("{:g} cm", std::round(metres * 1000) / 10) : fmt::format("{:g} m", metres);
}

}  // namespace ash
