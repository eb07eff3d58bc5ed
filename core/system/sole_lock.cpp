// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/sole_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <utility>

namespace ash {

Result<SoleLock> SoleLock::take(const std::string& path) {
  const int file = open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0600);
  if (file < 0) return Error::io("lock", path, errno);
  SoleLock lock(file);
  lock.m_isOurs = flock(file, LOCK_EX | LOCK_NB) == 0;
  return lock;
}

SoleLock::SoleLock(SoleLock&& other) noexcept
    : m_file(std::exchange(other.m_file, -1)), m_isOurs(std::exchange(other.m_isOurs, false)) {}

SoleLock& SoleLock::operator=(SoleLock&& other) noexcept {
  std::swap(m_file, other.m_file);
  std::swap(m_isOurs, other.m_isOurs);
  return *this;
}

SoleLock::~SoleLock() {
  if (m_file >= 0) close(m_file);
}

std::string SoleLock::note() const {
  char text[200] = {};
  const ssize_t length = pread(m_file, text, sizeof text - 1, 0);
  return length > 0 ? std::string(text, static_cast<size_t>(length)) : std::string();
}

void SoleLock::setNote(const std::string& text) {
  if (ftruncate(m_file, 0) == 0) static_cast<void>(!pwrite(m_file, text.data(), text.size(), 0));
}

}  // namespace ash
