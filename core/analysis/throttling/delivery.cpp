// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/throttling/delivery.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "analysis/run/worked_device.h"
#include "analysis/throttling/drive_findings.h"

namespace ash {
namespace {

constexpr double kLowBelow = 0.97;       // contract: throttled is at least 3 % below the reference clock
constexpr double kNoiseAllowed = 0.008;  // what smoothing leaves: the threshold is almost four times that
constexpr double kNoiseAtMost = 0.06;    // more is no noise but a governor that steps to and fro
constexpr double kWideSteps = 5;         // times the usual: no noise of a bell curve reaches there,
constexpr double kLeastShare = 0.03;     // least of all so often
constexpr double kSmoothAtMostS = 10;
constexpr double kHeldAtLeastS = 2;  // a moment is no clock that was held
constexpr size_t kHeldSamples = 3;
constexpr double kStartsS = 2;
constexpr double kTurnedS = 10;  // before and after a setting, to see whether it did anything
constexpr double kTurnedShare = 0.02;

// Median of |x| of a normal distribution is 0.6745 sigma; a difference of two samples has sqrt(2) sigma.
void takeNoise(Delivery& delivery) {
  const SeriesView& rate = delivery.rate;
  const double middle = medianOf({rate.v.begin(), rate.v.end()});
  if (rate.size() < 8 || !(middle > 0)) return;
  std::vector<double> steps;
  for (size_t i = 1; i < rate.size(); ++i) steps.push_back(std::abs(rate.v[i] - rate.v[i - 1]));
  const double usual = medianOf(steps) / 0.6745;
  const auto wide =
      std::count_if(steps.begin(), steps.end(), [usual](double step) { return step > kWideSteps * usual; });
  const double noise = usual / std::sqrt(2.0) / middle;
  delivery.isStepping =
      noise > kNoiseAtMost || static_cast<double>(wide) > kLeastShare * static_cast<double>(steps.size());
  delivery.noise = noise > kNoiseAtMost ? 0 : noise;
}

// Samples of which a median has no more than `wanted` noise: its standard error is 1.25 sigma/sqrt(n).
size_t samplesFor(double noise, double wanted) {
  return static_cast<size_t>(std::ceil(std::pow(1.25 * noise / wanted, 2)));
}

double medianAround(std::span<const double> values, size_t i, size_t half) {
  const size_t from = i > half ? i - half : 0, to = std::min(values.size(), i + half + 1);
  return medianOf({values.begin() + long(from), values.begin() + long(to)});
}

std::vector<double> runningMedian(std::span<const double> values, size_t half) {
  if (half == 0) return {values.begin(), values.end()};
  std::vector<double> smooth(values.size());
  for (size_t i = 0; i < values.size(); ++i) smooth[i] = medianAround(values, i, half);
  return smooth;
}

bool speaksOfCooling(const std::string& text) {
  std::string lower = text;
  std::transform(lower.begin(), lower.end(), lower.begin(), [](unsigned char c) { return char(std::tolower(c)); });
  constexpr std::array kWords = {"fan", "duty", "pump", "panel", "filter", "lid", "room", "window open", "stop rule"};
  return std::any_of(kWords.begin(), kWords.end(),
                     [&](const char* word) { return lower.find(word) != std::string::npos; });
}

// Times at which the tester turned clock or power and the rate followed.
std::vector<double> turnsOf(const RunContext& context, const SeriesView& rate) {
  std::vector<double> turns;
  for (const Event& event : context.run.facts.events) {
    if (event.kind != EventKind::Setting || !context.load->contains(event.atS) || speaksOfCooling(event.text)) continue;
    const SeriesView before = viewOf(rate, {event.atS - kTurnedS, event.atS});
    const SeriesView after = viewOf(rate, {event.atS + kStartsS, event.atS + kStartsS + kTurnedS});
    if (before.size() < 2 || after.size() < 2) {
      turns.push_back(event.atS);
      continue;
    }
    const double was = medianOf({before.v.begin(), before.v.end()}), is = medianOf({after.v.begin(), after.v.end()});
    if (std::abs(is - was) > kTurnedShare * std::max(was, is)) turns.push_back(event.atS);
  }
  std::sort(turns.begin(), turns.end());
  return turns;
}

// The highest that was held for a while among samples [from, to) that count.
double heldHighest(const Delivery& delivery, size_t from, size_t to) {
  std::vector<double> value;
  value.reserve(to - from);
  for (size_t i = from; i < to; ++i) {
    if (delivery.counts[i]) value.push_back(delivery.rate.v[i]);
  }
  if (value.empty()) return kMissing;
  const double interval = std::max(delivery.intervalS, 1e-9);
  const auto inS = [&](double s) { return static_cast<size_t>(std::min(s / interval, 2000.0)); };
  const size_t least = std::max(kHeldSamples, inS(kHeldAtLeastS));
  const size_t wanted =
      std::min(samplesFor(delivery.noise, kNoiseAllowed / 2), std::max<size_t>(9, inS(kSmoothAtMostS)));
  const size_t window = std::min(std::max(least, wanted), std::max<size_t>(1, value.size() / 2));
  double highest = -INFINITY;
  for (size_t i = 0; i < value.size(); ++i) highest = std::max(highest, medianAround(value, i, window / 2));
  // The highest of many medians lies above what was held, by what noise alone makes of it.
  const double many = static_cast<double>(value.size()) / static_cast<double>(window);
  const double sigma = 1.25 * delivery.noise / std::sqrt(static_cast<double>(window));
  return highest * (1 - sigma * std::sqrt(2 * std::log(std::max(many, 1.0))));
}

void setCounts(const RunContext& context, Delivery& delivery, const std::vector<double>& turns) {
  auto isBusy = [&, part = size_t{0}](double t) mutable {
    while (part < context.busy.size() && t >= context.busy[part].endS) ++part;
    return context.busy.empty() || (part < context.busy.size() && context.busy[part].contains(t));
  };
  delivery.counts.resize(delivery.rate.size());
  for (size_t i = 0; i < delivery.rate.size(); ++i) {
    const double t = delivery.rate.t[i];
    const double startsS = std::max(kStartsS, 2 * delivery.intervalS);
    const bool wasJustTurned =
        std::any_of(turns.begin(), turns.end(), [&](double turn) { return t >= turn && t < turn + startsS; });
    delivery.counts[i] = isBusy(t) && !wasJustTurned;
  }
}

// What is low only because work has just begun does not count, until it first reaches what it should hold.
void leaveOutStarts(Delivery& delivery) {
  const double startsS = std::max(kStartsS, 2 * delivery.intervalS) + 1e-9;
  bool wasAtWork = false, isStarting = false;
  double sinceS = 0;
  for (size_t i = 0; i < delivery.rate.size(); ++i) {
    const bool isAtWork = delivery.counts[i];
    if (isAtWork && !wasAtWork) {
      isStarting = true;
      sinceS = delivery.rate.t[i];
    }
    wasAtWork = isAtWork;
    if (!isAtWork || !isStarting) continue;
    isStarting = delivery.rate.t[i] - sinceS < startsS && delivery.rate.v[i] <= kLowBelow * delivery.reference[i];
    if (isStarting) delivery.counts[i] = false;
  }
}

}  // namespace

bool Delivery::isLow(size_t i) const { return counts[i] && smooth[i] < kLowBelow * reference[i]; }

Delivery deliveryOf(const RunContext& context, const std::string& channel, double ratedRate) {
  Delivery delivery;
  delivery.channel = channel;
  delivery.rate = viewOf(*context.find(channel), *context.load);
  delivery.intervalS = medianInterval(delivery.rate.t);
  takeNoise(delivery);
  size_t half =
      !delivery.isStepping && delivery.noise > kNoiseAllowed ? samplesFor(delivery.noise, kNoiseAllowed) / 2 : 0;
  const double mostHalf = kSmoothAtMostS / 2 / std::max(delivery.intervalS, 1e-9);
  half = static_cast<size_t>(std::min({static_cast<double>(half), mostHalf, 500.0}));
  delivery.smooth = runningMedian(delivery.rate.v, half);
  std::vector<double> turns = turnsOf(context, delivery.rate);
  // A short cache is no clock that was held: what comes after it is held against itself.
  if (const Role role(channel); role == workRoleOf(context, DeviceKind::Storage)) {
    if (const auto cache = cacheEndOf(context, delivery.rate)) {
      turns.insert(std::upper_bound(turns.begin(), turns.end(), cache->atS), cache->atS);
    }
  }
  setCounts(context, delivery, turns);
  delivery.reference.assign(delivery.rate.size(), kMissing);
  size_t from = 0;
  for (size_t segment = 0; segment <= turns.size(); ++segment) {
    const double untilS = segment < turns.size() ? turns[segment] : INFINITY;
    size_t to = from;
    while (to < delivery.rate.size() && delivery.rate.t[to] < untilS) ++to;
    // A clock that was turned is no longer held against what the maker states.
    const double held = segment == 0 && std::isfinite(ratedRate) ? ratedRate : heldHighest(delivery, from, to);
    std::fill(delivery.reference.begin() + long(from), delivery.reference.begin() + long(to), held);
    from = to;
  }
  leaveOutStarts(delivery);
  return delivery;
}

}  // namespace ash
