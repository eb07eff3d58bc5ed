// SPDX-License-Identifier: GPL-3.0-or-later
// One or two exponentials fitted to a warm-up, with the interval of where it ends.
#include "analysis/settling.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>

#include "analysis/statistics.h"

namespace ash {
namespace {

constexpr size_t kFewestReadings = 12;
constexpr size_t kMostBlocks = 240;
constexpr size_t kCoarseGrid = 32;
constexpr size_t kFineGrid = 11;
constexpr double kDriftAhead = 0.6;
constexpr double kDriftBehind = 0.25;
// Time constants closer than this cannot be told apart and only fight each other.
constexpr double kClosestRatio = 1.8;

/// Readings averaged in blocks of equal time; the model is averaged over the same blocks, so nothing is lost by it.
struct Blocks {
  std::vector<double> fromS, toS, mean;
  size_t size() const { return mean.size(); }
};

Blocks makeBlocks(const Series& series) {
  Blocks blocks;
  const size_t perBlock = (series.size() + kMostBlocks - 1) / kMostBlocks;
  const double interval = medianInterval(series.t);
  for (size_t first = 0; first + perBlock <= series.size(); first += perBlock) {
    const size_t last = first + perBlock - 1;
    double sum = 0;
    for (size_t i = first; i <= last; ++i) sum += series.v[i];
    blocks.fromS.push_back(series.t[first] - interval / 2);
    blocks.toS.push_back(series.t[last] + interval / 2);
    blocks.mean.push_back(sum / static_cast<double>(perBlock));
  }
  return blocks;
}

// Mean of exp(−(t − origin)/τ) over a block.
double decayMean(double fromS, double toS, double originS, double tauS) {
  const double length = toS - fromS;
  const double start = std::exp(-(fromS - originS) / tauS);
  if (length <= 0) return start;
  return start * tauS / length * -std::expm1(-length / tauS);
}

std::vector<double> logGrid(double low, double high, size_t count) {
  std::vector<double> grid(count);
  const double ratio = std::log(high / low) / static_cast<double>(count - 1);
  for (size_t i = 0; i < count; ++i) grid[i] = low * std::exp(ratio * static_cast<double>(i));
  return grid;
}

/// One solution of the linear part for given time constants.
struct Candidate {
  int order = 0;                         // how many time constants
  std::array<double, 2> taus{};          // rising
  std::array<double, 3> coefficients{};  // final value, then −amplitude of each
  double rss = INFINITY;
  double finalVariance = 0;  // per unit of residual variance

  // Where heat goes in and power is constant, every part of a warm-up has the same sign (a passive network's step
  // response).
  bool hasOneSign() const {
    for (int k = 2; k <= order; ++k) {
      if (coefficients[k] * coefficients[1] < 0) return false;
    }
    return true;
  }
};

/// Columns of the model for a grid of time constants with their inner products, so that every pair costs a 3x3 solve.
class GridFit {
 public:
  GridFit(const Blocks& blocks, std::vector<double> grid) : m_grid(std::move(grid)) {
    const auto rows = static_cast<Eigen::Index>(blocks.size());
    const auto columns = static_cast<Eigen::Index>(m_grid.size()) + 1;
    Eigen::MatrixXd model(rows, columns);
    m_y = Eigen::Map<const Eigen::VectorXd>(blocks.mean.data(), rows);
    m_offset = m_y.mean();
    m_y.array() -= m_offset;
    model.col(0).setOnes();
    for (size_t g = 0; g < m_grid.size(); ++g) {
      for (Eigen::Index r = 0; r < rows; ++r) {
        model(r, static_cast<Eigen::Index>(g) + 1) =
            decayMean(blocks.fromS[r], blocks.toS[r], blocks.fromS.front(), m_grid[g]);
      }
    }
    m_gram = model.transpose() * model;
    m_moment = model.transpose() * m_y;
    m_total = m_y.squaredNorm();
  }

  size_t gridSize() const { return m_grid.size(); }

  double tauS(size_t index) const { return m_grid[index]; }

  Candidate solveOne(size_t slow) const { return solve<2>({slow}); }
  Candidate solveTwo(size_t fast, size_t slow) const { return solve<3>({fast, slow}); }

