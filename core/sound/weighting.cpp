// SPDX-License-Identifier: GPL-3.0-or-later
#include "sound/weighting.h"

#include <cmath>
#include <complex>
#include <numbers>

namespace ash {
namespace {

// IEC 61672-1:2013, annex E: the poles in Hz.
constexpr double kLowHz = 20.598997, kSecondHz = 107.65265, kThirdHz = 737.86223, kHighHz = 12194.217;
constexpr double kReferenceHz = 1000;
constexpr double kMatched = 0.33;  // of the rate: keeps 0.2 dB to 10 kHz and 0.9 dB to 20 kHz from 48 kHz on

double analogGain(double hz) {
  const double f2 = hz * hz;
  const auto plus = [f2](double pole) { return f2 + pole * pole; };
  return plus(0) * f2 * kHighHz * kHighHz /
         (plus(kLowHz) * std::sqrt(plus(kSecondHz) * plus(kThirdHz)) * plus(kHighHz));
}

}  // namespace

double aWeightingDb(double hz) { return 20 * std::log10(analogGain(hz) / analogGain(kReferenceHz)); }

AWeighting::Section AWeighting::highPass(double poleHz, double rateHz) {
  const double warped = std::tan(std::numbers::pi * poleHz / rateHz);
  const double gain = 1 / (1 + warped);
  return {gain, -gain, (warped - 1) / (1 + warped)};
}

AWeighting::Section AWeighting::lowPass(double poleHz, double rateHz) {
  const double pole = std::exp(-2 * std::numbers::pi * poleHz / rateHz);
  // The zero that makes the gain right at 0 and at kMatched of the rate, from
  // g²·(1 + c² + 2c·cos w) = M²·(1 + a² − 2a·cos w) with g = (1 − a)/(1 + c).
  const double cosine = std::cos(2 * std::numbers::pi * kMatched), over = kMatched * rateHz / poleHz;
  const double wanted = (1 + pole * pole - 2 * pole * cosine) / ((1 + over * over) * (1 - pole) * (1 - pole));
  const double half = wanted - cosine, rest = 1 - wanted;
  const double root = (half - std::sqrt(half * half - rest * rest)) / rest;
  const double zero = std::abs(root) < 1 ? root : 1 / root;
  const double gain = (1 - pole) / (1 + zero);
  return {gain, gain * zero, -pole};
}

AWeighting::AWeighting(double rateHz)
    : m_rateHz(rateHz), m_sections{highPass(kLowHz, rateHz),   highPass(kLowHz, rateHz), highPass(kSecondHz, rateHz),
                                   highPass(kThirdHz, rateHz), lowPass(kHighHz, rateHz), lowPass(kHighHz, rateHz)} {
  const double gain = std::pow(10, -gainDb(kReferenceHz) / 20);
  m_sections[0].b0 *= gain;
  m_sections[0].b1 *= gain;
}

double AWeighting::operator()(double sample) {
  for (Section& section : m_sections) {
    const double out = section.b0 * sample + section.b1 * section.x - section.a1 * section.y;
    section.x = sample;
    section.y = out;
    sample = out;
  }
  return sample;
}

double AWeighting::gainDb(double hz) const {
  const std::complex<double> back = std::polar(1.0, -2 * std::numbers::pi * hz / m_rateHz);
  double gain = 1;
  for (const Section& section : m_sections)
    gain *= std::abs((section.b0 + section.b1 * back) / (1.0 + section.a1 * back));
  return 20 * std::log10(gain);
}

}  // namespace ash
