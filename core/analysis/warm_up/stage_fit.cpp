// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/warm_up/stage_fit.h"

#include <algorithm>
#include <cmath>

namespace ash {
namespace {

constexpr size_t kGrid = 26;
constexpr double kClosestStages = 1.6;  // time constants closer than this only fight each other

using Matrix = Eigen::MatrixXd;
using Vector = Eigen::VectorXd;
using Index = Eigen::Index;
constexpr int kMostUnknowns = 4;  // of the grid: the final value and three stages
using SmallMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, kMostUnknowns, kMostUnknowns>;
using SmallVector = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, kMostUnknowns, 1>;

Vector rootWeights(const WeightedSpans& spans) {
  Vector root(static_cast<Index>(spans.size()));
  for (size_t i = 0; i < spans.size(); ++i) root[static_cast<Index>(i)] = std::sqrt(spans.weight[i]);
  return root;
}

Vector valuesOf(const StageProblem& problem) {
  const Vector values = Eigen::Map<const Vector>(problem.spans.value.data(), static_cast<Index>(problem.spans.size()));
  return problem.start ? Vector(values.array() - *problem.start) : values;
}

// Columns of the linear part: the final value, then one per stage. With a known start the final value is no unknown of
// its own.
Matrix linearPart(const StageProblem& problem, const std::vector<Vector>& stages) {
  const Index rows = static_cast<Index>(problem.spans.size());
  const Index first = problem.start ? 0 : 1;
  Matrix model(rows, first + static_cast<Index>(stages.size()));
  if (first == 1) model.col(0).setOnes();
  for (size_t k = 0; k < stages.size(); ++k) {
    model.col(first + static_cast<Index>(k)) = problem.start ? Vector(stages[k].array() + 1) : stages[k];
  }
  return model;
}

/// Everything at one set of time constants.
struct Point {
  Matrix model;      // weighted
  Matrix byLogTau;   // weighted derivatives of the stages
  Vector linear;     // coefficients of the model
  Vector residuals;  // weighted
  double rss = INFINITY;
};

Point evaluate(const StageProblem& problem, const Vector& root, const Vector& values, const Vector& logTaus) {
  std::vector<Vector> stages;
  Point point;
  point.byLogTau.resize(root.size(), logTaus.size());
  for (Index k = 0; k < logTaus.size(); ++k) {
    Vector derivative;
    stages.push_back(problem.input.means(std::exp(logTaus[k]), nullptr, &derivative));
    point.byLogTau.col(k) = root.cwiseProduct(derivative);
  }
  point.model = root.asDiagonal() * linearPart(problem, stages);
  const Vector weighted = root.cwiseProduct(values);
  point.linear = point.model.householderQr().solve(weighted);
  point.residuals = weighted - point.model * point.linear;
  point.rss = point.residuals.squaredNorm();
  if (!std::isfinite(point.rss)) point.rss = INFINITY;
  return point;
}

// Derivative of the weighted model by ln τ of each stage.
Matrix nonlinearPart(const StageProblem& problem, const Point& point) {
  const Index first = problem.start ? 0 : 1;
  return point.byLogTau * point.linear.tail(point.linear.size() - first).asDiagonal();
}

StageFit finish(const StageProblem& problem, const Point& point, const Vector& logTaus) {
  StageFit fit;
  const Index order = logTaus.size();
  const Index first = problem.start ? 0 : 1;
  std::vector<Index> byTau(static_cast<size_t>(order));
  for (Index k = 0; k < order; ++k) byTau[static_cast<size_t>(k)] = k;
  std::sort(byTau.begin(), byTau.end(), [&](Index a, Index b) { return logTaus[a] < logTaus[b]; });
  double sum = 0;
  for (const Index k : byTau) {
    fit.tausS.push_back(std::exp(logTaus[k]));
    fit.amplitudes.push_back(point.linear[first + k]);
    sum += point.linear[first + k];
  }
  fit.final = problem.start ? *problem.start + sum : point.linear[0];
  fit.rss = point.rss;
  return fit;
}

// Covariance of (final, amplitudes, ln taus) in the order of the fit.
Matrix covarianceOf(const StageProblem& problem, const StageFit& fit, const Vector& root) {
  const auto order = static_cast<Index>(fit.order());
  Vector logTaus(order);
  for (Index k = 0; k < order; ++k) logTaus[k] = std::log(fit.tausS[static_cast<size_t>(k)]);
  const Point point = evaluate(problem, root, valuesOf(problem), logTaus);
  Matrix all(point.model.rows(), point.model.cols() + order);
  all << point.model, nonlinearPart(problem, point);
  const Matrix inverse = (all.transpose() * all).completeOrthogonalDecomposition().pseudoInverse();
  if (!problem.start) return inverse;
  // (amplitudes, ln taus) -> (final, amplitudes, ln taus)
  Matrix spread = Matrix::Zero(2 * order + 1, 2 * order);
  spread.block(0, 0, 1, order).setOnes();
  spread.block(1, 0, 2 * order, 2 * order).setIdentity();
  return spread * inverse * spread.transpose();
}

}  // namespace

StageFit solveLinear(const StageProblem& problem, const std::vector<double>& tausS) {
  Vector logTaus(static_cast<Index>(tausS.size()));
  for (size_t k = 0; k < tausS.size(); ++k) logTaus[static_cast<Index>(k)] = std::log(tausS[k]);
  const Vector root = rootWeights(problem.spans);
  return finish(problem, evaluate(problem, root, valuesOf(problem), logTaus), logTaus);
}

StageFit polish(const StageProblem& problem, std::vector<double> tausS, int mostSteps, double tolerance) {
  const Vector root = rootWeights(problem.spans), values = valuesOf(problem);
  const auto order = static_cast<Index>(tausS.size());
  Vector logTaus(order);
  for (Index k = 0; k < order; ++k) logTaus[k] = std::log(tausS[static_cast<size_t>(k)]);
  const double low = std::log(std::max(problem.shortestTauS, 1e-9)), high = std::log(problem.longestTauS);
  Point here = evaluate(problem, root, values, logTaus);
  double damping = 1e-3;
  bool isContent = false;
  for (int step = 0; step < mostSteps && !isContent; ++step) {
    // The part of the derivative that the linear coefficients cannot take up themselves (Kaufman 1975).
    Matrix part = nonlinearPart(problem, here);
    part -= here.model * here.model.householderQr().solve(part);
    const Matrix normal = part.transpose() * part;
    const Vector slope = part.transpose() * here.residuals;
    bool isBetter = false;
    for (int attempt = 0; attempt < 8 && !isBetter; ++attempt) {
      Matrix damped = normal;
      damped.diagonal() *= 1 + damping;
      damped.diagonal().array() += 1e-300;
      Vector move = damped.ldlt().solve(slope);
      if (!move.allFinite()) break;
      move = move.cwiseMax(-1.0).cwiseMin(1.0);
      const Vector next = (logTaus + move).cwiseMax(low).cwiseMin(high);
      const Point there = evaluate(problem, root, values, next);
      isBetter = there.rss <= here.rss;
      damping = isBetter ? std::max(damping / 10, 1e-12) : damping * 8;
      if (!isBetter) continue;
      isContent = (next - logTaus).cwiseAbs().maxCoeff() <= tolerance || here.rss - there.rss <= 1e-15 * here.rss;
      logTaus = next;
      here = there;
    }
    if (!isBetter) isContent = true;
  }
  StageFit fit = finish(problem, here, logTaus);
  fit.hasConverged = isContent;
  fit.covariance = covarianceOf(problem, fit, root);
  return fit;
}

Vector residualsOf(const StageProblem& problem, const StageFit& fit) {
  Vector left = Eigen::Map<const Vector>(problem.spans.value.data(), static_cast<Index>(problem.spans.size()));
  left.array() -= fit.final;
  for (size_t k = 0; k < fit.order(); ++k) left -= fit.amplitudes[k] * problem.input.means(fit.tausS[k]);
  return left;
}

namespace {

/// Inner products of all grid columns, so that every combination costs a small solve only.
class Grid {
 public:
  Grid(const StageProblem& problem, size_t count) : m_first(problem.start ? 0 : 1) {
    const double ratio = std::log(problem.longestTauS / problem.shortestTauS) / static_cast<double>(count - 1);
    std::vector<Vector> stages;
    for (size_t g = 0; g < count; ++g) {
      m_taus.push_back(problem.shortestTauS * std::exp(ratio * static_cast<double>(g)));
      stages.push_back(problem.input.means(m_taus.back()));
    }
    const Vector root = rootWeights(problem.spans);
    Vector weighted = valuesOf(problem);
    if (!problem.start) weighted.array() -= weighted.mean();
    weighted = root.cwiseProduct(weighted);
    const Matrix model = root.asDiagonal() * linearPart(problem, stages);
    m_gram = model.transpose() * model;
    m_moment = model.transpose() * weighted;
    m_total = weighted.squaredNorm();
  }
  size_t size() const { return m_taus.size(); }
  double tau(size_t g) const { return m_taus[g]; }

