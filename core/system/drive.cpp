// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/drive.h"

#include <fmt/format.h>
#include <sys/stat.h>
#include <sys/sysmacros.h>

#include <filesystem>
#include <set>

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr int kDeepestDrive = 8;  // a mapped device on a mapped device on …

void collect(const fs::path& device, int depth, std::set<std::string>& drives) {
  std::error_code error;
  const fs::path folder = fs::canonical(device, error);
  if (error || depth > kDeepestDrive) return;
  // A partition's folder stands inside that of its drive.
  if (fs::exists(folder / "partition", error)) return collect(folder.parent_path(), depth + 1, drives);
  bool hasParts = false;
  for (const fs::directory_entry& part : fs::directory_iterator(folder / "slaves", error)) {
    hasParts = true;
    collect(part.path(), depth + 1, drives);
  }
  if (!hasParts) drives.insert(folder.filename().string());
}

}  // namespace

std::vector<std::string> drivesOfDevice(unsigned major, unsigned minor, const std::string& sysfs) {
  std::set<std::string> drives;
  collect(fs::path(sysfs) / "dev/block" / fmt::format("{}:{}", major, minor), 0, drives);
  return {drives.begin(), drives.end()};
}

std::vector<std::string> drivesOf(const std::string& path, const std::string& sysfs) {
  struct stat file {};
  fs::path at = path;
  // What is not there yet will be made on the drive of its folder.
  while (stat(at.c_str(), &file) != 0) {
    std::error_code error;
    const fs::path above = fs::absolute(at, error).parent_path();
    if (error || above == at) return {};
    at = above;
  }
  return drivesOfDevice(major(file.st_dev), minor(file.st_dev), sysfs);
}

}  // namespace ash
