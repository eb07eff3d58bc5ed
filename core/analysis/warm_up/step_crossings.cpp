// SPDX-License-Identifier: GPL-3.0-or-later
// What a sensor tells that shows only its steps: not what it shows, but when it changes.
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

constexpr double kCoarseK = 0.2;
constexpr size_t kFewestCrossings = 5;
constexpr double kMostWavering = 0.5;    // of the time: above it there is noise enough for means
constexpr double kFloorShare = 0.1;      // of a step: steps are not all alike
constexpr double kStillWaversShare = 2;  // of the mean pause of its changes, since the last of them
constexpr size_t kManyChanges = 6;
constexpr double kWaveringSteps = 0.2;  // how far from the boundary it may be meanwhile
constexpr double kExplained = 2.5, kMostMisfit = 4;
constexpr double kUnexplained = 3.75;
constexpr double kMostMisfitK = 0.1;                    // of a sensor of small steps, whose noise counts
constexpr double kSoonIntervals = 8, kSoonShare = 0.1;  // of the time since the readings begin
constexpr size_t kManyCrossings = 12;
constexpr double kHeldGaps = 2;
constexpr size_t kSpansOfTwo = 8, kSpansOfThree = 24;
constexpr size_t kPaceReach = 2;

/// Changes there and back over one boundary between two values, until one goes on.
struct Wavering {
  double firstS = 0, lastS = 0;  // of its changes, each half way between two readings
  double backS = 0;              // of the time between them on the side it came from
  double before = 0, after = 0;  // shown
  double there = 0;              // after its first change
  double boundary = 0;           // half way between the two values of its first change
  double intervalS = 0;          // between the readings of a change
  size_t changes = 0;
  double crossedS() const { return firstS + backS; }
  double lengthS() const { return lastS - firstS; }
};

// Whether a change back belongs to it: over the same boundary, and soon for the time there has been. Later it has
// turned.
bool isStill(const Wavering& last, double value, double atS, double startS, double intervalS) {
  const double soonS = std::max(kSoonIntervals * intervalS, kSoonShare * (atS - startS));
  const bool isSame = value == (last.changes % 2 == 1 ? last.before : last.there);
  return isSame && atS - last.lastS <= soonS;
}

std::vector<Wavering> waveringsOf(const SeriesView& part) {
  std::vector<Wavering> all;
  double lastChange = 0;
  for (size_t i = 1; i < part.size(); ++i) {
    const double change = part.v[i] - part.v[i - 1];
    if (change == 0) continue;
    const double atS = (part.t[i] + part.t[i - 1]) / 2, intervalS = part.t[i] - part.t[i - 1];
    if (change * lastChange < 0 && isStill(all.back(), part.v[i], atS, part.t[0], intervalS)) {
      Wavering& last = all.back();
      if (last.changes % 2 == 0) last.backS += atS - last.lastS;
      last.lastS = atS;
      last.after = part.v[i];
      last.intervalS = std::max(last.intervalS, intervalS);
      ++last.changes;
    } else {
      all.push_back({atS, atS, 0, part.v[i - 1], part.v[i], part.v[i], (part.v[i - 1] + part.v[i]) / 2, intervalS, 1});
    }
    lastChange = change;
  }
  return all;
}

/// A boundary crossed for good.
struct Crossing {
  double atS = 0, value = 0, jump = 0, lengthS = 0, intervalS = 0;
  size_t changes = 0;
};

std::vector<Crossing> crossingsOf(const std::vector<Wavering>& waverings) {
  std::vector<Crossing> all;
  for (const Wavering& one : waverings) {
    if (one.before == one.after) continue;  // it came near and turned
    all.push_back({one.crossedS(), (one.before + one.after) / 2, std::abs(one.after - one.before), one.lengthS(),
                   one.intervalS, one.changes});
  }
  return all;
}

// How fast it moved about there (K/s), by the crossings before and after: the fastest, for power may have jumped
// between.
double paceAt(const std::vector<Crossing>& crossings, size_t i) {
  double fastest = 0;
  const size_t last = std::min(i + kPaceReach, crossings.size() - 1);
  for (size_t k = i > kPaceReach ? i - kPaceReach : 0; k < last; ++k) {
    const double lengthS = std::max(crossings[k + 1].atS - crossings[k].atS, crossings[k].intervalS);
    fastest = std::max(fastest, std::abs(crossings[k + 1].value - crossings[k].value) / lengthS);
  }
  return fastest;
}

