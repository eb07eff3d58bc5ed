// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/whole_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>

namespace ash {
namespace {

constexpr int kMostNames = 100;

// A new file beside the target; its name is put into `name`.
int openUnfinished(const std::string& path, unsigned mode, std::string& name) {
  std::random_device random;
  for (int i = 0; i < kMostNames; ++i) {
    name = fmt::format("{}.{:08x}.part", path, random());
    const int file = open(name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC | O_NOFOLLOW, mode);
    if (file >= 0 || errno != EEXIST) return file;
  }
  return -1;
}

bool writeAll(int file, const std::string& text) {
  for (size_t done = 0; done < text.size();) {
    const ssize_t length = write(file, text.data() + done, text.size() - done);
    if (length < 0 && errno == EINTR) continue;
    if (length <= 0) return false;
    done += static_cast<size_t>(length);
  }
  return fsync(file) == 0;
}

void syncFolder(const std::string& path) {
  std::error_code error;
  const auto parent = std::filesystem::absolute(path, error).parent_path();
  const int folder = open(parent.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (folder < 0) return;
  fsync(folder);
  close(folder);
}

}  // namespace

Status writeWholeFile(const std::string& text, const std::string& path, unsigned mode) {
  std::string unfinished;
  const int file = openUnfinished(path, mode, unfinished);
  if (file < 0) return Error::io("write", path, errno);
  // What is replaced keeps who may read it.
  struct stat before {};
  if (stat(path.c_str(), &before) == 0) fchmod(file, before.st_mode & 07777);
  const bool isWritten = writeAll(file, text);
  int failure = errno;
  close(file);
  if (isWritten && std::rename(unfinished.c_str(), path.c_str()) == 0) {
    syncFolder(path);
    return {};
  }
  if (isWritten) failure = errno;
  unlink(unfinished.c_str());
  return Error::io("write", path, failure);
}

Result<std::string> readWholeFile(const std::string& path, uintmax_t mostB, const std::string& soItIs) {
  std::error_code error;
  const auto size = std::filesystem::file_size(path, error);
  if (error) return Error::badInput(fmt::format("Cannot read {}: {}.", path, error.message()));
  if (size > mostB) return Error::badInput(fmt::format("{} is larger than {} MiB: {}.", path, mostB >> 20, soItIs));
  std::ifstream file(path, std::ios::binary);
  std::ostringstream text;
  if (size > 0) text << file.rdbuf();
  if (!file) return Error::badInput(fmt::format("Cannot read {}.", path));
  return text.str();
}

}  // namespace ash
