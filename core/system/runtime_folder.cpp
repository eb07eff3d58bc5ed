// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/runtime_folder.h"

#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>

namespace ash {
namespace {

Status makePrivate(const std::string& folder) {
  if (mkdir(folder.c_str(), 0700) != 0 && errno != EEXIST) return Error::io("make the folder", folder, errno);
  struct stat info {};
  if (lstat(folder.c_str(), &info) != 0) return Error::io("look at the folder", folder, errno);
  if (!S_ISDIR(info.st_mode) || info.st_uid != geteuid()) {
    return Error::environment(fmt::format("{} belongs to somebody else. Remove it, or set XDG_RUNTIME_DIR.", folder));
  }
  if ((info.st_mode & 077) != 0 && chmod(folder.c_str(), 0700) != 0) {
    return Error::io("make private the folder", folder, errno);
  }
  return {};
}

}  // namespace

Result<std::string> runtimeFolder() {
  const char* given = std::getenv("XDG_RUNTIME_DIR");
  const std::string folder = given != nullptr && *given != '\0' ? std::string(given) + "/ash-gauge"
                                                                : fmt::format("/tmp/ash-gauge-{}", geteuid());
  if (Status made = makePrivate(folder); !made) return made.error();
  return folder;
}

Result<std::string> runtimeSubfolder(const std::string& name) {
  auto folder = runtimeFolder();
  if (!folder) return folder.error();
  const std::string inside = *folder + "/" + name;
  if (Status made = makePrivate(inside); !made) return made.error();
  return inside;
}

}  // namespace ash
