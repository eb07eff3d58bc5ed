// SPDX-License-Identifier: GPL-3.0-or-later
// A disk that remembers every write and sync of a book, can be cut off between any two of them, and fails when told to.
// A VFS of SQLite (https://www.sqlite.org/vfs.html) laid over the usual one.
#pragma once

#include <sqlite3.h>

#include <atomic>
#include <filesystem>
#include <fstream>
#include <map>
#include <mutex>
#include <random>
#include <string>
#include <vector>

namespace ash::tests {

struct DiskStep {
  enum class Kind { Write, Truncate, Sync, Delete };
  Kind kind;
  std::string file;
  long long offset = 0;  ///< size for Truncate
  std::string data;
};

/// While it lives, every file that SQLite opens goes through it. One at a time.
class RecordingDisk {
 public:
  RecordingDisk() : m_below(sqlite3_vfs_find(nullptr)) {
    m_vfs = *m_below;
    m_vfs.pNext = nullptr;
    m_vfs.zName = "recording";
    m_vfs.pAppData = this;
    m_vfs.szOsFile = static_cast<int>(sizeof(File)) + m_below->szOsFile;
    m_vfs.xOpen = open;
    m_vfs.xDelete = remove;
    sqlite3_vfs_register(&m_vfs, 1);
  }
  ~RecordingDisk() {
    sqlite3_vfs_unregister(&m_vfs);
    sqlite3_vfs_register(m_below, 1);
  }
  RecordingDisk(const RecordingDisk&) = delete;
  RecordingDisk& operator=(const RecordingDisk&) = delete;

  size_t stepCount() const {
    const std::lock_guard lock(m_mutex);
    return m_steps.size();
  }
  std::vector<DiskStep> steps() const {
    const std::lock_guard lock(m_mutex);
    return m_steps;
  }

  /// Every write from now on fails with this code of SQLite; SQLITE_OK = works again.
  std::atomic<int> writeError{SQLITE_OK};
  /// Bytes that files may still grow; a file that exists here (a reserve) takes `reserveB` of it as long as it does.
  std::atomic<long long> spaceB{1LL << 60};
  std::string reserve;
  long long reserveB = 0;
  /// Seconds that every sync takes.
  std::atomic<int> syncMs{0};

 private:
  struct File {
    sqlite3_file base;
    RecordingDisk* disk;
    std::string* name;  // null: not kept track of
    sqlite3_file* below() { return reinterpret_cast<sqlite3_file*>(this + 1); }
  };
  static File* self(sqlite3_file* file) { return reinterpret_cast<File*>(file); }

  void note(File* file, DiskStep::Kind kind, long long offset = 0, std::string data = {}) {
    if (file->name == nullptr) return;
    const std::lock_guard lock(m_mutex);
    m_steps.push_back({kind, *file->name, offset, std::move(data)});
  }

  static int open(sqlite3_vfs* vfs, sqlite3_filename name, sqlite3_file* file, int flags, int* outFlags) {
    auto* disk = static_cast<RecordingDisk*>(vfs->pAppData);
    File* mine = self(file);
    mine->disk = disk;
    mine->name = nullptr;
    mine->base.pMethods = nullptr;
    const int result = disk->m_below->xOpen(disk->m_below, name, mine->below(), flags, outFlags);
    if (mine->below()->pMethods == nullptr) return result;
    if (name != nullptr && (flags & (SQLITE_OPEN_MAIN_DB | SQLITE_OPEN_WAL)) != 0) mine->name = new std::string(name);
    mine->base.pMethods = methods();
    return result;
  }
  static int remove(sqlite3_vfs* vfs, const char* name, int syncFolder) {
    auto* disk = static_cast<RecordingDisk*>(vfs->pAppData);
    {
      const std::lock_guard lock(disk->m_mutex);
      disk->m_steps.push_back({DiskStep::Kind::Delete, name, 0, {}});
    }
    return disk->m_below->xDelete(disk->m_below, name, syncFolder);
  }
  static int close(sqlite3_file* file) {
    delete self(file)->name;
    return self(file)->below()->pMethods->xClose(self(file)->below());
  }
  static int write(sqlite3_file* file, const void* data, int size, sqlite3_int64 offset) {
    File* mine = self(file);
    RecordingDisk& disk = *mine->disk;
    if (mine->name != nullptr && disk.writeError != SQLITE_OK) return disk.writeError;
    if (mine->name != nullptr && !disk.mayGrow(mine->below(), offset + size)) return SQLITE_FULL;
    const int result = mine->below()->pMethods->xWrite(mine->below(), data, size, offset);
    if (result == SQLITE_OK)
      disk.note(mine, DiskStep::Kind::Write, offset, {static_cast<const char*>(data), static_cast<size_t>(size)});
    return result;
  }
  bool mayGrow(sqlite3_file* below, sqlite3_int64 end) {
    sqlite3_int64 size = 0;
    below->pMethods->xFileSize(below, &size);
    if (end <= size) return true;
    std::error_code error;
    const long long kept = !reserve.empty() && std::filesystem::exists(reserve, error) ? reserveB : 0;
    if (spaceB - kept < end - size) return false;
    spaceB -= end - size;
    return true;
  }
  static int truncate(sqlite3_file* file, sqlite3_int64 size) {
    self(file)->disk->note(self(file), DiskStep::Kind::Truncate, size);
    return self(file)->below()->pMethods->xTruncate(self(file)->below(), size);
  }
  static int sync(sqlite3_file* file, int flags) {
    if (self(file)->disk->syncMs > 0) sqlite3_sleep(self(file)->disk->syncMs);
    const int result = self(file)->below()->pMethods->xSync(self(file)->below(), flags);
    if (result == SQLITE_OK) self(file)->disk->note(self(file), DiskStep::Kind::Sync);
    return result;
  }

