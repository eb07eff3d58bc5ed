// SPDX-License-Identifier: GPL-3.0-or-later
// Which numbers of stages and which time constants the readings allow, and what follows for the end: a mixture of
// normal distributions weighed by evidence (docs/method.md, "Settling").
#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>

#include "analysis/series/statistics.h"
#include "analysis/warm_up/warm_up.h"

namespace ash {
namespace {

using Vector = Eigen::VectorXd;
using Matrix = Eigen::MatrixXd;
using Index = Eigen::Index;

constexpr double kAgainstPhysics = 0.004;  // prior weight of a stage that falls while the others rise
constexpr double kMostAgainst = 0.6;       // of such a stage, in parts of the rise seen
constexpr double kLittleAgainst = 0.02;    // so much falls by noise
constexpr double kSeenToItsEnd = 0.4;      // of the time seen
constexpr double kSlowAmplitude = 0.6;     // prior spread of a slow stage, in parts of the rise seen
constexpr double kMainAmplitude = 3;       // of the others
constexpr double kTauSpread = 1.5;         // prior spread of ln τ of the faster stages
constexpr double kSlowStageOdds = 0.1;     // prior odds of one stage more than the readings show
constexpr double kClosestRatio = 1.5;      // closer time constants are one
constexpr double kBeyondSpan = 1;          // prior of τ beyond the time seen falls as (span/τ)^this
constexpr int kPlaces = 7;                 // of the slow time constant, on either side of its best value

/// The Gaussian posterior of the linear coefficients at given time constants: final, amplitudes, and the shifts of
/// ln τ of the faster stages.
struct Posterior {
  Vector mean;
  Matrix covariance;
  double logEvidence = -INFINITY;
};

struct Scene {
  const StageProblem& problem;
  double variance;  // of a span of weight 1, with the residuals' hanging together
  double rise;      // seen, K
  double spanS;
  size_t windowSpan;
};

/// Columns: 1, c_1 … c_k with the slow stage last, then amplitude · dc/d ln τ of the faster ones. Also c when the last
/// span ends and when the window begins.
struct Columns {
  Matrix model;
  Vector atEnd, atWindow;
  Index order = 0;
};

/// The faster stages of an explanation: the same for every place of the slow one.
class FastPart {
 public:
  FastPart(const Scene& scene, const std::vector<double>& tausS, const std::vector<double>& amplitudes)
      : m_scene(scene), m_order(static_cast<Index>(tausS.size())) {
    const auto rows = static_cast<Index>(scene.problem.spans.size());
    m_columns.resize(rows, m_order);
    m_shifts.resize(rows, m_order);
    for (Index k = 0; k < m_order; ++k) {
      Vector ends, shift;
      m_columns.col(k) = scene.problem.input.means(tausS[static_cast<size_t>(k)], &ends, &shift);
      m_atEnd.push_back(ends[rows - 1]);
      m_atWindow.push_back(ends[static_cast<Index>(scene.windowSpan)]);
      m_shifts.col(k) = shift * amplitudes[static_cast<size_t>(k)];
    }
  }

  Columns with(double slowTauS) const {
    const Index rows = m_columns.rows();
    Columns columns;
    columns.order = m_order + 1;
    columns.model.resize(rows, 2 * m_order + 2);
    columns.atEnd.resize(columns.order);
    columns.atWindow.resize(columns.order);
    Vector ends;
    columns.model.col(0).setOnes();
    columns.model.middleCols(1, m_order) = m_columns;
    columns.model.col(m_order + 1) = m_scene.problem.input.means(slowTauS, &ends);
    columns.model.rightCols(m_order) = m_shifts;
    for (Index k = 0; k < m_order; ++k) {
      columns.atEnd[k] = m_atEnd[static_cast<size_t>(k)];
      columns.atWindow[k] = m_atWindow[static_cast<size_t>(k)];
    }
    columns.atEnd[m_order] = ends[rows - 1];
    columns.atWindow[m_order] = ends[static_cast<Index>(m_scene.windowSpan)];
    return columns;
  }

