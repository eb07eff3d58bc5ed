// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/space_reserve.h"

#include <fcntl.h>
#include <unistd.h>

#include <filesystem>
#include <limits>
#include <utility>

namespace ash {

SpaceReserve::SpaceReserve(std::string path, long long bytes) {
  const int file = open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC | O_NOFOLLOW, 0600);
  if (file < 0) return;
  m_path = std::move(path);
  const bool isThere = posix_fallocate(file, 0, bytes) == 0;
  close(file);
  if (!isThere) release();
}

SpaceReserve::SpaceReserve(SpaceReserve&& other) noexcept : m_path(std::exchange(other.m_path, {})) {}

SpaceReserve& SpaceReserve::operator=(SpaceReserve&& other) noexcept {
  std::swap(m_path, other.m_path);
  return *this;
}

bool SpaceReserve::release() {
  if (m_path.empty()) return false;
  const std::string path = std::exchange(m_path, {});
  return unlink(path.c_str()) == 0;
}

double freeSpaceB(const std::string& path) {
  std::error_code error;
  const auto folder = std::filesystem::absolute(path, error).parent_path();
  const auto space = std::filesystem::space(folder, error);
  return error ? std::numeric_limits<double>::quiet_NaN() : static_cast<double>(space.available);
}

}  // namespace ash
