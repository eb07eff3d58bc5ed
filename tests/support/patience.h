// SPDX-License-Identifier: GPL-3.0-or-later
// How long a test waits for what takes no time of its own.
#pragma once

#include <chrono>
#include <thread>

namespace ash::tests {

/// By how much a bound in seconds is widened: the thread sanitizer makes our code five to fifteen times slower (its
/// documentation, "Introduction").
constexpr double patience() {
#ifdef __SANITIZE_THREAD__
  return 10;
#else
  return 1;
#endif
}

/// Asks again and again until it is so; false when it was not within the time.
template <typename F>
bool eventually(F isSo, double withinS = 20) {
  const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(withinS * patience());
  while (!isSo()) {
    if (std::chrono::steady_clock::now() > end) return false;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  return true;
}

}  // namespace ash::tests
