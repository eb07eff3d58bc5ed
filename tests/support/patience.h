// SPDX-License-Identifier: GPL-3.0-or-later
// How long a test waits for what takes no time of its own.
#pragma once

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

}  // namespace ash::tests