 private:
  const Scene& m_scene;
  Index m_order;
  Matrix m_columns, m_shifts;
  std::vector<double> m_atEnd, m_atWindow;
};

double priorSpread(const Scene& scene, Index coefficient, Index order) {
  if (coefficient > order) return kTauSpread;
  return scene.rise * (coefficient == order && order > 1 ? kSlowAmplitude : kMainAmplitude);
}

Posterior posteriorAt(const Scene& scene, const Columns& columns) {
  const WeightedSpans& spans = scene.problem.spans;
  const Eigen::Map<const Vector> values(spans.value.data(), columns.model.rows());
  const Eigen::Map<const Vector> weights(spans.weight.data(), columns.model.rows());
  const double offset = values.mean();
  const Vector centred = values.array() - offset;
  const Matrix weighted = weights.asDiagonal() * columns.model;
  Matrix precision = columns.model.transpose() * weighted / scene.variance;
  const Vector moment = weighted.transpose() * centred / scene.variance;
  double logPrior = 0;
  for (Index k = 1; k < precision.rows(); ++k) {
    const double spread = priorSpread(scene, k, columns.order);
    precision(k, k) += 1 / (spread * spread);
    logPrior -= std::log(spread);
  }
  Posterior posterior;
  const Eigen::LDLT<Matrix> factor(precision);
  posterior.mean = factor.solve(moment);
  posterior.covariance = factor.solve(Matrix::Identity(precision.rows(), precision.cols()));
  if (!posterior.mean.allFinite() || !posterior.covariance.allFinite()) return posterior;
  const double left = centred.cwiseAbs2().dot(weights) / scene.variance - moment.dot(posterior.mean);
  const double logDeterminant = factor.vectorD().array().abs().max(1e-300).log().sum();
  posterior.logEvidence = -0.5 * left + logPrior - 0.5 * logDeterminant;
  posterior.mean[0] += offset;
  return posterior;
}

// 1 where it rises, -1 where it falls.
double directionOf(const StageProblem& problem) {
  return problem.spans.value.back() >= problem.spans.value.front() ? 1 : -1;
}

double normalDensity(double x) { return std::exp(-x * x / 2) / std::sqrt(2 * M_PI); }

// Splits a posterior by the sign of its slow stage: with the others, or against physics.
void addOutlooks(const Scene& scene, const Columns& columns, const Posterior& posterior, double logPrior,
                 std::vector<Outlook>& outlooks) {
  if (!std::isfinite(posterior.logEvidence)) return;
  const Index order = columns.order, slow = order;
  const Vector none = Vector::Zero(columns.model.cols());
  std::array<Vector, 3> directions = {none, none, none};
  directions[0][0] = 1;
  directions[1].segment(1, order) = -columns.atEnd;
  directions[2].segment(1, order) = columns.atEnd - columns.atWindow;
  const double sign = directionOf(scene.problem);
  double against = 0;
  for (Index k = 1; k < slow; ++k) against += sign * posterior.mean[k] < 0 ? std::log(kAgainstPhysics) : 0;
  const double mean = sign * posterior.mean[slow];
  const double spread = std::sqrt(std::max(posterior.covariance(slow, slow), 1e-300));
  for (const double side : {1.0, -1.0}) {
    const double alpha = side * mean / spread;
    const double share = normalShare(alpha);
    if (share < 1e-9) continue;
    const double ratio = normalDensity(alpha) / share;
    const double shift = side * sign * spread * ratio;
    const double keptVariance = std::max(1 - ratio * (ratio + alpha), 1e-6);
    Outlook outlook;
    outlook.logWeight =
        posterior.logEvidence + logPrior + against + std::log(share) + (side < 0 ? std::log(kAgainstPhysics) : 0.0);
    for (size_t what = 0; what < 3; ++what) {
      const Vector spreadOf = posterior.covariance * directions[what];
      const double with = spreadOf[slow] / (spread * spread);
      outlook.mean[what] = directions[what].dot(posterior.mean) + with * shift;
      outlook.variance[what] =
          std::max(0.0, directions[what].dot(spreadOf) - with * with * spread * spread * (1 - keptVariance));
    }
    outlooks.push_back(outlook);
  }
}

// Where the slow time constant may lie: places around its best value, as far as the curvature there allows, and on to
// the longest where it is hardly known.
std::vector<double> placesOf(const StageFit& fit, double variance, double lowest, double longest) {
  const size_t slow = fit.order() - 1;
  const auto at = static_cast<Index>(fit.order() + 1 + slow);
  const double spread = std::clamp(std::sqrt(std::max(0.0, fit.covariance(at, at) * variance)), 0.004, 0.9);
  std::vector<double> places;
  const double step = spread * 3.2 / kPlaces;
  for (int k = -kPlaces; k <= kPlaces; ++k) {
    const double place = std::log(fit.tausS[slow]) + step * k;
    if (place >= std::log(lowest) && place <= std::log(longest)) places.push_back(place);
  }
  if (spread > 0.25) {
    for (double place = std::log(fit.tausS[slow]) + step * (kPlaces + 1); place <= std::log(longest); place += 0.3)
      places.push_back(place);
  }
  if (places.empty()) places.push_back(std::log(fit.tausS[slow]));
  return places;
}

double logCell(const std::vector<double>& places, size_t i) {
  if (places.size() < 2) return std::log(0.05);
  const double low = i == 0 ? places[1] - places[0] : places[i] - places[i - 1];
  const double high = i + 1 == places.size() ? low : places[i + 1] - places[i];
  return std::log((low + high) / 2);
}

void explorePlaces(const Scene& scene, const FastPart& fast, const std::vector<double>& places, double logOdds,
                   std::vector<Outlook>& outlooks) {
  const double range = std::log(scene.problem.longestTauS / scene.problem.shortestTauS);
  for (size_t i = 0; i < places.size(); ++i) {
    const Columns columns = fast.with(std::exp(places[i]));
    const double beyond = std::max(0.0, places[i] - std::log(scene.spanS));
    const double logPrior = logCell(places, i) - std::log(range) - kBeyondSpan * beyond + logOdds;
    addOutlooks(scene, columns, posteriorAt(scene, columns), logPrior, outlooks);
  }
}

// An explanation as it is found: its slowest time constant moved about, the others following.
void explore(const Scene& scene, const StageFit& fit, std::vector<Outlook>& outlooks) {
  const size_t faster = fit.order() - 1;
  const double lowest = faster > 0 ? fit.tausS[faster - 1] * kClosestRatio : scene.problem.shortestTauS;
  const FastPart fast(scene, {fit.tausS.begin(), fit.tausS.begin() + static_cast<std::ptrdiff_t>(faster)},
                      {fit.amplitudes.begin(), fit.amplitudes.begin() + static_cast<std::ptrdiff_t>(faster)});
  explorePlaces(scene, fast, placesOf(fit, scene.variance, lowest, scene.problem.longestTauS), 0, outlooks);
}

// The same with one more, slower stage that the best fit did not find: it may have hardly begun.
void exploreSlower(const Scene& scene, const StageFit& fit, std::vector<Outlook>& outlooks) {
  constexpr double kStep = 0.35;
  const FastPart fast(scene, fit.tausS, fit.amplitudes);
  std::vector<double> places;
  for (double place = std::log(fit.tausS.back() * 2); place <= std::log(scene.problem.longestTauS); place += kStep)
    places.push_back(place);
  explorePlaces(scene, fast, places, std::log(kSlowStageOdds), outlooks);
}

bool areApart(const StageFit& fit) {
  for (size_t k = 1; k < fit.order(); ++k) {
    if (fit.tausS[k] < kClosestRatio * fit.tausS[k - 1]) return false;
  }
  return true;
}

// A stage that goes against the others (a fan that comes up) is a part of what was seen and was seen to its end, not a
// multiple that another one takes back.
bool isPhysical(const StageFit& fit, double direction, double rise, double seenS) {
  for (size_t k = 0; k < fit.order(); ++k) {
    const double against = -direction * fit.amplitudes[k];
    if (against > kMostAgainst * rise || (against > kLittleAgainst * rise && fit.tausS[k] > kSeenToItsEnd * seenS))
      return false;
  }
  return true;
}

double heaviest(const std::vector<Outlook>& outlooks) {
  double most = -INFINITY;
  for (const Outlook& outlook : outlooks) most = std::max(most, outlook.logWeight);
  return most;
}

// Logarithm of the weight of all from `from` on.
double allWeight(const std::vector<Outlook>& outlooks, size_t from) {
  double most = -INFINITY, sum = 0;
  for (size_t i = from; i < outlooks.size(); ++i) most = std::max(most, outlooks[i].logWeight);
  for (size_t i = from; i < outlooks.size(); ++i) sum += std::exp(outlooks[i].logWeight - most);
  return most + std::log(sum);
}

}  // namespace

Beliefs weighStages(const StageProblem& problem, const WarmUpReadings& readings, size_t windowSpan) {
  Beliefs beliefs;
  const size_t count = problem.spans.size();
  const size_t mostOrder = count >= readings.spansOfThree ? 3 : count >= readings.spansOfTwo ? 2 : 1;
  std::vector<StageFit> fits;
  const auto [low, high] = std::minmax_element(problem.spans.value.begin(), problem.spans.value.end());
  const double rise = std::max(*high - *low, 2.0);
  const double seenS = problem.spans.toS.back() - problem.spans.fromS.front();
  for (const auto& start : startingPoints(problem, mostOrder)) {
    StageFit fit = polish(problem, start, 12, 1e-4);
    if (fits.empty() || (areApart(fit) && isPhysical(fit, directionOf(problem), rise, seenS)))
      fits.push_back(std::move(fit));
  }
  // The scatter is that of the fullest explanation, with its residuals' hanging together.
  const StageFit& fullest = fits.back();
  Vector residuals = residualsOf(problem, fullest);
  for (size_t i = 0; i < count; ++i) residuals[static_cast<Index>(i)] *= std::sqrt(problem.spans.weight[i]);
  const double together = autocorrelationTime({residuals.data(), residuals.data() + residuals.size()});
  const double parameters = 2.0 * static_cast<double>(fullest.order()) + 1;
  const double scatter = fullest.rss / std::max(1.0, static_cast<double>(count) - parameters);
  beliefs.scatter = scatter;
  beliefs.degrees = std::max(2.0, static_cast<double>(count) / together - parameters);
  const Scene scene{problem, std::max(scatter, readings.leastVariance) * together, rise, seenS, windowSpan};
  double most = -INFINITY;
  for (const StageFit& fit : fits) {
    const size_t before = beliefs.outlooks.size();
    explore(scene, fit, beliefs.outlooks);
    const double own = allWeight(beliefs.outlooks, before);
    if (own > most) beliefs.best = fit;
    most = std::max(most, own);
  }
  for (const StageFit& fit : fits) exploreSlower(scene, fit, beliefs.outlooks);
  beliefs.logEvidence =
      allWeight(beliefs.outlooks, 0) - 0.5 * static_cast<double>(count) / together * std::log(scene.variance);
  most = heaviest(beliefs.outlooks);
  std::erase_if(beliefs.outlooks, [&](const Outlook& outlook) { return outlook.logWeight < most - 10; });
  for (Outlook& outlook : beliefs.outlooks) outlook.logWeight -= most;
  return beliefs;
}

double quantileOf(const Beliefs& beliefs, size_t what, double share) {
  double low = INFINITY, high = -INFINITY, all = 0;
  // Student's t instead of the normal where few readings tell the scatter.
  const double wider = studentT95(beliefs.degrees) / studentT95(INFINITY);
  for (const Outlook& outlook : beliefs.outlooks) {
    const double spread = wider * std::sqrt(outlook.variance[what]);
    low = std::min(low, outlook.mean[what] - 8 * spread);
    high = std::max(high, outlook.mean[what] + 8 * spread);
    all += std::exp(outlook.logWeight);
  }
  if (beliefs.outlooks.empty()) return kMissing;
  for (int halving = 0; halving < 30; ++halving) {
    const double middle = (low + high) / 2;
    double below = 0;
    for (const Outlook& outlook : beliefs.outlooks) {
      const double spread = std::max(wider * std::sqrt(outlook.variance[what]), 1e-9);
      below += std::exp(outlook.logWeight) * normalShare((middle - outlook.mean[what]) / spread);
    }
    (below < share * all ? low : high) = middle;
  }
  return (low + high) / 2;
}

}  // namespace ash
