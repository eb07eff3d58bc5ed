// SPDX-License-Identifier: GPL-3.0-or-later
// Sounds that are worked out, and a microphone that hears them: a file behind ALSA's own plug-in.
#pragma once

#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <fstream>
#include <numbers>
#include <random>
#include <string>
#include <vector>

#include "tests/support/temp_folder.h"

namespace ash::tests {

using Samples = std::vector<float>;

/// A sine whose amplitude lies `db` over that of full scale.
inline Samples toneOf(double hz, double db, double seconds, double rateHz = 48'000) {
  Samples samples(static_cast<size_t>(seconds * rateHz));
  const double amplitude = std::pow(10, db / 20);
  for (size_t i = 0; i < samples.size(); ++i)
    samples[i] = static_cast<float>(amplitude * std::sin(2 * std::numbers::pi * hz * static_cast<double>(i) / rateHz));
  return samples;
}

/// White noise whose mean square lies `db` over that of a full-scale sine.
inline Samples noiseOf(double db, double seconds, unsigned seed = 1, double rateHz = 48'000) {
  std::mt19937 random(seed);
  std::normal_distribution<float> normal(0, static_cast<float>(std::sqrt(0.5) * std::pow(10, db / 20)));
  Samples samples(static_cast<size_t>(seconds * rateHz));
  for (float& sample : samples) sample = normal(random);
  return samples;
}

inline Samples operator+(Samples a, const Samples& b) {
  for (size_t i = 0; i < a.size() && i < b.size(); ++i) a[i] += b[i];
  return a;
}

inline Samples joined(Samples a, const Samples& b) {
  a.insert(a.end(), b.begin(), b.end());
  return a;
}

/// A capture device "bench" that gives these samples, 48 kHz, and then nothing.
class FileMicrophone {
 public:
  explicit FileMicrophone(const Samples& samples) {
    const std::string raw = m_folder.path() + "/sound.raw";
    std::ofstream file(raw, std::ios::binary);
    for (const float sample : samples) {
      const double wide = std::round(static_cast<double>(sample) * 2147483648.0);
      const auto value = static_cast<int32_t>(std::min(std::max(wide, -2147483648.0), 2147483647.0));
      file.write(reinterpret_cast<const char*>(&value), sizeof value);
    }
    std::ofstream(configuration())
        << "pcm.bench {\n type file\n slave.pcm { type null }\n file \"/dev/null\"\n infile \"" << raw
        << "\"\n format \"raw\"\n}\n";
    setenv("ALSA_CONFIG_PATH", configuration().c_str(), 1);
  }
  FileMicrophone(const FileMicrophone&) = delete;
  FileMicrophone& operator=(const FileMicrophone&) = delete;
  ~FileMicrophone() { unsetenv("ALSA_CONFIG_PATH"); }
  std::string configuration() const { return m_folder.path() + "/asound.conf"; }

 private:
  TempFolder m_folder;
};

}  // namespace ash::tests
