// SPDX-License-Identifier: GPL-3.0-or-later
// The fit that the verdict is read from: driven by which power, from when on, over which room.
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

constexpr size_t kFewestSpans = 6;
constexpr size_t kFewestToBeginLater = 8;
constexpr double kShortestTauShare = 1.0 / 400;  // of the time seen
constexpr double kLongestTauSpans = 8;           // times the time seen
constexpr double kLongestLagShare = 0.5;         // of the time seen
constexpr double kLagAmplitudeShare = 0.15;      // of all amplitudes
constexpr double kFeltApartK = 0.02;
constexpr double kLagKnown = 0.03;    // of ln τ
constexpr double kClearlyLess = 4;    // logarithm of two explanations' odds
constexpr double kExplainsToo = 1.5;  // times the noise: then the other view of the room is in the interval
constexpr double kLessMisfit = 0.6, kMuchLessMisfit = 0.15;
constexpr size_t kFewestAfterAChange = 7;
constexpr double kMovedRoomK = 0.3, kFarFromExplained = 30;

WeightedSpans withoutFirst(const WeightedSpans& spans, double untilS) {
  const auto first = std::lower_bound(spans.fromS.begin(), spans.fromS.end(), untilS) - spans.fromS.begin();
  const auto later = [first](const std::vector<double>& all) {
    return std::vector<double>(all.begin() + first, all.end());
  };
  return {later(spans.fromS), later(spans.toS), later(spans.value), later(spans.weight)};
}

// Shorter than a part of the first span a stage only moves that one span.
double shortestTau(const WeightedSpans& spans) {
  const double seenS = spans.toS.back() - spans.fromS.front();
  const double firstS = spans.size() > 1 ? spans.fromS[1] - spans.fromS[0] : seenS;
  return std::clamp(firstS / 10, seenS * kShortestTauShare / 20, seenS * kShortestTauShare);
}

Fitted fitBest(const SettlingQuestion& question, const WeightedSpans& spans, const WarmUpReadings& readings) {
  const double seenS = spans.toS.back() - spans.fromS.front();
  const double windowFromS = question.load.endS - question.trendS;
  const auto after = std::lower_bound(spans.toS.begin(), spans.toS.end(), windowFromS);
  const size_t windowSpan = std::min(static_cast<size_t>(after - spans.toS.begin()), spans.size() - 1);
  const auto weigh = [&](const StageInput& input) {
    const StageProblem problem{spans, input, {}, shortestTau(spans), seenS * kLongestTauSpans};
    return weighStages(problem, readings, windowSpan);
  };
  const StageInput constant = StageInput::constant(spans, spans.fromS.front());
  Fitted plain{weigh(constant), constant};
  const auto driving = drivingInput(question, spans);
  if (!driving) return plain;
  Fitted driven{weigh(*driving), *driving};
  return driven.beliefs.best.rss < plain.beliefs.best.rss ? driven : plain;
}

FittedPart fitFrom(const SettlingQuestion& question, const WarmUpReadings& readings, WeightedSpans spans) {
  Fitted fitted = fitBest(question, spans, readings);
  const double misfit = fitted.beliefs.scatter / readings.noise;
  return {std::move(spans), std::move(fitted), misfit, misfit < readings.mostMisfit && !readings.areTooFew,
          misfit < readings.wellExplained};
}

WeightedSpans laterThan(const SettlingQuestion& question, const WarmUpReadings& readings, double share) {
  return withoutFirst(readings.spans, question.load.startS + share * question.load.lengthS());
}

// What happens at once when a load starts (a boost nobody logged, a part that warms within two samples) is no stage of
// the model and must not pass for noise: the earliest start is taken from which the readings are explained.
FittedPart fitFromWhereItHolds(const SettlingQuestion& question, const WarmUpReadings& readings) {
  FittedPart best = fitFrom(question, readings, readings.spans);
  for (const double share : {0.04, 0.1, 0.2, 0.35}) {
    if (best.misfit < readings.explained) break;
    WeightedSpans spans = laterThan(question, readings, share);
    if (spans.size() < kFewestToBeginLater) break;
    FittedPart later = fitFrom(question, readings, std::move(spans));
    const bool explains = later.misfit < readings.explained;
    if (later.misfit < kLessMisfit * best.misfit) best = std::move(later);
    if (explains) break;
  }
  return best;
}

// Cooling that changed under load (a fan that failed or came back) bends a curve as nothing else does: where no fit of
// the whole explains the readings, one that begins after the bend may.
struct AfterAChange {
  std::optional<FittedPart> part;    // begins behind the bend
  std::optional<FittedPart> latest;  // else the last that was tried: too little to decide, but it may be where it goes
};
AfterAChange fitAfterAChange(const SettlingQuestion& question, const WarmUpReadings& readings, double misfitOfWhole) {
  AfterAChange after;
  double before = misfitOfWhole;
  for (double share = 0.42; share < 0.9; share += 0.06) {
    WeightedSpans spans = laterThan(question, readings, share);
    if (spans.size() < kFewestAfterAChange) break;
    FittedPart later = fitFrom(question, readings, std::move(spans));
    // At a bend it is explained all at once; what is explained better and better is a curve of another kind.
    const bool isExplained = later.misfit < readings.explained;
    const bool isBend = isExplained && later.misfit < kMuchLessMisfit * before;
    before = later.misfit;
    (isBend ? after.part : after.latest) = std::move(later);
    if (isExplained) break;
  }
  return after;
}

