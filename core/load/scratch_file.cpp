// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/scratch_file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cerrno>
#include <filesystem>
#include <utility>

namespace ash {
namespace {

constexpr double kKeepFreeShare = 0.05;  // of the drive: a full one would hurt more than the load tells
constexpr double kKeepFreeB = 256e6;

Status checkRoom(const std::string& folder, long long bytes) {
  struct statvfs space {};
  if (statvfs(folder.c_str(), &space) != 0) return Error::io("look at", folder, errno);
  const double block = static_cast<double>(space.f_frsize);
  const double free = block * static_cast<double>(space.f_bavail), all = block * static_cast<double>(space.f_blocks);
  const double keep = std::min(kKeepFreeB, kKeepFreeShare * all);
  if (static_cast<double>(bytes) + keep <= free) return {};
  return Error{
      ErrorKind::DiskFull,
      fmt::format("{} has {:.0f} MB of room; the storage load was to write {:.0f} MB and leaves {:.0f} MB free: "
                  "make room or take a smaller file (--file).",
                  folder, free / 1e6, static_cast<double>(bytes) / 1e6, keep / 1e6),
      false};
}

// A file without a name (open(2), O_TMPFILE); else one that loses its name at once.
int openNameless(const std::string& folder, int flags) {
  const int descriptor = open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC | flags, 0600);
  if (descriptor >= 0 || (errno != EOPNOTSUPP && errno != EISDIR && errno != ENOENT)) return descriptor;
  const std::string name = fmt::format("{}/{}{}", folder, ScratchFile::kNameStart, getpid());
  const int named = open(name.c_str(), O_CREAT | O_EXCL | O_RDWR | O_CLOEXEC | O_NOFOLLOW | flags, 0600);
  if (named >= 0) {
    flock(named, LOCK_EX | LOCK_NB);
    unlink(name.c_str());
  }
  return named;
}

}  // namespace

ScratchFile::ScratchFile(ScratchFile&& other) noexcept
    : m_folder(std::move(other.m_folder)),
      m_descriptor(std::exchange(other.m_descriptor, -1)),
      m_isDirect(other.m_isDirect) {}

ScratchFile& ScratchFile::operator=(ScratchFile&& other) noexcept {
  std::swap(m_folder, other.m_folder);
  std::swap(m_descriptor, other.m_descriptor);
  std::swap(m_isDirect, other.m_isDirect);
  return *this;
}

ScratchFile::~ScratchFile() {
  if (m_descriptor >= 0) close(m_descriptor);
}

int ScratchFile::clearLeftovers(const std::string& folder) {
  int cleared = 0;
  std::error_code error;
  for (std::filesystem::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
    const std::string name = it->path().filename().string();
    if (!name.starts_with(kNameStart) || !it->is_regular_file(error) || it->is_symlink(error)) continue;
    const int descriptor = open(it->path().c_str(), O_RDWR | O_NOFOLLOW | O_CLOEXEC);
    if (descriptor < 0) continue;
    // Whoever still uses it holds the lock.
    if (flock(descriptor, LOCK_EX | LOCK_NB) == 0 && unlink(it->path().c_str()) == 0) ++cleared;
    close(descriptor);
  }
  return cleared;
}

Result<ScratchFile> ScratchFile::make(const std::string& folder, long long bytes) {
  struct stat about {};
  if (stat(folder.c_str(), &about) != 0) return Error::io("use the folder", folder, errno);
  if (!S_ISDIR(about.st_mode))
    return Error::badInput(fmt::format(
        "{} is no folder; the storage load works on a file of its own in a folder and on nothing else.", folder));
  clearLeftovers(folder);
  if (Status room = checkRoom(folder, bytes); !room) return room.error();
  ScratchFile file;
  file.m_folder = folder;
  file.m_descriptor = openNameless(folder, O_DIRECT);
  file.m_isDirect = file.m_descriptor >= 0;
  if (file.m_descriptor < 0 && errno == EINVAL) file.m_descriptor = openNameless(folder, 0);
  if (file.m_descriptor < 0) return Error::io("make a file in", folder, errno);
  if (ftruncate(file.m_descriptor, bytes) != 0) return Error::io("make a file in", folder, errno);
  return file;
}

}  // namespace ash
