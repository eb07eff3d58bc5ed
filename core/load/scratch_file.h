// SPDX-License-Identifier: GPL-3.0-or-later
// The file that the storage load works on: it has no name in its folder, so it is gone whatever ends the load.
#pragma once

#include <string>

#include "model/result.h"

namespace ash {

class ScratchFile {
 public:
  ScratchFile() = default;
  ScratchFile(ScratchFile&& other) noexcept;
  ScratchFile& operator=(ScratchFile&& other) noexcept;
  ~ScratchFile();

  /// Opens a file of `bytes` in `folder`, past the page cache where the file system can (open(2), O_DIRECT), and clears
  /// away what an earlier load left there. Refuses anything that is no folder, and a folder with too little room.
  static Result<ScratchFile> make(const std::string& folder, long long bytes);

  int descriptor() const { return m_descriptor; }
  bool isDirect() const { return m_isDirect; }
  const std::string& folder() const { return m_folder; }

  /// Removes files of loads that are gone from a folder; how many. Where a file system has no nameless files, a power
  /// cut between making and unlinking could leave one.
  static int clearLeftovers(const std::string& folder);
  static constexpr const char* kNameStart = ".ash-gauge-load-";

 private:
  std::string m_folder;
  int m_descriptor = -1;
  bool m_isDirect = false;
};

}  // namespace ash
