// SPDX-License-Identifier: GPL-3.0-or-later
// A folder for what is on its way into a zip file or out of it.
#pragma once

#include <stdlib.h>

#include <cerrno>
#include <filesystem>
#include <string>
#include <utility>

#include "model/result.h"

namespace ash {

/// A new folder beside a file; whatever is in it goes with this.
class ScratchFolder {
 public:
  static Result<ScratchFolder> beside(const std::string& file) {
    std::string name = file + ".part-XXXXXX";
    if (mkdtemp(name.data()) == nullptr) return Error::io("make a folder beside", file, errno);
    return ScratchFolder(std::move(name));
  }
  ScratchFolder(ScratchFolder&& other) noexcept : m_path(std::exchange(other.m_path, {})) {}
  ScratchFolder& operator=(ScratchFolder&&) = delete;
  ~ScratchFolder() {
    std::error_code error;
    if (!m_path.empty()) std::filesystem::remove_all(m_path, error);
  }
  const std::string& path() const { return m_path; }

 private:
  explicit ScratchFolder(std::string path) : m_path(std::move(path)) {}
  std::string m_path;
};

}  // namespace ash