  template <int Order>
  double rss(const std::array<size_t, Order>& chosen) const {
    // One type for every order: each of its own would be compiled anew.
    SmallMatrix gram = SmallMatrix::Identity(Order + 1, Order + 1);
    SmallVector moment = SmallVector::Zero(Order + 1);
    const auto column = [&](Index i) {
      return i == 0 ? Index(0) : static_cast<Index>(chosen[static_cast<size_t>(i - 1)]) + m_first;
    };
    for (Index i = 1 - m_first; i <= Order; ++i) {
      moment(i) = m_moment(column(i));
      for (Index j = 1 - m_first; j <= Order; ++j) gram(i, j) = m_gram(column(i), column(j));
    }
    const SmallVector solved = gram.ldlt().solve(moment);
    const double left = m_total - solved.dot(moment);
    return std::isfinite(left) ? std::max(0.0, left) : INFINITY;
  }

 private:
  Index m_first;
  std::vector<double> m_taus;
  Matrix m_gram;
  Vector m_moment;
  double m_total = 0;
};

template <int Order>
struct Best {
  std::array<size_t, Order> at{};
  double rss = INFINITY;
  void offer(const Grid& grid, const std::array<size_t, Order>& chosen) {
    const double left = grid.rss<Order>(chosen);
    if (left < rss) {
      rss = left;
      at = chosen;
    }
  }
  std::vector<double> taus(const Grid& grid) const {
    std::vector<double> all;
    for (const size_t g : at) all.push_back(grid.tau(g));
    return all;
  }
};

}  // namespace

std::vector<std::vector<double>> startingPoints(const StageProblem& problem, size_t mostOrder) {
  const Grid grid(problem, kGrid);
  Best<1> one;
  Best<2> two;
  Best<3> three;
  for (size_t c = 0; c < grid.size(); ++c) {
    one.offer(grid, {c});
    for (size_t b = 0; mostOrder >= 2 && b < c && grid.tau(b) * kClosestStages <= grid.tau(c); ++b) {
      two.offer(grid, {b, c});
      if (b % 2 != 0 || c % 2 != 0) continue;
      for (size_t a = 0; mostOrder >= 3 && a < b; a += 2) three.offer(grid, {a, b, c});
    }
  }
  std::vector<std::vector<double>> all = {one.taus(grid)};
  if (mostOrder >= 2 && std::isfinite(two.rss)) all.push_back(two.taus(grid));
  if (mostOrder >= 3 && std::isfinite(three.rss)) all.push_back(three.taus(grid));
  return all;
}

}  // namespace ash
