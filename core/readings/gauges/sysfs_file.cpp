// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/gauges/sysfs_file.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <charconv>
#include <utility>
#include <vector>

namespace ash {
namespace {
constexpr int kErrorsBeforeBackoff = 5;
constexpr double kRetryEveryS = 5;
constexpr double kLookAgainS = 1;
constexpr size_t kFirstText = 4096;
constexpr size_t kLargestText = 65536;
}  // namespace

std::optional<int64_t> parseKernelInteger(std::string_view text) {
  const size_t first = text.find_first_not_of(" \t");
  if (first == std::string_view::npos) return std::nullopt;
  text.remove_prefix(first);
  if (text.starts_with('+')) text.remove_prefix(1);
  int64_t value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc()) return std::nullopt;
  const std::string_view rest(end, static_cast<size_t>(text.data() + text.size() - end));
  if (rest.find_first_not_of(" \t\n") != std::string_view::npos) return std::nullopt;
  return value;
}

std::optional<std::string> readSmallFile(const std::string& path) {
  SysfsFile file(path);
  auto text = file.readText(0);
  if (!text) return std::nullopt;
  constexpr std::string_view kBlank(" \t\r\n\0", 5);
  const size_t first = text->find_first_not_of(kBlank);
  if (first == std::string::npos) return std::string();
  return text->substr(first, text->find_last_not_of(kBlank) - first + 1);
}

Status overwriteSmallFile(const std::string& path, const std::string& text) {
  const int descriptor = ::open(path.c_str(), O_WRONLY | O_CLOEXEC);
  if (descriptor < 0) return Error::io("write", path, errno);
  struct stat status {};
  const bool isKnown = ::fstat(descriptor, &status) == 0 && status.st_size <= static_cast<off_t>(kLargestText);
  std::string line = text + "\n";
  if (isKnown) line.resize(std::max(line.size(), static_cast<size_t>(status.st_size)), '\n');
  const ssize_t written = isKnown ? ::pwrite(descriptor, line.data(), line.size(), 0) : -1;
  const int error = isKnown ? errno : EFBIG;
  ::close(descriptor);
  return written == static_cast<ssize_t>(line.size()) ? Status() : Error::io("write", path, error);
}

SysfsFile::SysfsFile(SysfsFile&& other) noexcept { *this = std::move(other); }

SysfsFile& SysfsFile::operator=(SysfsFile&& other) noexcept {
  if (this == &other) return *this;
  close();
  m_path = std::move(other.m_path);
  m_text = std::move(other.m_text);
  m_descriptor = std::exchange(other.m_descriptor, -1);
  m_lastError = other.m_lastError;
  m_errorsInARow = other.m_errorsInARow;
  m_retryAtS = other.m_retryAtS;
  m_lookedS = other.m_lookedS;
  m_inode = other.m_inode;
  return *this;
}

SysfsFile::~SysfsFile() { close(); }

void SysfsFile::close() {
  if (m_descriptor >= 0) ::close(m_descriptor);
  m_descriptor = -1;
}

void SysfsFile::noteError(int error, double nowS) {
  m_lastError = error;
  if (error == ENODEV || error == ENOENT) close();
  if (++m_errorsInARow >= kErrorsBeforeBackoff) m_retryAtS = nowS + kRetryEveryS;
}

void SysfsFile::openAnew() {
  m_descriptor = ::open(m_path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  struct stat status {};
  m_inode = m_descriptor >= 0 && ::fstat(m_descriptor, &status) == 0 ? status.st_ino : 0;
}

bool SysfsFile::isStillTheSame(double nowS) {
  if (nowS - m_lookedS < kLookAgainS) return true;
  m_lookedS = nowS;
  struct stat status {};
  return ::stat(m_path.c_str(), &status) == 0 && status.st_ino == m_inode;
}

std::optional<std::string_view> SysfsFile::readInto(char* buffer, size_t size, double nowS) {
  if (m_errorsInARow >= kErrorsBeforeBackoff && nowS < m_retryAtS) return std::nullopt;
  if (m_descriptor >= 0 && !isStillTheSame(nowS)) close();
  if (m_descriptor < 0) openAnew();
  if (m_descriptor < 0) {
    noteError(errno, nowS);
    return std::nullopt;
  }
  const ssize_t length = ::pread(m_descriptor, buffer, size, 0);
  if (length < 0) {
    noteError(errno, nowS);
    return std::nullopt;
  }
  m_lastError = 0;
  m_errorsInARow = 0;
  return std::string_view(buffer, static_cast<size_t>(length));
}

std::optional<int64_t> SysfsFile::readInteger(double nowS) {
  std::array<char, 64> buffer;
  const auto text = readInto(buffer.data(), buffer.size(), nowS);
  if (!text || text->size() == buffer.size()) return std::nullopt;
  return parseKernelInteger(*text);
}

std::optional<std::string> SysfsFile::readText(double nowS) {
  const auto text = viewText(nowS);
  if (!text) return std::nullopt;
  return std::string(*text);
}

std::optional<std::string_view> SysfsFile::viewText(double nowS) {
  if (m_text.empty()) m_text.resize(kFirstText);
  while (true) {
    const auto text = readInto(m_text.data(), m_text.size(), nowS);
    if (!text || text->size() < m_text.size() || m_text.size() >= kLargestText) return text;
    m_text.resize(m_text.size() * 4);
  }
}

}  // namespace ash
