// SPDX-License-Identifier: GPL-3.0-or-later
// Sound pressure levels: added, and brought to another distance.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace ash {

/// Levels of independent sources together: 10·log10 Σ 10^(L/10) (ISO 3744:2010, 3.2 and 8.2). Missing for none.
double soundSumDba(const std::vector<double>& levelsDba);

/// A level at another distance from a small source over a reflecting floor: 20·log10 of the ratio less. An estimate: a
/// room throws sound back. Missing where a distance is not above zero.
double soundAtDistanceDba(double levelDba, double measuredAtM, double wantedAtM);

/// Standard uncertainty of that estimate (dB): in a room the level falls by something between the free field's
/// 6 dB a doubling and nothing; a quarter of the correction covers ordinary rooms. A choice of ours, no standard's.
double soundEstimateSeDb(double measuredAtM, double wantedAtM);

/// "50 cm", "1 m", "500mm" in metres; empty when it is no distance.
std::optional<double> distanceM(const std::string& place);
/// "50 cm", "1.5 m".
std::string distanceText(double metres);

}  // namespace ash
