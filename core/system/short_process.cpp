// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/short_process.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>

#include "system/spawn.h"

namespace ash {
namespace {

/// A file without a name that goes when it is closed.
class MemoryFile {
 public:
  MemoryFile() : m_file(memfd_create("ash", MFD_CLOEXEC)) {}
  MemoryFile(const MemoryFile&) = delete;
  MemoryFile& operator=(const MemoryFile&) = delete;
  ~MemoryFile() {
    if (m_file >= 0) close(m_file);
  }
  int file() const { return m_file; }

  bool fill(const std::string& bytes) const {
    for (size_t at = 0; at < bytes.size();) {
      const ssize_t wrote = write(m_file, bytes.data() + at, bytes.size() - at);
      if (wrote <= 0) return false;
      at += static_cast<size_t>(wrote);
    }
    return lseek(m_file, 0, SEEK_SET) == 0;
  }
  size_t size() const {
    struct stat about {};
    return fstat(m_file, &about) == 0 ? static_cast<size_t>(about.st_size) : 0;
  }
  std::string bytes() const {
    std::string all(size(), '\0');
    for (size_t at = 0; at < all.size();) {
      const ssize_t got = pread(m_file, all.data() + at, all.size() - at, static_cast<off_t>(at));
      if (got <= 0) return all.substr(0, at);
      at += static_cast<size_t>(got);
    }
    return all;
  }

 private:
  int m_file;
};

// True when it ended in time. https://man7.org/linux/man-pages/man2/pidfd_open.2.html
bool waitFor(pid_t pid, double mostS) {
  const int handle = static_cast<int>(syscall(SYS_pidfd_open, pid, 0));
  if (handle < 0) return false;
  pollfd ended{handle, POLLIN, 0};
  int got = 0;
  do {
    got = poll(&ended, 1, static_cast<int>(mostS * 1000));
  } while (got < 0 && errno == EINTR);
  close(handle);
  return got > 0;
}

}  // namespace

Result<ProcessAnswer> answerOf(const ShortProcess& wanted, const std::string& input) {
  const MemoryFile in, out;
  if (in.file() < 0 || out.file() < 0 || !in.fill(input)) return Error::io("make room for", wanted.program, errno);
  const int nowhere = open("/dev/null", O_WRONLY | O_CLOEXEC);
  std::vector<std::string> arguments = {wanted.program};
  arguments.insert(arguments.end(), wanted.arguments.begin(), wanted.arguments.end());
  pid_t pid = 0;
  const int error =
      spawnInGroup(arguments, {{in.file(), STDIN_FILENO}, {out.file(), STDOUT_FILENO}, {nowhere, STDERR_FILENO}}, pid);
  close(nowhere);
  if (error != 0) return Error::io("start", wanted.program, error);
  ProcessAnswer answer;
  answer.isLate = !waitFor(pid, wanted.mostS);
  kill(-pid, SIGKILL);  // what it has left behind, too
  int status = 0;
  while (waitpid(pid, &status, 0) < 0 && errno == EINTR) {
  }
  answer.status = WIFEXITED(status) ? WEXITSTATUS(status) : -WTERMSIG(status);
  if (out.size() > wanted.mostOutputB)
    return Error::environment(fmt::format("{} told more than {} MiB.", wanted.program, wanted.mostOutputB >> 20));
  answer.output = out.bytes();
  return answer;
}

std::string programBeside(const std::string& name) {
  std::error_code error;
  const auto folder = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
  if (error) return {};
  for (const auto& path : {folder / name, folder.parent_path() / "libexec/ash-gauge" / name}) {
    if (access(path.c_str(), X_OK) == 0) return path.string();
  }
  return {};
}

}  // namespace ash
