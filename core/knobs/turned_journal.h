// SPDX-License-Identifier: GPL-3.0-or-later
// What is turned on a machine now, on disk before anything is turned.
#pragma once

#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

/// One file of a knob that was written.
struct TurnedFile {
  std::string knob, file;  ///< file below the root
  std::string before;      ///< its text before it was first turned
  bool isFanMode = false;  ///< pwmN_enable: goes back before all others
};

/// A file of its own for each machine (or tree), below $XDG_STATE_HOME/ash-gauge. One process at a time holds it.
class TurnedJournal {
 public:
  /// Refused: another process holds it; what stands there cannot be read.
  static Result<TurnedJournal> open(const std::string& root);
  /// Something may be turned still, by a process that goes on or by one that is gone.
  static bool isThere(const std::string& root);
  TurnedJournal(TurnedJournal&& other) noexcept;
  TurnedJournal& operator=(TurnedJournal&& other) noexcept;
  TurnedJournal(const TurnedJournal&) = delete;
  TurnedJournal& operator=(const TurnedJournal&) = delete;
  ~TurnedJournal();

  /// In the order in which they were turned, each file once. Of an earlier boot: none, the machine has begun anew.
  const std::vector<TurnedFile>& turned() const { return m_turned; }
  /// Is on disk, synced, when it returns; nothing happens for a file that is there.
  Status add(const TurnedFile& one);
  /// It is back.
  Status remove(const std::string& file);

 private:
  TurnedJournal(std::string path, std::string boot, int lock);
  Status write() const;

  std::string m_path, m_boot;
  int m_lock = -1;
  std::vector<TurnedFile> m_turned;
};

}  // namespace ash
