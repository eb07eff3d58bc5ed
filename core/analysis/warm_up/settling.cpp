// SPDX-License-Identifier: GPL-3.0-or-later
// The verdict: settled or not, from what the readings allow (warm_up_evidence.cpp) and the trend at the end.
#include "analysis/warm_up/settling.h"

#include <algorithm>
#include <cmath>

#include "analysis/series/statistics.h"
#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

constexpr double kTrendShare = 0.2;
constexpr double kTrendLeastS = 30;
constexpr size_t kFewestReadings = 8;
constexpr double kLongestLoadS = 1e8;  // three years: what is longer is a clock gone wrong

/// The room when the load ends, by the straight line of its last minutes, with the standard error.
struct RoomAtEnd {
  double celsius = 0, se = 0;
};

RoomAtEnd roomAtEnd(const SettlingQuestion& question, double endS) {
  if (question.room.empty()) return {};
  const SeriesView last = viewOf(question.room, {endS - 150, std::nextafter(endS, INFINITY)});
  if (last.size() < 6) return {interpolate(question.room, endS), 0};
  const Line line = lineThrough(last);
  const double step = estimateStep(question.room.v);
  // Twice the error of the mean: a line at its end.
  return {line.at(endS), std::sqrt(4 * line.rss / static_cast<double>(last.size() * last.size()) + step * step / 12)};
}

WarmUpFit describe(const Fitted& fitted, const WeightedSpans& spans) {
  WarmUpFit fit;
  const StageFit& best = fitted.beliefs.best;
  fit.isValid = !fitted.beliefs.outlooks.empty() && best.order() > 0;
  if (!fit.isValid) return fit;
  fit.startS = spans.fromS.front();
  fit.endS = spans.toS.back();
  fit.finalK = quantileOf(fitted.beliefs, 0, 0.5);
  fit.finalLowK = quantileOf(fitted.beliefs, 0, 0.025);
  fit.finalHighK = quantileOf(fitted.beliefs, 0, 0.975);
  fit.timeConstantsS = best.tausS;
  fit.amplitudesK = best.amplitudes;
  Eigen::VectorXd left = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(spans.size()));
  for (size_t k = 0; k < best.order(); ++k) {
    Eigen::VectorXd ends;
    fitted.input.means(best.tausS[k], &ends);
    left -= best.amplitudes[k] * ends;
    fit.remainingKAtEnd.push_back(-best.amplitudes[k] * ends[ends.size() - 1]);
  }
  fit.remaining = {spans.toS, {left.data(), left.data() + left.size()}};
  return fit;
}

// The first moment from which by the fit less than `withinK` is left.
double settledSince(const WarmUpFit& fit, double withinK) {
  size_t i = fit.remaining.size();
  while (i > 0 && std::abs(fit.remaining.v[i - 1]) < withinK) --i;
  if (i == fit.remaining.size()) return fit.endS;
  if (i == 0) return fit.startS;
  // Between the last span with more and the first with less, as an exponential goes.
  const double more = std::log(std::abs(fit.remaining.v[i - 1]));
  const double less = std::log(std::max(std::abs(fit.remaining.v[i]), 1e-9));
  const double share = more > less ? std::clamp((more - std::log(withinK)) / (more - less), 0.0, 1.0) : 1;
  return fit.remaining.t[i - 1] + share * (fit.remaining.t[i] - fit.remaining.t[i - 1]);
}

constexpr double kUnmovedAtLeastS = 120;
constexpr double kUnmovedAtLeastShare = 0.35;  // of a load that is short itself

// A coarse sensor hides a slow rise between two of its steps: a reading that has not moved yet tells only after a
// while.
bool mayHideARise(const SeriesView& part, double stepK, double trendS) {
  const double leastS = std::min(kUnmovedAtLeastS, kUnmovedAtLeastShare * (part.t.back() - part.t.front()));
  const SeriesView last = viewOf(part, {part.t.back() - trendS, INFINITY});
  const bool isUnmoved =
      stepK >= kSettledWithinK && std::all_of(last.v.begin(), last.v.end(), [&](double v) { return v == last.v[0]; });
  if (!isUnmoved) return false;
  size_t first = part.size() - 1;
  while (first > 0 && part.v[first - 1] == part.v.back()) --first;
  return part.t.back() - part.t[first] < leastS;
}

double farther(double a, double b) { return std::max(std::abs(a), std::abs(b)); }

void setForecast(const RoomAtEnd& room, SettlingVerdict& verdict) {
  const double middle = verdict.fit.finalK;
  verdict.forecast = middle + room.celsius;
  verdict.forecastLow = verdict.forecast - std::hypot(middle - verdict.fit.finalLowK, 2 * room.se);
  verdict.forecastHigh = verdict.forecast + std::hypot(verdict.fit.finalHighK - middle, 2 * room.se);
  verdict.timeConstantsS = verdict.fit.timeConstantsS;
}

Series overRoom(const SeriesView& part, const RoomBelow& room) {
  Series over{{part.t.begin(), part.t.end()}, {part.v.begin(), part.v.end()}};
  for (size_t i = 0; i < over.size(); ++i) over.v[i] -= room.during(over.t[i], over.t[i]);
  return over;
}

}  // namespace

double trendLength(const TimeSpan& load) { return std::max(kTrendLeastS, kTrendShare * load.lengthS()); }