  static const sqlite3_io_methods* methods() {
    static const sqlite3_io_methods kMethods = {
        2,
        close,
        [](sqlite3_file* f, void* data, int size, sqlite3_int64 at) {
          return self(f)->below()->pMethods->xRead(self(f)->below(), data, size, at);
        },
        write,
        truncate,
        sync,
        [](sqlite3_file* f, sqlite3_int64* size) {
          return self(f)->below()->pMethods->xFileSize(self(f)->below(), size);
        },
        [](sqlite3_file* f, int lock) { return self(f)->below()->pMethods->xLock(self(f)->below(), lock); },
        [](sqlite3_file* f, int lock) { return self(f)->below()->pMethods->xUnlock(self(f)->below(), lock); },
        [](sqlite3_file* f, int* out) { return self(f)->below()->pMethods->xCheckReservedLock(self(f)->below(), out); },
        [](sqlite3_file* f, int op, void* arg) {
          return self(f)->below()->pMethods->xFileControl(self(f)->below(), op, arg);
        },
        [](sqlite3_file* f) { return self(f)->below()->pMethods->xSectorSize(self(f)->below()); },
        [](sqlite3_file* f) { return self(f)->below()->pMethods->xDeviceCharacteristics(self(f)->below()); },
        [](sqlite3_file* f, int page, int size, int extend, void volatile** out) {
          return self(f)->below()->pMethods->xShmMap(self(f)->below(), page, size, extend, out);
        },
        [](sqlite3_file* f, int at, int n, int flags) {
          return self(f)->below()->pMethods->xShmLock(self(f)->below(), at, n, flags);
        },
        [](sqlite3_file* f) { self(f)->below()->pMethods->xShmBarrier(self(f)->below()); },
        [](sqlite3_file* f, int remove) { return self(f)->below()->pMethods->xShmUnmap(self(f)->below(), remove); },
        nullptr,
        nullptr};
    return &kMethods;
  }

  sqlite3_vfs* m_below;
  sqlite3_vfs m_vfs{};
  mutable std::mutex m_mutex;
  std::vector<DiskStep> m_steps;
};

/// What a drive holds when the power goes: all that was synced, and of the rest any part in any order, down to halves
/// of a write (drives keep sectors of 512 bytes whole).
class CutDrive {
 public:
  /// `safe`: what the drive held before the first step, by file.
  explicit CutDrive(std::vector<DiskStep> steps, std::map<std::string, std::string> safe = {})
      : m_steps(std::move(steps)), m_safe(std::move(safe)) {}

  /// Plays the steps before `cut` and writes what is left into files of the same name in `folder`. Cuts must rise.
  void cutAt(size_t cut, const std::string& folder, std::mt19937& random) {
    for (; m_next < cut; ++m_next) take(m_steps[m_next]);
    std::map<std::string, std::string> left = m_safe;
    for (auto& [file, waiting] : m_waiting) loseSome(left[file], waiting, random);
    for (const auto& [file, bytes] : left) {
      std::ofstream(folder + "/" + std::filesystem::path(file).filename().string(), std::ios::binary) << bytes;
    }
  }

 private:
  static void apply(const DiskStep& step, std::string& bytes) {
    if (step.kind == DiskStep::Kind::Truncate) return bytes.resize(static_cast<size_t>(step.offset));
    const auto end = static_cast<size_t>(step.offset) + step.data.size();
    if (bytes.size() < end) bytes.resize(end);
    bytes.replace(static_cast<size_t>(step.offset), step.data.size(), step.data);
  }
  void take(const DiskStep& step) {
    if (step.kind == DiskStep::Kind::Delete) {
      m_safe.erase(step.file);
      m_waiting.erase(step.file);
    } else if (step.kind == DiskStep::Kind::Sync) {
      for (const DiskStep& waiting : m_waiting[step.file]) apply(waiting, m_safe[step.file]);
      m_waiting[step.file].clear();
    } else {
      m_waiting[step.file].push_back(step);
    }
  }
  static void loseSome(std::string& bytes, std::vector<DiskStep> waiting, std::mt19937& random) {
    std::shuffle(waiting.begin(), waiting.end(), random);
    for (DiskStep& step : waiting) {
      if (random() % 2 == 0) continue;
      if (step.kind == DiskStep::Kind::Write && random() % 4 == 0)
        step.data.resize(std::min<size_t>(step.data.size(), random() % 9 * 512));
      apply(step, bytes);
    }
  }

  std::vector<DiskStep> m_steps;
  std::map<std::string, std::string> m_safe;
  size_t m_next = 0;
  std::map<std::string, std::vector<DiskStep>> m_waiting;
};

}  // namespace ash::tests
