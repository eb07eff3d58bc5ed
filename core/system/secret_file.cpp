// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/secret_file.h"

#include <fmt/format.h>
#include <sys/stat.h>

#include <cerrno>
#include <fstream>

#include "model/text.h"

namespace ash {

Result<std::string> readSecret(const std::string& path) {
  constexpr size_t kLongest = 4096;
  struct stat about {};
  if (stat(path.c_str(), &about) != 0) return Error::io("read", path, errno);
  if ((about.st_mode & (S_IRWXG | S_IRWXO)) != 0)
    return Error::badInput(fmt::format("{} may be read by others; `chmod 600` it.", path));
  std::ifstream file(path);
  std::string line;
  std::getline(file, line);
  const std::string secret(trimmed(line.substr(0, kLongest + 1)));
  if (secret.empty()) return Error::badInput(fmt::format("{} is empty: its first line must be the secret.", path));
  if (secret.size() > kLongest || withoutControls(secret) != secret)
    return Error::badInput(
        fmt::format("The first line of {} is no secret: at most {} bytes, no control characters.", path, kLongest));
  return secret;
}

}  // namespace ash
