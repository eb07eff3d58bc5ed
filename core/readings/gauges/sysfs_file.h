// SPDX-License-Identifier: GPL-3.0-or-later
// One number of the kernel: a file that is opened once and read with pread at offset 0 each time.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"

namespace ash {

/// The strict reading of a kernel number: blanks, one signed 64-bit integer, an optional newline. Anything else (text,
/// nothing, overflow, NUL) is no value, never 0. Source: docs/linux-readings.md, rule "Reading a value".
std::optional<int64_t> parseKernelInteger(std::string_view text);

/// A small text file whole, trimmed of blanks and NULs; empty when it cannot be read.
std::optional<std::string> readSmallFile(const std::string& path);

/// Writes a number or a word over what a small file of a tree holds, in one piece, so that who reads it meanwhile sees
/// the old one or the new one and never nothing: it is not cut first, what was longer is filled up with newlines. Not
/// for the kernel's own files, whose length says nothing.
Status overwriteSmallFile(const std::string& path, const std::string& text);

/// A kernel file kept open. After ENODEV or ENOENT it is opened anew, and once a second it is compared with what stands
/// at its path (files of a tree outlive their folder while they are open); after repeated errors it is tried every few
/// seconds only, so that a dead device does not slow down the rest. Movable; one thread at a time.
class SysfsFile {
 public:
  explicit SysfsFile(std::string path) : m_path(std::move(path)) {}
  SysfsFile(SysfsFile&& other) noexcept;
  SysfsFile& operator=(SysfsFile&& other) noexcept;
  SysfsFile(const SysfsFile&) = delete;
  SysfsFile& operator=(const SysfsFile&) = delete;
  ~SysfsFile();

  /// The integer that stands in it now, empty when there is none. `nowS` paces retries after errors.
  std::optional<int64_t> readInteger(double nowS);
  /// The whole text (up to 64 KiB).
  std::optional<std::string> readText(double nowS);
  /// The same without a copy; good until the next call.
  std::optional<std::string_view> viewText(double nowS);
  /// errno of the last attempt, 0 when it went well.
  int lastError() const { return m_lastError; }
  const std::string& path() const { return m_path; }

 private:
  std::optional<std::string_view> readInto(char* buffer, size_t size, double nowS);
  void noteError(int error, double nowS);
  void openAnew();
  bool isStillTheSame(double nowS);
  void close();

  std::string m_path;
  std::vector<char> m_text;  // made when a text is asked for
  int m_descriptor = -1;
  int m_lastError = 0;
  int m_errorsInARow = 0;
  double m_retryAtS = 0;
  double m_lookedS = 0;  // when the path was last compared with what is open
  unsigned long long m_inode = 0;
};

}  // namespace ash
