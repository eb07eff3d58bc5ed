// SPDX-License-Identifier: GPL-3.0-or-later
// Tones that stand out: ECMA-74 (19th edition), annex D, tone-to-noise ratio.
#include <algorithm>
#include <cmath>

#include "sound/sound_spectrum.h"

namespace ash {
namespace {

constexpr double kLowestHz = 89.1, kHighestHz = 11'200;
constexpr size_t kHalfTone = 3;        // lines of a tone beside its highest: what a Hann window spreads it to
constexpr double kLineOverMedian = 4;  // a tone's highest line, of its neighbourhood's mean

// ECMA-74, D.7.
double criticalBandHz(double hz) { return 25 + 75 * std::pow(1 + 1.4 * (hz / 1000) * (hz / 1000), 0.69); }

struct Edges {
  double lowHz, highHz;
};

// D.7: halves on both sides to 500 Hz, in equal ratios above.
Edges criticalBandAround(double hz) {
  const double width = criticalBandHz(hz);
  if (hz <= 500) return {hz - width / 2, hz + width / 2};
  const double low = -width / 2 + std::sqrt(width * width + 4 * hz * hz) / 2;
  return {low, low + width};
}

// D.7.6: from where on a tone is prominent.
double prominentFromDb(double hz) { return hz >= 1000 ? 8 : 8 + 8.33 * std::log2(1000 / hz); }

struct Lines {
  size_t from, to;  // both belong to it
};

double sumOf(const PowerSpectrum& spectrum, Lines lines) {
  double sum = 0;
  for (size_t k = lines.from; k <= lines.to; ++k) sum += spectrum.power[k];
  return sum;
}

Lines linesOf(const PowerSpectrum& spectrum, Edges edges) {
  const auto at = [&](double hz) { return static_cast<size_t>(std::max(std::lround(hz / spectrum.widthHz), 1L)); };
  return {at(edges.lowHz), std::min(at(edges.highHz), spectrum.power.size() - 1)};
}

bool isPeak(const PowerSpectrum& spectrum, size_t k) {
  const auto& power = spectrum.power;
  for (size_t beside = 1; beside <= kHalfTone; ++beside) {
    if (power[k] <= power[k - beside] || power[k] < power[k + beside]) return false;
  }
  const double around = (sumOf(spectrum, {k - 3 * kHalfTone, k - kHalfTone - 1}) +
                         sumOf(spectrum, {k + kHalfTone + 1, k + 3 * kHalfTone})) /
                        (4 * static_cast<double>(kHalfTone));
  return power[k] > kLineOverMedian * around;
}

std::vector<size_t> peaksOf(const PowerSpectrum& spectrum) {
  std::vector<size_t> peaks;
  const Lines all = linesOf(spectrum, {kLowestHz, kHighestHz});
  for (size_t k = std::max(all.from, 3 * kHalfTone + 1); k + 3 * kHalfTone < spectrum.power.size() && k <= all.to;
       ++k) {
    if (isPeak(spectrum, k)) peaks.push_back(k);
  }
  return peaks;
}

// Where the top of a Hann window's main lobe lies between the lines: a parabola through the logarithms.
double frequencyAt(const PowerSpectrum& spectrum, size_t k) {
  const double left = std::log(spectrum.power[k - 1]), top = std::log(spectrum.power[k]),
               right = std::log(spectrum.power[k + 1]);
  const double bend = left - 2 * top + right;
  const double shift = bend < 0 ? 0.5 * (left - right) / bend : 0;
  return (static_cast<double>(k) + std::clamp(shift, -0.5, 0.5)) * spectrum.widthHz;
}

// The noise below a tone: what the critical band holds without any tone, brought to its whole width (D.7.4).
Tone judge(const PowerSpectrum& spectrum, const std::vector<size_t>& peaks, size_t peak) {
  Tone tone;
  tone.hz = frequencyAt(spectrum, peak);
  const Lines band = linesOf(spectrum, criticalBandAround(tone.hz));
  double noise = sumOf(spectrum, band), noiseLines = static_cast<double>(band.to - band.from + 1);
  for (const size_t other : peaks) {
    if (other < band.from + kHalfTone || other + kHalfTone > band.to) continue;
    noise -= sumOf(spectrum, {other - kHalfTone, other + kHalfTone});
    noiseLines -= 2 * kHalfTone + 1;
  }
  const double perLine = noiseLines >= 4 ? std::max(noise, 0.0) / noiseLines : 0;
  const double ofTone = sumOf(spectrum, {peak - kHalfTone, peak + kHalfTone}) - perLine * (2 * kHalfTone + 1);
  const double ofNoise = perLine * criticalBandHz(tone.hz) / spectrum.widthHz;
  if (ofTone > 0 && ofNoise > 0) tone.overDb = 10 * std::log10(ofTone / ofNoise);
  return tone;
}

}  // namespace

std::vector<Tone> prominentTones(const PowerSpectrum& spectrum) {
  std::vector<Tone> tones;
  if (spectrum.power.empty()) return tones;
  const auto peaks = peaksOf(spectrum);
  for (const size_t peak : peaks) {
    const Tone tone = judge(spectrum, peaks, peak);
    if (tone.overDb >= prominentFromDb(tone.hz)) tones.push_back(tone);
  }
  std::sort(tones.begin(), tones.end(), [](const Tone& a, const Tone& b) { return a.overDb > b.overDb; });
  return tones;
}

}  // namespace ash
