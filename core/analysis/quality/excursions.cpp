// SPDX-License-Identifier: GPL-3.0-or-later
// Short real rises and falls of a temperature under load: several samples, out and back.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/quality/problems.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kAtLeastK = 4;
constexpr double kOfNoise = 8;
constexpr double kLongestS = 60;
constexpr double kAsideS = 10;         // what it is compared with, before and after
constexpr double kReturnShare = 0.5;   // before and after agree within this part of its height
constexpr size_t kMostTold = 4;        // more are an oscillation, not excursions
constexpr double kLongestHoldS = 1e7;  // what is longer is a clock gone wrong

double noiseOf(const SeriesView& part) {
  std::vector<double> steps;
  const size_t stride = part.size() / 4'000 + 1;
  for (size_t i = 1; i < part.size(); i += stride) steps.push_back(std::abs(part.v[i] - part.v[i - 1]));
  return medianOf(std::move(steps));
}

double medianIn(const SeriesView& series, const TimeSpan& span) {
  const SeriesView part = viewOf(series, span);
  const size_t stride = part.size() / 60 + 1;
  std::vector<double> some;
  for (size_t i = 0; i < part.size(); i += stride) some.push_back(part.v[i]);
  return medianOf(std::move(some));
}

// Where work paused the temperature falls for a reason that is listed already.
bool isNearPause(const RunContext& context, const TimeSpan& span) {
  for (size_t i = 1; i < context.busy.size(); ++i) {
    if (span.startS < context.busy[i].startS + kLongestS && span.endS > context.busy[i - 1].endS - 1) return true;
  }
  return false;
}

// A load that begins with more power than it keeps overshoots for that reason.
bool isBoost(const RunContext& context, const Channel& channel, const TimeSpan& span) {
  constexpr double kBoostShare = 1.05;
  if (!channel.role.isKnown() || span.startS > context.load->startS + kLongestS) return false;
  const std::string power = Role(channel.role.device(), Quantity::Power).text();
  const double first = meanIn(context, power, {context.load->startS, span.endS - 0.3 * span.lengthS()});
  return first > kBoostShare * meanIn(context, power, {span.endS + kLongestS / 2, context.load->endS});
}

/// Medians of windows around every reading, moved on in steps of a quarter of the window.
class Surroundings {
 public:
  Surroundings(const SeriesView& part, double widthS) : m_step(widthS / 4), m_first(part.t.front()) {
    for (double t = m_first; t <= part.t.back() + m_step; t += m_step)
      m_median.push_back(medianIn(part, {t - widthS / 2, t + widthS / 2}));
  }
  double at(double t) const {
    const auto i = static_cast<size_t>(std::max(0.0, std::round((t - m_first) / m_step)));
    return m_median[std::min(i, m_median.size() - 1)];
  }

 private:
  double m_step, m_first;
  std::vector<double> m_median;
};

std::vector<TimeSpan> candidates(const SeriesView& part, double leastK) {
  const Surroundings around(part, 2.5 * kLongestS);
  std::vector<TimeSpan> spans;
  int side = 0;
  for (size_t i = 0; i < part.size(); ++i) {
    const double off = part.v[i] - around.at(part.t[i]);
    const int now = off > leastK ? 1 : off < -leastK ? -1 : 0;
    const double nextS = i + 1 < part.size() ? part.t[i + 1] : part.t[i];
    if (now != 0 && now == side)
      spans.back().endS = nextS;
    else if (now != 0)
      spans.push_back({part.t[i], nextS});
    side = now;
  }
  return spans;
}

}  // namespace

std::vector<Problem> findExcursions(const RunContext& context) {
  std::vector<Problem> problems;
  if (!context.load || context.load->lengthS() < 3 * kLongestS || context.load->lengthS() > kLongestHoldS)
    return problems;
  for (const Channel& channel : context.run.log.channels) {
    if (!channel.role.isLoadedTemperature()) continue;
    const SeriesView part = viewOf(context.series.at(channel.name), *context.load);
    if (part.size() < 40) continue;
    const double leastK = std::max(kAtLeastK, kOfNoise * noiseOf(part));
    std::vector<Problem> own;
    for (const TimeSpan& span : candidates(part, leastK)) {
      const SeriesView inside = viewOf(part, span);
      if (inside.size() < 2 || span.lengthS() > kLongestS || isNearPause(context, span)) continue;
      if (isBoost(context, channel, span)) continue;
      const double before = medianIn(part, {span.startS - kAsideS, span.startS - 1e-9});
      const double after = medianIn(part, {span.endS, span.endS + kAsideS});
      if (std::isnan(before) || std::isnan(after)) continue;
      const auto [low, high] = std::minmax_element(inside.v.begin(), inside.v.end());
      const double up = *high - std::max(before, after), down = std::min(before, after) - *low;
      const double height = std::max(up, down);
      if (height < leastK || std::abs(after - before) > kReturnShare * height) continue;
      own.push_back(
          {ProblemKind::Excursion, channel.name, span.startS, span.endS,
           fmt::format("{} {} to {:.1f} °C for {:.0f} s and comes back; it stays in the figures: find out "
                       "what happened then.",
                       channel.name, up >= down ? "rises" : "falls", up >= down ? *high : *low, span.lengthS())});
    }
    if (own.size() <= kMostTold) problems.insert(problems.end(), own.begin(), own.end());
  }
  return problems;
}

}  // namespace ash