 private:
  template <int Size>
  Candidate solve(const std::array<size_t, Size - 1>& chosen) const {
    Eigen::Matrix<double, Size, Size> gram;
    Eigen::Matrix<double, Size, 1> moment;
    const auto column = [&](int i) { return i == 0 ? Eigen::Index(0) : static_cast<Eigen::Index>(chosen[i - 1]) + 1; };
    for (int i = 0; i < Size; ++i) {
      moment(i) = m_moment(column(i));
      for (int j = 0; j < Size; ++j) gram(i, j) = m_gram(column(i), column(j));
    }
    Candidate candidate;
    const Eigen::LDLT<Eigen::Matrix<double, Size, Size>> factor(gram);
    const Eigen::Matrix<double, Size, 1> solved = factor.solve(moment);
    if (factor.info() != Eigen::Success || !solved.allFinite()) return candidate;
    candidate.order = Size - 1;
    for (int i = 0; i < Size; ++i) candidate.coefficients[i] = solved(i);
    for (int i = 1; i < Size; ++i) candidate.taus[i - 1] = m_grid[chosen[i - 1]];
    candidate.rss = std::max(0.0, m_total - solved.dot(moment));
    candidate.finalVariance = factor.solve(Eigen::Matrix<double, Size, 1>::Unit(0))(0);
    candidate.coefficients[0] += m_offset;
    return candidate;
  }

