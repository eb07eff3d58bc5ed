// SPDX-License-Identifier: GPL-3.0-or-later
// One recorder at a time on a machine: two loads beside each other would measure each other.
#pragma once

#include <string>
#include <utility>

#include "model/result.h"
#include "system/sole_lock.h"

namespace ash {

/// Held while a recorder is at work; the kernel gives it back when the process is gone, however it ends.
class MachineClaim {
 public:
  /// `root` is "" for this machine, else the tree that stands in for one. `who` is told to those who come later.
  /// Refused while another process of this user holds it.
  static Result<MachineClaim> take(const std::string& root, const std::string& who);

 private:
  explicit MachineClaim(SoleLock lock) : m_lock(std::move(lock)) {}
  SoleLock m_lock;
};

}  // namespace ash
