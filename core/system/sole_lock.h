// SPDX-License-Identifier: GPL-3.0-or-later
// A file that one process holds at a time (flock(2)); the kernel gives it back when that process is gone, however it
// ends.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

class SoleLock {
 public:
  /// Makes the file when it is missing. No error when another process holds it: isOurs() tells.
  static Result<SoleLock> take(const std::string& path);

  SoleLock(SoleLock&& other) noexcept;
  SoleLock& operator=(SoleLock&& other) noexcept;
  SoleLock(const SoleLock&) = delete;
  SoleLock& operator=(const SoleLock&) = delete;
  ~SoleLock();

  bool isOurs() const { return m_isOurs; }
  /// What its holder has written about itself; a short text.
  std::string note() const;
  void setNote(const std::string& text);

 private:
  explicit SoleLock(int file) : m_file(file) {}
  int m_file = -1;
  bool m_isOurs = false;
};

}  // namespace ash
