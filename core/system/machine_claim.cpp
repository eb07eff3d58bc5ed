// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/machine_claim.h"

#include <fmt/format.h>

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
  auto lock = SoleLock::take(path);
  if (!lock) return lock.error();
  if (!lock->isOurs()) {
    const std::string other = lock->note();
    return Error::environment(
        fmt::format("Another recording{}{} is at work on this machine, and two would measure each other; wait for it, "
                    "stop it (ashg stop), or give --beside-others.",
                    other.empty() ? "" : " ", other));
  }
  // Only for the sentence above; the lock itself is what counts.
  lock->setNote(who);
  return MachineClaim(std::move(*lock));
}

}  // namespace ash
