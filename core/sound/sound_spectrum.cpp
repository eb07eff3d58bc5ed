// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound/sound_spectrum.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <complex>
#include <numbers>
#include <unsupported/Eigen/FFT>

#include "sound/full_scale.h"
#include "sound/weighting.h"

namespace ash {
namespace {

constexpr double kWindowS = 0.34;

size_t lengthFor(double rateHz) { return std::bit_floor(static_cast<size_t>(std::max(rateHz * kWindowS, 1024.0))); }

// The share of a line that lies between two frequencies.
double shareOfLine(size_t line, double widthHz, double fromHz, double toHz) {
  const double low = (static_cast<double>(line) - 0.5) * widthHz, high = low + widthHz;
  return std::max(0.0, std::min(high, toHz) - std::max(low, fromHz)) / widthHz;
}

}  // namespace

SpectrumAverage::SpectrumAverage(double rateHz) : m_rateHz(rateHz), m_length(lengthFor(rateHz)) {
  m_sum.resize(m_length / 2 + 1);
  for (size_t i = 0; i < m_length; ++i) {
    const double turn = 2 * std::numbers::pi * static_cast<double>(i) / static_cast<double>(m_length);
    m_window.push_back(static_cast<float>(0.5 - 0.5 * std::cos(turn)));
  }
}

void SpectrumAverage::take(std::span<const float> samples) {
  while (!samples.empty()) {
    const size_t some = std::min(samples.size(), m_length - m_waiting.size());
    m_waiting.insert(m_waiting.end(), samples.begin(), samples.begin() + static_cast<std::ptrdiff_t>(some));
    samples = samples.subspan(some);
    if (m_waiting.size() < m_length) return;
    addWindow();
    m_waiting.erase(m_waiting.begin(), m_waiting.begin() + static_cast<std::ptrdiff_t>(m_length / 2));
  }
}

void SpectrumAverage::addWindow() {
  std::vector<float> windowed(m_length);
  std::transform(m_waiting.begin(), m_waiting.end(), m_window.begin(), windowed.begin(), std::multiplies<>());
  Eigen::FFT<float> transform;
  transform.SetFlag(Eigen::FFT<float>::HalfSpectrum);
  std::vector<std::complex<float>> lines;
  transform.fwd(lines, windowed);
  for (size_t k = 0; k < m_sum.size(); ++k) m_sum[k] += std::norm(lines[k]);
  ++m_windows;
}

PowerSpectrum SpectrumAverage::finish() {
  PowerSpectrum spectrum;
  spectrum.widthHz = m_rateHz / static_cast<double>(m_length);
  if (m_windows > 0) {
    // The mean square of a Hann window is 3/8; every line but the first and the last stands for two.
    const double length = static_cast<double>(m_length);
    const double scale = 2 / (0.375 * length * length * static_cast<double>(m_windows));
    spectrum.power = m_sum;
    for (double& power : spectrum.power) power *= scale;
    spectrum.power.front() /= 2;
    spectrum.power.back() /= 2;
  }
  std::fill(m_sum.begin(), m_sum.end(), 0.0);
  m_windows = 0;
  return spectrum;
}

std::array<double, kBandsHz.size()> bandLevelsDb(const PowerSpectrum& spectrum) {
  std::array<double, kBandsHz.size()> levels{};
  const double reachHz = spectrum.widthHz * static_cast<double>(spectrum.power.size());
  const double halfBand = std::pow(10, 0.05);
  for (size_t band = 0; band < levels.size(); ++band) {
    const double middleHz = 1000 * std::pow(10, (static_cast<double>(band) - 10) / 10);
    const double fromHz = middleHz / halfBand, toHz = middleHz * halfBand;
    double sum = 0;
    for (auto k = static_cast<size_t>(fromHz / spectrum.widthHz); k < spectrum.power.size(); ++k) {
      const double share = shareOfLine(k, spectrum.widthHz, fromHz, toHz),
                   atHz = static_cast<double>(k) * spectrum.widthHz;
      if (atHz - spectrum.widthHz > toHz) break;
      if (share > 0 && k > 0) sum += share * spectrum.power[k] * std::pow(10, aWeightingDb(atHz) / 10);
    }
    levels[band] = toHz <= reachHz ? fullScaleDb(sum) : kMissing;
  }
  return levels;
}

}  // namespace ash
