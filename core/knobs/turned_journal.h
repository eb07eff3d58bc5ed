// SPDX-License-Identifier: GPL-3.0-or-later
// What is turned on a machine now, on disk before anything is turned.
#pragma once

#include <string>
#include <vector>

#include "knobs/knob_hand.h"
#include "model/result.h"

namespace ash {

/// One file of a knob that was written.
struct TurnedFile {
  std::string knob, file;  ///< file below the root
  std::string before;      ///< its text before it was turned by this one
  TurnedBy by = TurnedBy::Run;

  bool isSame(const TurnedFile& other) const { return file == other.file && by == other.by; }
};

/// A file of its own for each machine (or tree), below stateFolder(). One process at a time holds it.
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

  /// In the order in which they were turned, each file once a hand. Of an earlier boot: none, the machine has begun
  /// anew.
  const std::vector<TurnedFile>& turned() const { return m_turned; }
  /// Is on disk, synced, when it returns; what is there already keeps what it says.
  Status add(const std::vector<TurnedFile>& files);
  /// They are back.
  Status remove(const std::vector<TurnedFile>& files);

 private:
  TurnedJournal(std::string path, std::string boot, int lock);
  Status write() const;

  std::string m_path, m_boot;
  int m_lock = -1;
  std::vector<TurnedFile> m_turned;
};

}  // namespace ash
