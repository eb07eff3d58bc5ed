// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/clock.h"

#include <ctime>

namespace ash {
namespace {
double secondsOf(clockid_t clock) {
  timespec now{};
  clock_gettime(clock, &now);
  return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9;
}
}  // namespace

double bootTimeS() { return secondsOf(CLOCK_BOOTTIME); }
double monotonicS() { return secondsOf(CLOCK_MONOTONIC); }

std::string isoTimeNow() {
  const std::time_t now = std::time(nullptr);
  std::tm local{};
  localtime_r(&now, &local);
  char text[40];
  const size_t length = std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%S%z", &local);
  std::string iso(text, length);
  if (length >= 5) iso.insert(length - 2, ":");  // +0200 -> +02:00
  return iso;
}

}  // namespace ash