// When it crossed is known to within the readings around it and to a part of the time it wavered.
double varianceOf(const std::vector<Crossing>& crossings, size_t i, double stepK) {
  const Crossing& crossing = crossings[i];
  const double pace = paceAt(crossings, i);
  const double floor = kFloorShare * stepK, beyond = std::max(0.0, crossing.jump - stepK);
  const double late = pace * crossing.intervalS;
  const double wavered = pace * crossing.lengthS;
  const size_t rounds = (crossing.changes + 1) / 2;
  return floor * floor + (beyond * beyond + late * late) / 12 + wavered * wavered / (12 * static_cast<double>(rounds));
}

bool isNoisy(const std::vector<Wavering>& waverings, const std::vector<Crossing>& crossings) {
  double wavering = 0;
  for (const Wavering& one : waverings) wavering += one.firstS < crossings.back().atS ? one.lengthS() : 0;
  return wavering > kMostWavering * (crossings.back().atS - crossings.front().atS);
}

// Whether it goes on wavering when the readings end.
bool isWaveringAt(const Wavering& last, double endS) {
  if (last.changes < kManyChanges) return false;
  const double pauseS = last.lengthS() / static_cast<double>(last.changes - 1);
  return endS - last.lastS < kStillWaversShare * pauseS;
}

// At the end it wavers about a boundary, or shows one value, which is known to within its step.
void addEnd(WarmUpReadings& readings, const SeriesView& part, const Wavering& last, double stepK,
            const RoomBelow& room) {
  const double endS = part.t.back();
  const bool isWavering = isWaveringAt(last, endS);
  const double fromS = ((isWavering ? last.firstS : last.lastS) + endS) / 2;
  if (!(endS > fromS)) return;
  const double sd = isWavering ? kWaveringSteps * stepK : stepK / std::sqrt(12);
  const double value = isWavering ? last.boundary : part.v.back();
  readings.spans.add(fromS, endS, value - room.during(fromS, endS), 1 / (sd * sd));
}

// An exponential that has more than a step to go crosses the next boundary before it has waited twice as long as for
// the last one; with few crossings nothing else tells how far it goes.
bool areTooFew(const std::vector<Crossing>& crossings, double endS) {
  if (crossings.size() >= kManyCrossings) return false;
  const double lastS = crossings.back().atS, gapS = lastS - crossings[crossings.size() - 2].atS;
  return endS - lastS < kHeldGaps * gapS;
}

}  // namespace

std::optional<WarmUpReadings> stepCrossings(const SeriesView& part, double stepK, const RoomBelow& room) {
  if (stepK < kCoarseK) return std::nullopt;
  const std::vector<Wavering> waverings = waveringsOf(part);
  const std::vector<Crossing> crossings = crossingsOf(waverings);
  if (crossings.size() < kFewestCrossings || isNoisy(waverings, crossings)) return std::nullopt;
  WarmUpReadings readings;
  const double wavesFromS = isWaveringAt(waverings.back(), part.t.back()) ? waverings.back().firstS : INFINITY;
  for (size_t i = 0; i < crossings.size(); ++i) {
    const Crossing& one = crossings[i];
    if (one.atS >= wavesFromS) break;
    readings.spans.add(one.atS, one.atS, one.value - room.during(one.atS, one.atS),
                       1 / varianceOf(crossings, i, stepK));
  }
  addEnd(readings, part, waverings.back(), stepK, room);
  readings.leastVariance = readings.noise = 1;
  const auto inFloors = [stepK](double kelvin) {
    return kelvin * kelvin / (kFloorShare * stepK * kFloorShare * stepK);
  };
  readings.explained = kExplained;
  readings.unexplained = kUnexplained;
  readings.wellExplained = kMostMisfit;
  readings.mostMisfit = std::max(kMostMisfit, inFloors(kMostMisfitK));
  readings.areCrossings = true;
  readings.areTooFew = areTooFew(crossings, part.t.back());
  readings.spansOfTwo = kSpansOfTwo;
  readings.spansOfThree = kSpansOfThree;
  return readings;
}

}  // namespace ash
