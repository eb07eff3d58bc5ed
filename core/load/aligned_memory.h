// SPDX-License-Identifier: GPL-3.0-or-later
// Memory of whole pages for the loads that fill it: aligned, given back when it goes.
#pragma once

#include <cstddef>

#include "model/result.h"

namespace ash {

class AlignedMemory {
 public:
  AlignedMemory() = default;
  /// The kernel is asked for large pages. Fails with a sentence where there is not enough.
  static Result<AlignedMemory> make(size_t bytes);
  AlignedMemory(AlignedMemory&& other) noexcept;
  AlignedMemory& operator=(AlignedMemory&& other) noexcept;
  ~AlignedMemory();
  void* data() const { return m_data; }
  size_t size() const { return m_bytes; }

 private:
  void* m_data = nullptr;
  size_t m_bytes = 0;
};

}  // namespace ash
