// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/alignment/offset_fit.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

constexpr double kLongestDriftPpm = 1000, kNormal95 = 1.959964, kLeastLikelier = 12.5;  // five standard errors
// A drift is told where it is known to this, of pairs of at least this length.
constexpr double kDriftKnownToPpm = 100, kDriftFromS = 1200;

// Means of what lies within half a width of each reading; as they are where none lies so near.
Series smoothed(const SeriesView& series, double widthS) {
  Series smooth{{series.t.begin(), series.t.end()}, std::vector<double>(series.size())};
  size_t from = 0, to = 0;
  double sum = 0;
  for (size_t i = 0; i < series.size(); ++i) {
    while (to < series.size() && series.t[to] <= series.t[i] + widthS / 2) sum += series.v[to++];
    while (series.t[from] < series.t[i] - widthS / 2) sum -= series.v[from++];
    smooth.v[i] = sum / static_cast<double>(to - from);
  }
  return smooth;
}

/// The pair, and how well a place of the one beside the other explains its changes.
class ClockPair {
 public:
  ClockPair(const SeriesView& run, const SeriesView& log, double widthS) {
    m_runStepS = medianInterval(run.t);
    m_logStepS = medianInterval(log.t);
    m_run = smoothed(run, std::max(widthS, m_logStepS > m_runStepS ? m_logStepS : 0));
    m_log = smoothed(log, std::max(widthS, m_runStepS > m_logStepS ? m_runStepS : 0));
    m_at.resize(m_log.size());
  }

  double logStepS() const { return m_logStepS; }

  struct Agreement {
    double n = 0, rest = 1;  ///< pairs of changes; what share of the log's is left unexplained
  };
  /// Run time = centreS + (t − middleS)(1 + drift); changes over `lag` readings, every `stride`-th.
  Agreement agreement(double centreS, double middleS, double drift, size_t lag, size_t stride) {
    place(centreS, middleS, drift);
    double n = 0, sx = 0, sy = 0, sxx = 0, syy = 0, sxy = 0;
    const double longestS = 1.5 * static_cast<double>(lag) * m_logStepS;
    for (size_t i = lag; i < m_log.size(); i += stride) {
      const double x = m_at[i] - m_at[i - lag], y = m_log.v[i] - m_log.v[i - lag];
      if (std::isnan(x) || m_log.t[i] - m_log.t[i - lag] > longestS) continue;
      n += 1;
      sx += x, sy += y;
      sxx += x * x, syy += y * y, sxy += x * y;
    }
    Agreement found{n, 1};
    const double xx = sxx - sx * sx / n, yy = syy - sy * sy / n, xy = sxy - sx * sy / n;
    if (!(n > 8) || !(xx > 0) || !(yy > 0)) return found;
    if (xy > 0) found.rest = std::max(1 - xy * xy / (xx * yy), 1e-9);
    return found;
  }

 private:
  // The run's reading beside each of the log; missing outside and within gaps.
  void place(double centreS, double middleS, double drift) {
    size_t at = 0;
    for (size_t i = 0; i < m_log.size(); ++i) {
      const double t = centreS + (m_log.t[i] - middleS) * (1 + drift);
      m_at[i] = kMissing;
      if (t < m_run.t.front() || t > m_run.t.back()) continue;
      while (at + 2 < m_run.size() && m_run.t[at + 1] < t) ++at;
      const double width = m_run.t[at + 1] - m_run.t[at];
      if (width > 3 * m_runStepS) continue;
      m_at[i] = m_run.v[at] + (m_run.v[at + 1] - m_run.v[at]) * (t - m_run.t[at]) / width;
    }
  }

  Series m_run, m_log;
  std::vector<double> m_at;
  double m_runStepS = 0, m_logStepS = 0;
};

/// A place that is looked for: run time of the log's middle, and drift.
struct Place {
  double centreS = 0, drift = 0;
};

class Fit {
 public:
  Fit(const SeriesView& run, const SeriesView& log, const RoughOffset& rough)
      : m_runReadings(run), m_logReadings(log), m_rough(rough) {
    const TimeSpan covered{std::max(log.t.front(), run.t.front() - rough.offsetS),
                           std::min(log.t.back(), run.t.back() - rough.offsetS)};
    m_lengthS = covered.lengthS();
    m_middleS = (covered.startS + covered.endS) / 2;
  }

  std::optional<ClockOffset> run() {
    if (!(m_lengthS > 8 * m_rough.stepS)) return std::nullopt;
    Place drifting{m_rough.offsetS + m_middleS, 0}, still = drifting;
    std::optional<ClockOffset> best;
    for (double widthS = static_cast<double>(m_rough.scale) * m_rough.stepS;; widthS /= 4) {
      const bool isLast = widthS < 1.01 * m_rough.stepS;
      lookAt(isLast ? 0 : widthS, widthS);
      drifting = searched(drifting, widthS, true);
      still = searched(still, widthS, false);
      const auto found = judged(drifting, still, widthS);
      if (found && (!best || widthOf(*found) < widthOf(*best))) best = found;
      if (isLast) break;
    }
    return best;
  }