double WarmUpFit::remainingAfter(double t) const {
  double left = 0;
  for (size_t k = 0; k < timeConstantsS.size(); ++k)
    left += remainingKAtEnd[k] * std::exp(-std::max(0.0, t - endS) / timeConstantsS[k]);
  return left;
}

namespace {

// What the readings themselves show beside all fitting, over the window; noise alone must not show a trend.
double seenTrend(const SettlingQuestion& question, const SeriesView& part, const RoomBelow& room) {
  const SeriesView last = viewOf(part, {part.t.back() - question.trendS, INFINITY});
  if (last.size() < 4) return 0;
  const Line line = lineThrough(overRoom(last, room));
  return line.sureChange(last.size());
}

}  // namespace

Judged judgeNow(const SettlingQuestion& question) {
  Judged judged;
  SettlingVerdict& verdict = judged.verdict;
  const SeriesView part = viewOf(question.temperature, question.load);
  if (part.size() < kFewestReadings || !(part.t.back() > part.t.front())) return judged;
  if (part.t.back() - part.t.front() > kLongestLoadS) return judged;
  if (question.governed) return judgeGoverned(question);
  const auto found = fitOverTheRoom(question);
  if (!found) return judged;
  const FittedPart& holding = found->part;
  const RoomBelow& room = found->room;
  const Fitted& fitted = holding.fitted;
  verdict.fit = describe(fitted, holding.spans);
  if (!verdict.fit.isValid) return judged;
  verdict.fit.finalLowK = std::min(verdict.fit.finalLowK, found->lowK);
  verdict.fit.finalHighK = std::max(verdict.fit.finalHighK, found->highK);
  const RoomAtEnd roomNow = roomAtEnd(question, part.t.back());
  setForecast(roomNow, verdict);
  const double toFollowK = room.toFollow(roomNow.celsius, part.t.back());
  verdict.remainingK = quantileOf(fitted.beliefs, 1, 0.5) + toFollowK;
  // "Below, at 95 % confidence": no more than one in twenty lies beyond.
  verdict.worstRemainingK =
      farther(quantileOf(fitted.beliefs, 1, 0.05) + toFollowK, quantileOf(fitted.beliefs, 1, 0.95) + toFollowK);
  const double worstTrendK = farther(quantileOf(fitted.beliefs, 2, 0.05), quantileOf(fitted.beliefs, 2, 0.95));
  const double withinK = std::max(kSettledWithinK, question.stepK);
  const double seenTrendK = seenTrend(question, part, room);
  judged.isContradicted = std::abs(verdict.remainingK) >= withinK || seenTrendK >= withinK;
  const double leftK = holding.explainsWell ? withinK : withinK / 2;
  verdict.isSettled = holding.explainsReadings && verdict.worstRemainingK < leftK && worstTrendK < withinK &&
                      seenTrendK < withinK && question.load.lengthS() >= question.leastS &&
                      !mayHideARise(part, question.stepK, question.trendS);
  if (verdict.isSettled) verdict.atS = std::max(settledSince(verdict.fit, withinK), question.load.startS);
  return judged;
}

SettlingVerdict judgeSettling(const SettlingQuestion& question) {
  Judged now = judgeNow(question);
  const double beforeS = question.askedBeforeS.value_or(kMissing);
  if (now.verdict.isSettled || now.isContradicted || !(beforeS > question.load.startS)) return std::move(now.verdict);
  SettlingQuestion earlier = question;
  earlier.load.endS = std::min(beforeS, question.load.endS);
  earlier.trendS = trendLength(earlier.load);
  if (earlier.governed) {
    earlier.governed->endS = std::min(earlier.governed->endS, earlier.load.endS);
    if (earlier.governed->lengthS() <= 0) earlier.governed.reset();
  }
  const Judged before = judgeNow(earlier);
  if (!before.verdict.isSettled) return std::move(now.verdict);
  now.verdict.isSettled = true;
  now.verdict.atS = std::min(before.verdict.atS, earlier.load.endS);
  return std::move(now.verdict);
}

double settlesAtS(const SettlingVerdict& verdict, double stepK) {
  if (verdict.isSettled) return verdict.atS;
  const WarmUpFit& fit = verdict.fit;
  if (!fit.isValid || fit.timeConstantsS.empty()) return kMissing;
  const double withinK = verdict.isGoverned ? kSettledWithinPercent : std::max(kSettledWithinK, stepK);
  const double lastS = fit.endS + 8 * fit.timeConstantsS.back();
  double low = fit.endS, high = lastS;
  if (std::abs(fit.remainingAfter(high)) >= withinK) return kMissing;
  if (std::abs(fit.remainingAfter(low)) < withinK) return std::max(settledSince(fit, withinK), fit.startS);
  for (int halving = 0; halving < 50; ++halving) {
    const double middle = (low + high) / 2;
    (std::abs(fit.remainingAfter(middle)) < withinK ? high : low) = middle;
  }
  return high;
}

WarmUpFit fitWarmUp(const SeriesView& warmUp) {
  if (warmUp.empty()) return {};
  SettlingQuestion question;
  question.temperature = warmUp;
  question.load = {warmUp.t.front(), std::nextafter(warmUp.t.back(), INFINITY)};
  question.trendS = trendLength(question.load);
  return judgeSettling(question).fit;
}

}  // namespace ash
