// SPDX-License-Identifier: GPL-3.0-or-later
// What makes one run of the demo book unlike the next: its time, and its mounting.
#pragma once

#include <cstdint>
#include <string>

#include "sim/bench_spec.h"

namespace ash {

inline constexpr double kAsFastAsItGoes = 1e9;

/// The clock on the studio's wall: runs follow each other by day, none is begun in the evening.
class StudioClock {
 public:
  explicit StudioClock(const std::string& firstStart);  ///< "2026-09-24T10:00:00+02:00"
  std::string text() const;
  void advance(double seconds);

 private:
  long long m_day = 0;  ///< since 1970
  double m_secondS = 0;
};

/// No mounting is like the one before, and no day's room: a little of both, the same for the same seed.
void varyMounting(sim::BenchSpec& spec, uint64_t seed);

}  // namespace ash