  double unexplained() {
    if (!(m_lengthS > 8 * m_rough.stepS)) return 1;
    const double widthS = static_cast<double>(m_rough.scale) * m_rough.stepS;
    lookAt(widthS, widthS);
    return agreement(searched({m_rough.offsetS + m_middleS, 0}, widthS, true)).rest;
  }

 private:
  void lookAt(double smoothS, double widthS) {
    m_pair.emplace(m_runReadings, m_logReadings, smoothS);
    m_lag = std::max<size_t>(1, static_cast<size_t>(std::round(widthS / m_pair->logStepS())));
    m_stride = std::max<size_t>(1, m_lag / 4);
  }

  static double widthOf(const ClockOffset& offset) { return offset.offsetHighS - offset.offsetLowS; }

  ClockPair::Agreement agreement(const Place& place) {
    return m_pair->agreement(place.centreS, m_middleS, place.drift, m_lag, m_stride);
  }
  // How much likelier it is than no likeness at all: −n/2 · ln(rest), n counted without the overlap of changes.
  double likelier(const ClockPair::Agreement& found) const {
    const double n = found.n * static_cast<double>(m_stride) / (1.5 * static_cast<double>(m_lag));
    return -n / 2 * std::log(found.rest);
  }

  // Steps towards less that is unexplained, halved when none is better.
  Place searched(Place at, double stepS, bool withDrift) {
    const auto [pairs, rest] = agreement(at);
    double least = rest;
    const double endS = m_rough.stepS / 64;
    for (double s = stepS / 2; s > endS;) {
      const double d = 2 * s / m_lengthS;
      bool isBetter = false;
      for (const Place& move : {Place{s, 0}, Place{-s, 0}, Place{0, d}, Place{0, -d}}) {
        if (!withDrift && move.drift != 0) continue;
        const Place next{at.centreS + move.centreS, at.drift + move.drift};
        if (std::abs(next.drift) > kLongestDriftPpm * 1e-6) continue;
        const auto there = agreement(next);
        // A place where both hardly overlap explains what little is left of them.
        if (there.rest >= least || 2 * there.n < pairs) continue;
        least = there.rest;
        at = next;
        isBetter = true;
      }
      if (!isBetter) s /= 2;
    }
    return at;
  }

  // From how fast the fit gets worse around.
  double standardError(const Place& at, const Place& step) {
    const Place above{at.centreS + step.centreS, at.drift + step.drift},
        below{at.centreS - step.centreS, at.drift - step.drift};
    const double curvature = 2 * likelier(agreement(at)) - likelier(agreement(above)) - likelier(agreement(below));
    return curvature > 0 ? (step.centreS + step.drift) / std::sqrt(curvature) : kMissing;
  }

  // Both readings are smoothed and not free of each other's noise: on simulated pairs the fit alone is too sure by
  // this.
  static constexpr double kCaution = 1.4;

  std::optional<ClockOffset> judged(const Place& drifting, const Place& still, double widthS) {
    if (likelier(agreement(drifting)) < kLeastLikelier) return std::nullopt;
    const double reachS = widthS / 2;
    // A change between two readings may lie anywhere between them.
    const double betweenS = m_rough.stepS / std::sqrt(12.0) / std::sqrt(std::max(1.0, m_rough.events / 2));
    const double driftStep = 2 * reachS / m_lengthS;
    double driftError =
        std::hypot(kCaution * standardError(drifting, {0, driftStep}), betweenS * std::sqrt(12.0) / m_lengthS);
    const bool isTold = m_lengthS >= kDriftFromS && kNormal95 * driftError <= kDriftKnownToPpm * 1e-6;
    if (!isTold) driftError = 0;
    const Place& at = isTold ? drifting : still;
    const double centreError = std::hypot(kCaution * standardError(at, {reachS, 0}), betweenS);
    if (!std::isfinite(centreError) || !std::isfinite(driftError)) return std::nullopt;
    ClockOffset found;
    found.offsetS = at.centreS - m_middleS * (1 + at.drift);
    const double half = kNormal95 * std::hypot(centreError, m_middleS * driftError);
    found.offsetLowS = found.offsetS - half;
    found.offsetHighS = found.offsetS + half;
    if (isTold) found.driftPpm = at.drift * 1e6;
    found.likeness = m_rough.likeness;
    return found;
  }

  SeriesView m_runReadings, m_logReadings;
  std::optional<ClockPair> m_pair;
  RoughOffset m_rough;
  double m_lengthS = 0, m_middleS = 0;
  size_t m_lag = 1, m_stride = 1;
};

}  // namespace

std::optional<ClockOffset> fitClockOffset(const SeriesView& run, const SeriesView& log, const RoughOffset& rough) {
  return Fit(run, log, rough).run();
}

double unexplainedNear(const SeriesView& run, const SeriesView& log, const RoughOffset& rough) {
  return Fit(run, log, rough).unexplained();
}

}  // namespace ash
