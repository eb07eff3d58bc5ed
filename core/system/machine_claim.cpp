// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/machine_claim.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <functional>
#include <utility>

#include "system/runtime_folder.h"

namespace ash {
namespace {

std::string claimName(const std::string& root) {
  if (root.empty()) return "this-machine";
  std::error_code error;
  const auto whole = std::filesystem::canonical(root, error);
  return fmt::format("tree-{:016x}", std::hash<std::string>()(error ? root : whole.string()));
}

}  // namespace

Result<MachineClaim> MachineClaim::take(const std::string& root, const std::string& who) {
  const auto folder = runtimeSubfolder("claims");
  if (!folder) return folder.error();
  const std::string path = *folder + "/" + claimName(root);
  const int file = open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0600);
  if (file < 0) return Error::io("claim the machine with", path, errno);
  MachineClaim claim(file);
  if (flock(file, LOCK_EX | LOCK_NB) != 0) {
    char other[200] = {};
    const ssize_t length = pread(file, other, sizeof other - 1, 0);
    return Error::environment(
        fmt::format("Another recording{}{} is at work on this machine, and two would measure each other; wait for it, "
                    "stop it (ashg stop), or give --beside-others.",
                    length > 0 ? " " : "", length > 0 ? other : ""));
  }
  // Only for the sentence above; the lock itself is what counts.
  if (ftruncate(file, 0) == 0) static_cast<void>(!pwrite(file, who.data(), who.size(), 0));
  return claim;
}

MachineClaim::MachineClaim(MachineClaim&& other) noexcept : m_descriptor(std::exchange(other.m_descriptor, -1)) {}

MachineClaim& MachineClaim::operator=(MachineClaim&& other) noexcept {
  std::swap(m_descriptor, other.m_descriptor);
  return *this;
}

MachineClaim::~MachineClaim() {
  if (m_descriptor >= 0) close(m_descriptor);
}

}  // namespace ash
