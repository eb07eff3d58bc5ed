// SPDX-License-Identifier: GPL-3.0-or-later
// One recorder at a time on a machine: two loads beside each other would measure each other.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

/// Held while a recorder is at work; the kernel gives it back when the process is gone, however it ends.
class MachineClaim {
 public:
  /// `root` is "" for this machine, else the tree that stands in for one. `who` is told to those who come later.
  /// Refused while another process of this user holds it.
  static Result<MachineClaim> take(const std::string& root, const std::string& who);

  MachineClaim(MachineClaim&& other) noexcept;
  MachineClaim& operator=(MachineClaim&& other) noexcept;
  ~MachineClaim();

 private:
  explicit MachineClaim(int descriptor) : m_descriptor(descriptor) {}
  int m_descriptor = -1;
};

}  // namespace ash
