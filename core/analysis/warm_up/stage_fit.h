// SPDX-License-Identifier: GPL-3.0-or-later
// Sums of first-order stages of heat fitted to readings: least squares that separates the linear from the nonlinear
// part. The mathematics under settling.h; knows nothing of temperatures.
#pragma once

#include <Eigen/Dense>
#include <optional>
#include <vector>

#include "analysis/series/series.h"

namespace ash {

/// Readings as means over spans of time, in order and not overlapping. A single reading is a span without length.
struct WeightedSpans {
  std::vector<double> fromS, toS, value;
  std::vector<double> weight;  ///< 1/variance up to a common factor
  size_t size() const { return value.size(); }
  void add(double from, double to, double mean, double itsWeight) {
    fromS.push_back(from);
    toS.push_back(to);
    value.push_back(mean);
    weight.push_back(itsWeight);
  }
};

/// What drives the stages: input per span (1 = as at the end), and before the first span. A stage of time constant τ
/// follows τ·du/dt = p − u; c = u − 1 goes to 0 when the input stays as it is at the end.
class StageInput {
 public:
  /// The input 1 from `startS` on, after nothing: c(t) = −exp(−(t − startS)/τ).
  static StageInput constant(const WeightedSpans& spans, double startS);
  /// `before` are lengths (s) and inputs of the time before the first span, the stages at rest at its first input;
  /// `inSpan` and `inGap` are the inputs during span i and between the end of span i − 1 and its start.
  static StageInput of(const WeightedSpans& spans, std::vector<std::pair<double, double>> before,
                       std::vector<double> inSpan, std::vector<double> inGap);

  /// Mean of c over each span; where asked for also c at the end of each, and the derivative of the means by ln τ.
  Eigen::VectorXd means(double tauS, Eigen::VectorXd* atEnd = nullptr, Eigen::VectorXd* byLogTau = nullptr) const;

 private:
  double m_restInput = 0;
  std::vector<std::pair<double, double>> m_before;
  std::vector<double> m_gapS, m_gapInput, m_spanS, m_spanInput;
};

/// value = final + Σ amplitude_k · c_k(t). Standard errors from the linearised problem at the minimum.
struct StageFit {
  size_t order() const { return tausS.size(); }
  double final = kMissing;
  std::vector<double> tausS;       ///< rising
  std::vector<double> amplitudes;  ///< in the same order
  double rss = INFINITY;           ///< weighted sum of squared residuals
  bool hasConverged = false;
  Eigen::MatrixXd covariance;  ///< of (final, amplitudes, ln taus) for residual variance 1
};

struct StageProblem {
  const WeightedSpans& spans;
  const StageInput& input;
  /// The value at rest before the input came, where it is known: final = start + Σ amplitudes then.
  std::optional<double> start;
  double shortestTauS = 0;  ///< bounds of the search
  double longestTauS = 0;
};

/// The best coefficients for given time constants.
StageFit solveLinear(const StageProblem& problem, const std::vector<double>& tausS);

/// The minimum near given time constants (Levenberg-Marquardt on ln τ by variable projection, Golub and Pereyra 1973).
/// `tolerance` is the step of ln τ at which it is content.
StageFit polish(const StageProblem& problem, std::vector<double> tausS, int mostSteps = 60, double tolerance = 1e-12);

/// What is left between readings and fit, per span.
Eigen::VectorXd residualsOf(const StageProblem& problem, const StageFit& fit);

/// Starting points: for orders 1 … `mostOrder` the best combination of time constants on a logarithmic grid.
std::vector<std::vector<double>> startingPoints(const StageProblem& problem, size_t mostOrder);

}  // namespace ash