  std::vector<double> m_grid;
  Eigen::VectorXd m_y;
  double m_offset = 0;
  Eigen::MatrixXd m_gram;
  Eigen::VectorXd m_moment;
  double m_total = 0;
};

/// The best candidate for every slow time constant on the grid, with one or two time constants.
std::vector<Candidate> profileOverSlow(const GridFit& fit, int order) {
  std::vector<Candidate> profile;
  for (size_t slow = 0; slow < fit.gridSize(); ++slow) {
    Candidate best;
    if (order == 1) {
      best = fit.solveOne(slow);
    } else {
      for (size_t fast = 0; fast < slow && fit.tauS(fast) * kClosestRatio <= fit.tauS(slow); ++fast) {
        Candidate candidate = fit.solveTwo(fast, slow);
        if (candidate.rss < best.rss) best = candidate;
      }
    }
    if (std::isfinite(best.rss)) profile.push_back(best);
  }
  return profile;
}

const Candidate* bestOf(const std::vector<Candidate>& profile) {
  const auto best = std::min_element(profile.begin(), profile.end(),
                                     [](const Candidate& a, const Candidate& b) { return a.rss < b.rss; });
  return best == profile.end() ? nullptr : &*best;
}

double valueAt(const Candidate& candidate, double fromS, double toS, double originS) {
  double value = candidate.coefficients[0];
  for (int k = 0; k < candidate.order; ++k) {
    value += candidate.coefficients[k + 1] * decayMean(fromS, toS, originS, candidate.taus[k]);
  }
  return value;
}

std::vector<double> residualsOf(const Candidate& candidate, const Blocks& blocks) {
  std::vector<double> residuals(blocks.size());
  for (size_t i = 0; i < blocks.size(); ++i) {
    residuals[i] = blocks.mean[i] - valueAt(candidate, blocks.fromS[i], blocks.toS[i], blocks.fromS.front());
  }
  return residuals;
}

// Schwarz's criterion with as many observations as the residuals are independent.
double bic(const Candidate& candidate, double independent, size_t blocks) {
  const double parameters = 1 + 2 * candidate.order;
  const double variance = std::max(candidate.rss / static_cast<double>(blocks), 1e-12);
  return independent * std::log(variance) + parameters * std::log(independent);
}

/// Everything within the 95 % likelihood region of the slow time constant, each with its own spread.
void setInterval(const std::vector<Candidate>& profile, const Candidate& best, const Blocks& blocks, WarmUpFit& fit) {
  const Candidate& closest = *bestOf(profile);
  const double tau = autocorrelationTime(residualsOf(closest, blocks));
  const double parameters = 1 + 2 * closest.order;
  const double degrees = std::max(2.0, static_cast<double>(blocks.size()) / tau - parameters);
  const double rss = std::max(closest.rss, 1e-9);
  const double allowed = rss * (1 + boost::math::quantile(boost::math::fisher_f(1, degrees), 0.95) / degrees);
  const double variance = rss / std::max(1.0, static_cast<double>(blocks.size()) - parameters) * tau;
  const double t = studentT95(degrees);
  fit.finalLowK = fit.finalHighK = best.coefficients[0];
  for (const Candidate& candidate : profile) {
    if (candidate.rss > allowed || (!candidate.hasOneSign() && best.hasOneSign())) continue;
    // The further a candidate is from the best, the less of its own spread fits into the joint region.
    const double leftOver = std::sqrt(std::clamp(1 - (candidate.rss - rss) / std::max(allowed - rss, 1e-30), 0.0, 1.0));
    const double half = t * std::sqrt(std::max(0.0, candidate.finalVariance * variance)) * leftOver;
    fit.finalLowK = std::min(fit.finalLowK, candidate.coefficients[0] - half);
    fit.finalHighK = std::max(fit.finalHighK, candidate.coefficients[0] + half);
  }
}

struct FitOfBlocks {
  Candidate best;
  std::vector<double> refineAround;  // time constants of the best with one and of the best with two
  std::vector<Candidate> profile;    // over the slow time constant, with one and with two
};

// Fits one and two time constants on a grid and keeps the better explanation.
FitOfBlocks fitOnGrid(const Blocks& blocks, std::vector<double> taus) {
  FitOfBlocks result;
  const GridFit grid(blocks, std::move(taus));
  const auto single = profileOverSlow(grid, 1);
  const Candidate* one = bestOf(single);
  if (one == nullptr) return result;
  const auto twofold = blocks.size() >= 20 ? profileOverSlow(grid, 2) : std::vector<Candidate>();
  const Candidate* two = bestOf(twofold);
  // Autocorrelated residuals of the single fit are the misfit itself, so never count fewer than a quarter of the
  // blocks.
  const double independent = static_cast<double>(blocks.size()) / autocorrelationTime(residualsOf(*one, blocks));
  const double counted = std::max(independent, static_cast<double>(blocks.size()) / 4);
  // Parts of opposite sign are against physics as long as power is constant: they need a much better case.
  const double mustGain = two != nullptr && two->hasOneSign() ? 6 : 30;
  const bool takeTwo =
      two != nullptr && bic(*two, counted, blocks.size()) + mustGain < bic(*one, counted, blocks.size());
  result.best = takeTwo ? *two : *one;
  result.refineAround = {one->taus[0]};
  if (two != nullptr) result.refineAround.insert(result.refineAround.end(), {two->taus[0], two->taus[1]});
  // Whatever was taken for the value, a further, slower part that the readings do not exclude belongs to its
  // uncertainty.
  result.profile = single;
  result.profile.insert(result.profile.end(), twofold.begin(), twofold.end());
  return result;
}

std::vector<double> coarseGrid(const Blocks& blocks) {
  const double span = blocks.toS.back() - blocks.fromS.front();
  const double width = span / static_cast<double>(blocks.size());
  return logGrid(std::max(width, span / 300), 4 * span, kCoarseGrid);
}

// Closes in on the best time constants by grids that become finer around them: two coarse neighbours must not be able
// to pose as the one between them.
std::vector<double> closeIn(const Blocks& blocks, std::vector<double> around, double longest) {
  for (const auto& [reach, count] :
       {std::pair{1.35, size_t{15}}, std::pair{1.05, size_t{11}}, std::pair{1.011, size_t{9}}}) {
    std::vector<double> grid;
    for (const double centre : around) {
      for (const double tau : logGrid(centre / reach, centre * reach, count)) {
        if (tau <= longest) grid.push_back(tau);
      }
    }
    std::sort(grid.begin(), grid.end());
    around = fitOnGrid(blocks, grid).refineAround;
  }
  return around;
}

// The coarse grid, a fine one around each time constant that matters, and those themselves.
std::vector<double> refinedGrid(std::vector<double> coarse, const std::vector<double>& around) {
  const double longest = coarse.back();
  for (const double centre : around) {
    for (const double tau : logGrid(centre / 1.35, centre * 1.35, kFineGrid)) {
      if (tau <= longest) coarse.push_back(tau);
    }
    coarse.push_back(centre);
  }
  std::sort(coarse.begin(), coarse.end());
  return coarse;
}

double residualSd(const Candidate& candidate, const Blocks& blocks) {
  return std::sqrt(candidate.rss / static_cast<double>(blocks.size()));
}

WarmUpFit finishFit(const Blocks& blocks, const std::vector<double>& around) {
  WarmUpFit fit;
  const std::vector<double> coarse = coarseGrid(blocks);
  const FitOfBlocks refined = fitOnGrid(blocks, refinedGrid(coarse, closeIn(blocks, around, coarse.back())));
  const Candidate& best = refined.best;
  if (best.order == 0) return fit;
  fit.isValid = true;
  fit.startS = blocks.fromS.front();
  fit.endS = blocks.toS.back();
  fit.finalK = best.coefficients[0];
  for (int k = 0; k < best.order; ++k) {
    fit.timeConstantsS.push_back(best.taus[k]);
    fit.amplitudesK.push_back(-best.coefficients[k + 1]);
  }
  setInterval(refined.profile, best, blocks, fit);
  return fit;
}

// The noise of neighbouring blocks: what no smooth curve can explain.
double blockNoise(const Blocks& blocks) {
  std::vector<double> steps;
  for (size_t i = 2; i < blocks.size(); ++i) {
    steps.push_back(std::abs(blocks.mean[i] - 2 * blocks.mean[i - 1] + blocks.mean[i - 2]));
  }
  return medianOf(steps) / 0.6745 / std::sqrt(6.0);
}

Series after(const Series& series, double startS) { return slice(series, {startS, INFINITY}); }

}  // namespace

double WarmUpFit::at(double t) const {
  double value = finalK;
  for (size_t k = 0; k < timeConstantsS.size(); ++k)
    value -= amplitudesK[k] * std::exp(-(t - startS) / timeConstantsS[k]);
  return value;
}

namespace {

// A real machine has more time constants than two, and the slowest shows last: a forecast that still climbs as readings
// come in will go on climbing. How far it moved since two thirds of the readings widens its interval, most on the side
// it moves to.
void widenByDrift(const Series& part, WarmUpFit& fit) {
  const size_t count = part.size() * 2 / 3;
  if (count < kFewestReadings) return;
  const Series earlier{{part.t.begin(), part.t.begin() + static_cast<std::ptrdiff_t>(count)},
                       {part.v.begin(), part.v.begin() + static_cast<std::ptrdiff_t>(count)}};
  const Blocks blocks = makeBlocks(earlier);
  const Candidate best = fitOnGrid(blocks, coarseGrid(blocks)).best;
  if (best.order == 0) return;
  const double drift = fit.finalK - best.coefficients[0];
  (drift > 0 ? fit.finalHighK : fit.finalLowK) += kDriftAhead * drift;
  (drift > 0 ? fit.finalLowK : fit.finalHighK) -= kDriftBehind * drift;
}

}  // namespace

WarmUpFit fitWarmUp(const Series& warmUp) {
  if (warmUp.size() < kFewestReadings) return {};
  const double span = warmUp.t.back() - warmUp.t.front();
  if (!(span > 0)) return {};
  // A boost that runs out bends the start of a warm-up. The earliest start is taken from which the curve explains the
  // readings down to their noise.
  Series part;
  Blocks blocks;
  FitOfBlocks found;
  for (const double share : {0.0, 0.08, 0.16, 0.25, 0.35, 0.5}) {
    Series later = after(warmUp, warmUp.t.front() + share * span);
    if (later.size() < kFewestReadings) break;
    part = std::move(later);
    blocks = makeBlocks(part);
    found = fitOnGrid(blocks, coarseGrid(blocks));
    const Candidate& best = found.best;
    // A part that is over within the first twelfth only takes the place of a slow one that matters.
    const bool wastesOne = best.order == 2 && 3 * best.taus[0] < 0.08 * (part.t.back() - part.t.front());
    if (best.order > 0 && !wastesOne && residualSd(best, blocks) <= 1.25 * blockNoise(blocks) + 0.05) break;
  }
  if (found.best.order == 0) return {};
  WarmUpFit fit = finishFit(blocks, found.refineAround);
  if (fit.isValid) widenByDrift(part, fit);
  return fit;
}

}  // namespace ash
