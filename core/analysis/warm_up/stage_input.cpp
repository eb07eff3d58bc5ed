// SPDX-License-Identifier: GPL-3.0-or-later
// First-order stages driven by an input that is constant in pieces: solved exactly, piece by piece.
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/stage_fit.h"

namespace ash {
namespace {

// Length of the piece over τ; mean of exp(−x) over it.
double meanDecay(double x, double decay) { return x < 1e-5 ? 1 - x / 2 : (1 - decay) / x; }

}  // namespace

StageInput StageInput::constant(const WeightedSpans& spans, double startS) {
  StageInput input;
  const size_t n = spans.size();
  input.m_gapInput.assign(n, 1.0);
  input.m_spanInput.assign(n, 1.0);
  input.m_gapS.resize(n);
  input.m_spanS.resize(n);
  for (size_t i = 0; i < n; ++i) {
    input.m_gapS[i] = spans.fromS[i] - (i == 0 ? startS : spans.toS[i - 1]);
    input.m_spanS[i] = spans.toS[i] - spans.fromS[i];
  }
  return input;
}

StageInput StageInput::of(const WeightedSpans& spans, std::vector<std::pair<double, double>> before,
                          std::vector<double> inSpan, std::vector<double> inGap) {
  StageInput input = constant(spans, spans.fromS.empty() ? 0 : spans.fromS.front());
  input.m_restInput = before.empty() ? 0 : before.front().second;
  input.m_before = std::move(before);
  input.m_spanInput = std::move(inSpan);
  input.m_gapInput = std::move(inGap);
  return input;
}

namespace {

/// A stage on its way through the pieces: its state, and the derivative of that by ln τ.
struct Way {
  double tauS;
  double state, byLogTau = 0;
  double x = -1, decay = 1;  // of the piece before: pieces of equal length are frequent

  void setLength(double lengthS) {
    const double next = lengthS / tauS;
    if (std::abs(next - x) <= 1e-9 * x) return;
    x = next;
    decay = std::exp(-x);
  }
  void go(double input) {
    byLogTau = (byLogTau + (state - input) * x) * decay;
    state = input + (state - input) * decay;
  }
};

}  // namespace

Eigen::VectorXd StageInput::means(double tauS, Eigen::VectorXd* atEnd, Eigen::VectorXd* byLogTau) const {
  const auto n = static_cast<Eigen::Index>(m_spanS.size());
  Eigen::VectorXd means(n);
  if (atEnd != nullptr) atEnd->resize(n);
  if (byLogTau != nullptr) byLogTau->resize(n);
  Way way{tauS, m_restInput};
  for (const auto& [lengthS, input] : m_before) {
    way.setLength(lengthS);
    way.go(input);
  }
  for (size_t i = 0; i < m_spanS.size(); ++i) {
    if (m_gapS[i] > 1e-9) {
      way.setLength(m_gapS[i]);
      way.go(m_gapInput[i]);
    }
    way.setLength(m_spanS[i]);
    const double mean = meanDecay(way.x, way.decay), off = way.state - m_spanInput[i];
    const auto row = static_cast<Eigen::Index>(i);
    means[row] = m_spanInput[i] + off * mean - 1;
    if (byLogTau != nullptr)
      (*byLogTau)[row] = way.byLogTau * mean + off * (way.x < 1e-5 ? way.x / 2 : mean - way.decay);
    way.go(m_spanInput[i]);
    if (atEnd != nullptr) (*atEnd)[row] = way.state - 1;
  }
  return means;
}

}  // namespace ash
