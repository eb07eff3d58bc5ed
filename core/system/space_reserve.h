// SPDX-License-Identifier: GPL-3.0-or-later
// Space kept free on a drive for the last words: given back when the drive is full.
#pragma once

#include <string>

namespace ash {

/// A file of that size beside what it is kept for; removed with release() or by the destructor. Where it cannot be made
/// there is no reserve, and nothing else is different.
class SpaceReserve {
 public:
  SpaceReserve() = default;
  SpaceReserve(std::string path, long long bytes);
  SpaceReserve(SpaceReserve&& other) noexcept;
  SpaceReserve& operator=(SpaceReserve&& other) noexcept;
  ~SpaceReserve() { release(); }

  /// True when there was something to give back.
  bool release();

 private:
  std::string m_path;
};

/// Bytes that may still be written to the drive of a file; missing (NaN) when that is not known.
double freeSpaceB(const std::string& path);

}  // namespace ash
