// SPDX-License-Identifier: GPL-3.0-or-later
#include "knobs/turned_journal.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <thread>
#include <utility>

#include "model/json.h"
#include "model/text.h"
#include "readings/linux_machine.h"
#include "system/own_folders.h"
#include "system/sha256.h"
#include "system/whole_file.h"

namespace ash {
namespace {

namespace fs = std::filesystem;
constexpr size_t kMostFiles = 10'000;
constexpr uintmax_t kLargestB = 16 << 20;

// By the place itself, so that two ways to write one root share it.
std::string journalPath(const std::string& root) {
  std::error_code error;
  const fs::path whole = root.empty() ? fs::path("/") : fs::canonical(root, error);
  constexpr size_t kDigits = 16;
  const std::string own = stateFolder();
  return (own.empty() ? "/var/lib/ash-gauge" : own) + "/turned-" +
         sha256Hex(error ? root : whole.string()).substr(0, kDigits) + ".json";
}

// A child that a killed recorder has just forked holds its lock until it is another program: that is waited for.
bool isTaken(int lock) {
  constexpr int kTries = 50;
  for (int i = 0; i < kTries; ++i) {
    if (flock(lock, LOCK_EX | LOCK_NB) == 0) return true;
    std::this_thread::sleep_for(std::chrono::milliseconds(20));
  }
  return false;
}

}  // namespace

TurnedJournal::TurnedJournal(std::string path, std::string boot, int lock)
    : m_path(std::move(path)), m_boot(std::move(boot)), m_lock(lock) {}

TurnedJournal::TurnedJournal(TurnedJournal&& other) noexcept
    : m_path(std::move(other.m_path)),
      m_boot(std::move(other.m_boot)),
      m_lock(std::exchange(other.m_lock, -1)),
      m_turned(std::move(other.m_turned)) {}

TurnedJournal& TurnedJournal::operator=(TurnedJournal&& other) noexcept {
  std::swap(m_path, other.m_path);
  std::swap(m_boot, other.m_boot);
  std::swap(m_lock, other.m_lock);
  std::swap(m_turned, other.m_turned);
  return *this;
}

TurnedJournal::~TurnedJournal() {
  if (m_lock >= 0) ::close(m_lock);
}

bool TurnedJournal::isThere(const std::string& root) {
  std::error_code error;
  return fs::exists(journalPath(root), error);
}

Result<TurnedJournal> TurnedJournal::open(const std::string& root) {
  const std::string path = journalPath(root);
  std::error_code error;
  fs::create_directories(fs::path(path).parent_path(), error);
  const std::string lockPath = path + ".lock";
  const int lock = ::open(lockPath.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  if (lock < 0) return Error::io("write", lockPath, errno);
  TurnedJournal journal(path, bootId(root), lock);
  if (!isTaken(lock))
    return Error::environment("Another recording or command has knobs of this machine turned; wait until it is over.");
  if (!fs::exists(path, error)) return journal;
  if (fs::file_size(path, error) > kLargestB)
    return Error::environment(fmt::format("{} is too large to be read.", path));
  std::ostringstream text;
  text << std::ifstream(path, std::ios::binary).rdbuf();
  const Json kept = parseQuietly(text.str());
  const Json list = valueIn(kept, "turned", Json());
  if (!list.is_array() || list.size() > kMostFiles)
    return Error::environment(fmt::format("{} cannot be read; see in it by hand what is turned.", path));
  // Settings of the kernel do not outlive a boot.
  if (valueIn(kept, "boot", std::string()) != journal.m_boot) return journal;
  for (const Json& one : list)
    journal.m_turned.push_back({valueIn(one, "knob", std::string()), valueIn(one, "file", std::string()),
                                valueIn(one, "before", std::string()),
                                valueIn(one, "by_hand", false) ? TurnedBy::Hand : TurnedBy::Run});
  return journal;
}

Status TurnedJournal::add(const std::vector<TurnedFile>& files) {
  const auto before = m_turned;
  for (const TurnedFile& one : files) {
    const bool isThere =
        std::any_of(m_turned.begin(), m_turned.end(), [&](const TurnedFile& other) { return other.isSame(one); });
    if (!isThere) m_turned.push_back(one);
  }
  if (m_turned.size() == before.size()) return {};
  Status written = write();
  if (!written) m_turned = before;
  return written;
}

Status TurnedJournal::remove(const std::vector<TurnedFile>& files) {
  if (files.empty()) return {};
  std::erase_if(m_turned, [&](const TurnedFile& one) {
    return std::any_of(files.begin(), files.end(), [&](const TurnedFile& other) { return other.isSame(one); });
  });
  if (!m_turned.empty()) return write();
  std::error_code error;
  fs::remove(m_path, error);
  return error ? Error::io("remove", m_path, error.value()) : Status();
}

Status TurnedJournal::write() const {
  Json list = Json::array();
  for (const TurnedFile& one : m_turned)
    list.push_back(
        {{"knob", one.knob}, {"file", one.file}, {"before", one.before}, {"by_hand", one.by == TurnedBy::Hand}});
  return writeWholeFile(Json({{"boot", m_boot}, {"turned", list}}).dump(1) + "\n", m_path, 0600);
}

}  // namespace ash
