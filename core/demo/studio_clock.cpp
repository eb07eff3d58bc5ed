// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/studio_clock.h"

#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <random>

namespace ash {
namespace {

constexpr int kOpensAtHour = 10, kClosesAtHour = 17;

std::chrono::sys_days dayOf(long long number) { return std::chrono::sys_days(std::chrono::days(number)); }

}  // namespace

StudioClock::StudioClock(const std::string& firstStart) {
  int year = 0, month = 0, day = 0, hour = 0, minute = 0;
  std::sscanf(firstStart.c_str(), "%d-%d-%dT%d:%d", &year, &month, &day, &hour, &minute);
  m_day = std::chrono::sys_days(std::chrono::year(year) / month / day).time_since_epoch().count();
  m_secondS = hour * 3600.0 + minute * 60.0;
}

std::string StudioClock::text() const {
  const std::chrono::year_month_day date(dayOf(m_day));
  const auto second = static_cast<int>(m_secondS);
  return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}+02:00", static_cast<int>(date.year()),
                     static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()), second / 3600,
                     second / 60 % 60, second % 60);
}

void StudioClock::advance(double seconds) {
  m_secondS += seconds;
  if (m_secondS < kClosesAtHour * 3600.0) return;
  ++m_day;
  m_secondS = kOpensAtHour * 3600.0 + std::fmod(m_secondS, 900);
}

void varyMounting(sim::BenchSpec& spec, uint64_t seed) {
  std::mt19937_64 random(seed);
  const auto uniform = [&] { return static_cast<double>(random() >> 11) * 0x1p-53 * 2 - 1; };
  spec.room.startC += 0.5 * uniform();
  for (sim::LinkSpec& link : spec.links) {
    const double factor = 1 + 0.006 * uniform();
    link.wPerK *= factor;
    link.fanWPerK *= factor;
  }
}

}  // namespace ash
