// SPDX-License-Identifier: GPL-3.0-or-later
// What the kernel tells of failing hardware: its log, record by record (Documentation/ABI/testing/dev-kmsg).
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ash {

/// A record of the kernel's own (not one that a program wrote into the log).
struct KernelRecord {
  double atS = 0;  ///< seconds since the machine was started, CLOCK_MONOTONIC
  std::string text;
};

/// "6,339,5140900,-;text": empty for a continuation line, a record of a program, or anything else.
std::optional<KernelRecord> parseKernelRecord(std::string_view line);

/// What kind of failure a record tells of: "machine check", "memory error", "bus error", "graphics reset", "drive
/// error", "heat", "no memory", "lockup", "supply voltage". Empty = none.
std::string_view failureIn(std::string_view text);

/// Follows the kernel's log from the moment it is opened. Never blocks.
class KernelLog {
 public:
  /// `root` is "" for this machine, else a tree with a dev/kmsg file whose lines are records.
  explicit KernelLog(const std::string& root);
  ~KernelLog();
  KernelLog(const KernelLog&) = delete;
  KernelLog& operator=(const KernelLog&) = delete;

  /// "read", "needs rights" or "not there".
  const std::string& state() const { return m_state; }
  /// Skips what has been logged up to now.
  void skipPast();
  /// Records since the last call, at most some thousands.
  std::vector<KernelRecord> take();

 private:
  int m_descriptor = -1;
  std::string m_state;
  std::string m_rest;  // a line that is not yet whole
};

/// The kernel's own words on having killed process `pid` for want of memory; empty when the log tells of none.
std::string killForMemory(const std::string& root, int pid);

}  // namespace ash
