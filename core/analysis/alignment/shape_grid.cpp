// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/alignment/shape_grid.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <unsupported/Eigen/FFT>

namespace ash {
namespace {

using Spectrum = std::vector<std::complex<double>>;

/// Transforms rows of one length, which is long enough that ends do not meet.
class Transform {
 public:
  explicit Transform(size_t cells) {
    while (m_length < cells) m_length *= 2;
    m_transform.SetFlag(Eigen::FFT<double>::HalfSpectrum);
  }
  template <typename F>
  Spectrum of(const std::vector<double>& row, F value) {
    std::vector<double> padded(m_length, 0.0);
    for (size_t i = 0; i < row.size(); ++i) padded[i] = std::isnan(row[i]) ? 0.0 : value(row[i]);
    Spectrum spectrum;
    m_transform.fwd(spectrum, padded);
    return spectrum;
  }
  // Σ run[i + distance] · log[i], of both spectra.
  std::vector<double> products(const Spectrum& run, const Spectrum& log) {
    Spectrum both(run.size());
    for (size_t i = 0; i < run.size(); ++i) both[i] = run[i] * std::conj(log[i]);
    std::vector<double> sums;
    m_transform.inv(sums, both, static_cast<Eigen::Index>(m_length));
    return sums;
  }
  size_t length() const { return m_length; }

 private:
  size_t m_length = 2;
  Eigen::FFT<double> m_transform;
};

double itself(double value) { return value; }
double square(double value) { return value * value; }
double one(double) { return 1; }

double totalOf(const std::vector<double>& row) {
  double total = 0;
  for (const double value : row) total += std::isnan(value) ? 0 : value * value;
  return total;
}

// So that sums of squares lose nothing.
std::vector<double> scaled(std::vector<double> row) {
  double most = 0;
  for (const double value : row) most = std::isnan(value) ? most : std::max(most, std::abs(value));
  for (double& value : row) value = most > 0 ? value / most : value;
  return row;
}

}  // namespace

ShapeGrid gridOf(const SeriesView& series, double stepS) {
  ShapeGrid grid{series.t.front(), stepS, {}};
  const auto cells = static_cast<size_t>((series.t.back() - grid.fromS) / stepS) + 1;
  std::vector<double> counts(cells, 0.0);
  grid.values.assign(cells, 0.0);
  for (size_t i = 0; i < series.size(); ++i) {
    const size_t cell = std::min(cells - 1, static_cast<size_t>((series.t[i] - grid.fromS) / stepS));
    grid.values[cell] += series.v[i];
    counts[cell] += 1;
  }
  for (size_t i = 0; i < cells; ++i) grid.values[i] = counts[i] > 0 ? grid.values[i] / counts[i] : kMissing;
  for (size_t i = 1; i + 1 < cells; ++i) {
    if (counts[i] == 0 && counts[i - 1] > 0 && counts[i + 1] > 0)
      grid.values[i] = (grid.values[i - 1] + grid.values[i + 1]) / 2;
  }
  return grid;
}

std::vector<double> changesOf(const std::vector<double>& values, size_t scale) {
  std::vector<double> changes(values.size(), kMissing);
  double sum = 0;  // of the cells ahead less those behind
  size_t missing = 0;
  const auto put = [&](size_t i, double sign, bool isIn) {
    if (std::isnan(values[i]))
      isIn ? ++missing : --missing;
    else
      sum += sign * values[i];
  };
  for (size_t i = 0; i < 2 * scale && i < values.size(); ++i) put(i, i < scale ? -1 : 1, true);
  for (size_t i = scale; i + scale <= values.size(); ++i) {
    if (missing == 0) changes[i] = sum / static_cast<double>(scale);
    if (i + scale == values.size()) break;
    put(i - scale, 1, false);
    if (!std::isnan(values[i])) sum -= 2 * values[i];
    put(i + scale, 1, true);
  }
  return changes;
}

LikenessAtEveryDistance::LikenessAtEveryDistance(const std::vector<double>& run, const std::vector<double>& log)
    : m_runCells(run.size()), m_logCells(log.size()) {
  const std::vector<double> a = scaled(run), b = scaled(log);
  Transform transform(a.size() + b.size());
  const Spectrum a1 = transform.of(a, one), b1 = transform.of(b, one), ai = transform.of(a, itself),
                 bi = transform.of(b, itself);
  const auto n = transform.products(a1, b1), sumA = transform.products(ai, b1), sumB = transform.products(a1, bi),
             squaresA = transform.products(transform.of(a, square), b1),
             squaresB = transform.products(a1, transform.of(b, square)), both = transform.products(ai, bi);
  const double allA = totalOf(a), allB = totalOf(b);
  m_all.resize(a.size() + b.size() - 1);
  for (long long distance = lowest(); distance <= highest(); ++distance) {
    const size_t i =
        static_cast<size_t>(distance < 0 ? distance + static_cast<long long>(transform.length()) : distance);
    Likeness& likeness = m_all[static_cast<size_t>(distance - lowest())];
    likeness.cells = std::round(n[i]);
    if (likeness.cells < 3) continue;
    const double spreadA = squaresA[i] - sumA[i] * sumA[i] / likeness.cells;
    const double spreadB = squaresB[i] - sumB[i] * sumB[i] / likeness.cells;
    constexpr double kNothing = 1e-9;
    if (spreadA < kNothing * allA || spreadB < kNothing * allB) continue;
    const double covariance = both[i] - sumA[i] * sumB[i] / likeness.cells;
    likeness.correlation = std::clamp(covariance / std::sqrt(spreadA * spreadB), -1.0, 1.0);
    const double share = std::max(squaresA[i] / allA, squaresB[i] / allB);
    likeness.worth = likeness.correlation * std::sqrt(std::clamp(share, 0.0, 1.0));
  }
}

long long LikenessAtEveryDistance::best(double cells, long long from, long long apart) const {
  long long best = lowest();
  for (long long distance = lowest(); distance <= highest(); ++distance) {
    if (at(distance).cells < cells || std::llabs(distance - from) <= apart) continue;
    if (at(best).cells < cells || at(distance).worth > at(best).worth) best = distance;
  }
  return best;
}

}  // namespace ash
