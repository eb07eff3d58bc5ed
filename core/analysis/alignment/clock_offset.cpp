// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/alignment/clock_offset.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/alignment/offset_fit.h"
#include "analysis/alignment/shape_grid.h"

namespace ash {
namespace {

constexpr std::array<size_t, 4> kScales = {1, 4, 16, 64};
constexpr size_t kFewestSamples = 30, kMostRivals = 24;
constexpr double kMostGridCells = 65536, kFewestCells = 30, kLeastOverlap = 0.25;
// Believed from here: likeness of the whole; standard errors of it without its strongest change; how much more alike
// than the next best place, or, at the samples, how much less is left unexplained or by how much it is likelier (log
// likelihood).
constexpr double kLeastLikeness = 0.2, kLeastErrors = 5, kMoreAlike = 1.4, kLessUnexplained = 3, kLikelier = 8;

/// What the changes of one time scale say.
struct Hint {
  long long distance = 0;
  std::vector<long long> rivals;  // other places that are nearly as good
  size_t scale = 1;
  double errors = 0, events = 1, likeness = 0;
};

class Changes {
 public:
  Changes(const std::vector<double>& run, const std::vector<double>& log, size_t scale)
      : m_run(changesOf(run, scale)),
        m_log(changesOf(log, scale)),
        m_scale(scale),
        m_cells(std::max(kFewestCells, kLeastOverlap * static_cast<double>(std::min(run.size(), log.size())))) {}

  std::optional<Hint> hint() {
    const LikenessAtEveryDistance whole(m_run, m_log);
    const long long place = whole.best(m_cells);
    const Likeness alike = whole.at(place);
    if (alike.cells < m_cells || alike.worth < kLeastLikeness) return std::nullopt;
    gather(place);
    leaveStrongestOut();
    const LikenessAtEveryDistance rest(m_run, m_log);
    const long long again = rest.best(m_cells);
    const long long within = std::max<long long>(1, static_cast<long long>(m_scale) / 2);
    const double errors = rest.at(again).worth * std::sqrt(rest.at(again).cells / (1.5 * static_cast<double>(m_scale)));
    if (rest.at(again).cells < m_cells || std::llabs(again - place) > within || errors < kLeastErrors)
      return std::nullopt;
    return Hint{place, rivalsOf(whole, place), m_scale, errors, m_events, alike.correlation};
  }

 private:
  // Peaks further than a change's length from each other.
  std::vector<long long> rivalsOf(const LikenessAtEveryDistance& whole, long long place) const {
    const long long apart = 2 * static_cast<long long>(m_scale) + 2;
    std::vector<long long> peaks;
    for (long long at = whole.lowest(); at <= whole.highest(); ++at) {
      if (whole.at(at).cells < m_cells || kMoreAlike * whole.at(at).worth < whole.at(place).worth) continue;
      if (std::llabs(at - place) <= apart) continue;
      if (peaks.empty() || at - peaks.back() > apart)
        peaks.push_back(at);
      else if (whole.at(at).worth > whole.at(peaks.back()).worth)
        peaks.back() = at;
    }
    std::sort(peaks.begin(), peaks.end(),
              [&](long long a, long long b) { return whole.at(a).worth > whole.at(b).worth; });
    peaks.resize(std::min(peaks.size(), kMostRivals));
    return peaks;
  }

  // Products of changes that stand beside each other, gathered over the length of one; how many of them carry it.
  void gather(long long place) {
    const size_t length = 2 * m_scale;
    m_products.assign(m_log.size() / length + 1, 0.0);
    for (size_t i = 0; i < m_log.size(); ++i) {
      const long long beside = static_cast<long long>(i) + place;
      if (beside < 0 || beside >= static_cast<long long>(m_run.size())) continue;
      const double product = m_log[i] * m_run[static_cast<size_t>(beside)];
      if (!std::isnan(product)) m_products[i / length] += product;
    }
    double sum = 0, squares = 0;
    for (const double product : m_products) {
      sum += std::max(product, 0.0);
      squares += product * product;
    }
    m_events = squares > 0 ? std::max(1.0, sum * sum / squares) : 1;
  }

  void leaveStrongestOut() {
    const size_t length = 2 * m_scale;
    const auto strongest =
        static_cast<size_t>(std::max_element(m_products.begin(), m_products.end()) - m_products.begin());
    const size_t from = strongest * length, reach = length + 2;
    for (size_t i = from < reach ? 0 : from - reach; i < std::min(m_log.size(), from + length + reach); ++i)
      m_log[i] = kMissing;
  }

  std::vector<double> m_run, m_log, m_products;
  size_t m_scale;
  double m_cells, m_events = 1;
};

bool moves(const SeriesView& series) {
  return series.size() >= kFewestSamples &&
         *std::max_element(series.v.begin(), series.v.end()) > *std::min_element(series.v.begin(), series.v.end());
}

// The place that explains the changes far better than any other.
std::optional<double> clearlyBest(const SeriesView& run, const SeriesView& log, RoughOffset rough,
                                  const std::vector<double>& offsetsS) {
  // Where a step falls between two samples is chance: so much may be unexplained in one place and not in another.
  constexpr double kChance = 0.03;
  double best = INFINITY, next = INFINITY, bestS = rough.offsetS;
  for (const double offsetS : offsetsS) {
    rough.offsetS = offsetS;
    const double unexplained = unexplainedNear(run, log, rough) + kChance;
    next = std::min(next, std::max(unexplained, best));
    if (unexplained < best) bestS = offsetS;
    best = std::min(best, unexplained);
  }
  const bool isClear = next >= kLessUnexplained * best || rough.events / 2 * std::log(next / best) >= kLikelier;
  return isClear ? std::optional(bestS) : std::nullopt;
}

}  // namespace

std::optional<ClockOffset> findClockOffset(const SeriesView& run, const SeriesView& log) {
  if (!moves(run) || !moves(log)) return std::nullopt;
  const double bothS = run.t.back() - run.t.front() + log.t.back() - log.t.front();
  const double stepS = std::max({medianInterval(run.t), medianInterval(log.t), bothS / kMostGridCells});
  if (!(stepS > 0)) return std::nullopt;
  const ShapeGrid runGrid = gridOf(run, stepS), logGrid = gridOf(log, stepS);
  const auto offsetAt = [&](long long distance) {
    return runGrid.fromS - logGrid.fromS + static_cast<double>(distance) * stepS;
  };
  std::optional<Hint> best;
  for (const size_t scale : kScales) {
    if (std::min(runGrid.values.size(), logGrid.values.size()) < 8 * scale) break;
    const auto hint = Changes(runGrid.values, logGrid.values, scale).hint();
    if (hint && (!best || hint->errors > best->errors)) best = hint;
  }
  if (!best) return std::nullopt;
  RoughOffset rough{offsetAt(best->distance), stepS, std::max(best->scale, kScales[1]), best->events, best->likeness};
  std::vector<double> offsetsS = {rough.offsetS};
  for (const long long rival : best->rivals) offsetsS.push_back(offsetAt(rival));
  if (offsetsS.size() > 1) {
    const auto clear = clearlyBest(run, log, rough, offsetsS);
    if (!clear) return std::nullopt;
    rough.offsetS = *clear;
  }
  return fitClockOffset(run, log, rough);
}

}  // namespace ash
