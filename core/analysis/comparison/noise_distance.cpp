// SPDX-License-Identifier: GPL-3.0-or-later
// Noise that was taken at another distance than the reference's: brought there by calculation, and marked as an
// estimate.
#include <fmt/format.h>

#include <cmath>

#include "analysis/comparison/compare_rows.h"
#include "model/sound_level.h"

namespace ash {
namespace {

// Where the noise of a run was taken (m): as typed with it, as stated for its meter, else as the setup says. Empty
// when it is not told, or told in two ways.
std::optional<double> noiseDistanceM(const RunFacts& facts) {
  std::optional<double> distance;
  for (const Event& event : facts.events) {
    if (event.kind != EventKind::Reading || event.role != roles::kNoise) continue;
    const auto here = distanceM(valueIn(event.extra, "place", ""));
    if (!here || (distance && std::abs(*distance - *here) > 1e-6)) return std::nullopt;
    distance = here;
  }
  if (distance) return distance;
  if (const auto place = facts.places.find(roles::kNoise); place != facts.places.end()) return distanceM(place->second);
  const auto centimetres = facts.conditionNumber("noise_distance_cm");
  return centimetres && *centimetres > 0 ? std::optional(*centimetres / 100) : std::nullopt;
}

}  // namespace

void bringNoiseTogether(const std::vector<Pool>& pools, const Pool& reference, MetricMaps& maps,
                        Comparison& comparison) {
  const auto wanted = noiseDistanceM(reference.first().run.facts);
  if (!wanted) return;
  for (const Pool& pool : pools) {
    bool isTold = false;
    for (const AnalyzedRun* run : pool.runs) {
      const auto here = noiseDistanceM(run->run.facts);
      if (!here || std::abs(*here - *wanted) < 1e-6) continue;
      for (const FigureId noise : {FigureId::Noise, FigureId::IdleNoise}) {
        const auto found = maps[run].find(noise);
        if (found == maps[run].end()) continue;
        found->second.value = soundAtDistanceDba(found->second.value, *here, *wanted);
        found->second.se = std::hypot(found->second.se, soundEstimateSeDb(*here, *wanted));
        found->second.isEstimate = true;
        if (std::exchange(isTold, true)) continue;
        comparison.checks.push_back(
            {Severity::Warn,
             {reference.first().run.name, run->run.name},
             CheckKind::NoiseDistance,
             fmt::format("The noise of {} was taken at {}, that of {} at {}: it is brought there by calculation and is "
                         "an estimate; measure both at one distance.",
                         pool.setup, distanceText(*here), reference.setup, distanceText(*wanted))});
      }
    }
  }
}

}  // namespace ash