// By which time constant it follows the room: the slowest that was really seen. A room that moves reaches the die
// through all of the metal.
double lagOf(const Fitted& fitted, double seenS) {
  const StageFit& best = fitted.beliefs.best;
  double sum = 0;
  for (const double amplitude : best.amplitudes) sum += amplitude;
  double lagS = 0;
  for (size_t k = 0; k < best.order(); ++k) {
    if (best.tausS[k] <= kLongestLagShare * seenS && best.amplitudes[k] / sum >= kLagAmplitudeShare)
      lagS = best.tausS[k];
  }
  return lagS;
}

// How far apart two views of the room are, at most, over what the fit is made of.
double apart(const RoomBelow& one, const RoomBelow& other, const WeightedSpans& spans) {
  double mostK = 0;
  for (size_t i = 0; i < spans.size(); ++i) {
    const double fromS = spans.fromS[i], toS = spans.toS[i];
    mostK = std::max(mostK, std::abs(one.during(fromS, toS) - other.during(fromS, toS)));
  }
  return mostK;
}

// How much more the readings speak for one fit than for the other, as a logarithm; of two that start apart for the one
// that explains more of them.
double speaksFor(const FitOverRoom& one, const FitOverRoom& other) {
  const auto spans = static_cast<double>(one.part.spans.size()), others = static_cast<double>(other.part.spans.size());
  return spans == others ? one.part.fitted.beliefs.logEvidence - other.part.fitted.beliefs.logEvidence : spans - others;
}

FitOverRoom fitOver(const SettlingQuestion& question, RoomBelow room) {
  return {fitFromWhereItHolds(question, warmUpReadings(question, room)), std::move(room)};
}

// Over the room as the metal feels it: the time constant by which it does comes from a fit itself.
std::optional<FitOverRoom> fitOverFeltRoom(const SettlingQuestion& question, const FitOverRoom& first) {
  const double seenS = question.load.lengthS();
  double lagS = lagOf(first.part.fitted, seenS);
  RoomBelow felt(question.room, lagS);
  if (apart(felt, first.room, first.part.spans) < kFeltApartK) return std::nullopt;
  FitOverRoom late = fitOver(question, std::move(felt));
  const double againS = lagOf(late.part.fitted, seenS);
  if (againS > 0 && std::abs(std::log(againS / lagS)) > kLagKnown) {
    FitOverRoom closer = fitOver(question, RoomBelow(question.room, againS));
    if (speaksFor(closer, late) > 0) return closer;
  }
  return late;
}

bool moves(const RoomBelow& room, const WeightedSpans& spans) {
  double lowestC = INFINITY, highestC = -INFINITY;
  for (size_t i = 0; i < spans.size(); ++i) {
    const double roomC = room.during(spans.fromS[i], spans.toS[i]);
    lowestC = std::min(lowestC, roomC);
    highestC = std::max(highestC, roomC);
  }
  return highestC - lowestC > kMovedRoomK;
}

FitOverRoom withChange(const SettlingQuestion& question, FitOverRoom fit) {
  const WarmUpReadings readings = warmUpReadings(question, fit.room);
  // A room that moves bends a curve as well.
  const double least = moves(fit.room, readings.spans) ? kFarFromExplained * readings.explained : readings.unexplained;
  if (fit.part.misfit < least) return fit;
  AfterAChange after = fitAfterAChange(question, readings, fit.part.misfit);
  // A coarse sensor does not change often enough behind a bend: there the means of its readings tell more.
  if (!after.part && readings.areCrossings) {
    const WarmUpReadings means = meanReadings(question, fit.room);
    after = fitAfterAChange(question, means, fitFrom(question, means, means.spans).misfit);
  }
  if (after.part) return {std::move(*after.part), std::move(fit.room)};
  if (after.latest) {
    fit.lowK = std::min(fit.lowK, quantileOf(after.latest->fitted.beliefs, 0, 0.025));
    fit.highK = std::max(fit.highK, quantileOf(after.latest->fitted.beliefs, 0, 0.975));
  }
  return fit;
}

}  // namespace

std::optional<FitOverRoom> fitOverTheRoom(const SettlingQuestion& question) {
  RoomBelow room(question.room);
  const WarmUpReadings readings = warmUpReadings(question, room);
  if (readings.spans.size() < kFewestSpans) return std::nullopt;
  FitOverRoom first{fitFromWhereItHolds(question, readings), std::move(room)};
  auto late = question.room.empty() ? std::nullopt : fitOverFeltRoom(question, first);
  if (!late) return withChange(question, std::move(first));
  // Metal feels a room late; only what clearly speaks for the room as it is logged (a sensor in the air) is believed.
  const double forLate = speaksFor(*late, first);
  const bool isLate = forLate > -kClearlyLess;
  FitOverRoom& better = isLate ? *late : first;
  const FittedPart& other = (isLate ? first : *late).part;
  if (std::abs(forLate) < kClearlyLess || other.misfit < kExplainsToo) {
    better.lowK = quantileOf(other.fitted.beliefs, 0, 0.025);
    better.highK = quantileOf(other.fitted.beliefs, 0, 0.975);
  }
  return withChange(question, std::move(better));
}

}  // namespace ash
