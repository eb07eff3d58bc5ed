// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/confirmed.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/utsname.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>

#include "model/json.h"
#include "system/clock.h"
#include "system/own_folders.h"
#include "system/sha256.h"
#include "system/whole_file.h"

namespace ash {
namespace {

std::string filePath() {
  const std::string folder = configFolder();
  return folder.empty() ? folder : folder + "/confirmed.json";
}

std::string machineId() {
  for (const char* path : {"/etc/machine-id", "/var/lib/dbus/machine-id"}) {
    std::ifstream file(path);
    std::string id;
    if (std::getline(file, id) && !id.empty()) return id;
  }
  utsname names{};
  return uname(&names) == 0 ? names.nodename : "";
}

Json storedList() {
  std::ifstream file(filePath(), std::ios::binary);
  const Json stored = parseQuietly({std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()});
  const Json list = valueIn(stored, "allowed", Json::array());
  return list.is_array() ? list : Json::array();
}

Status write(const Json& list) {
  return writeWholeFile(Json({{"allowed", list}}).dump(2, ' ', false, Json::error_handler_t::replace) + "\n",
                        filePath(), 0600);
}

/// Held while the file is read and written again.
class FileTurn {
 public:
  explicit FileTurn(const std::string& path)
      : m_descriptor(open(path.c_str(), O_RDWR | O_CREAT | O_CLOEXEC | O_NOFOLLOW, 0600)) {
    if (m_descriptor >= 0) flock(m_descriptor, LOCK_EX);
  }
  ~FileTurn() {
    if (m_descriptor >= 0) close(m_descriptor);
  }
  FileTurn(const FileTurn&) = delete;
  FileTurn& operator=(const FileTurn&) = delete;

 private:
  int m_descriptor;
};

}  // namespace

std::string confirmationKey(const ActivePart& part) { return sha256Hex(canonicalText(part) + "\n" + machineId()); }

std::set<std::string> confirmedKeys() {
  std::set<std::string> keys;
  for (const Json& one : storedList()) {
    if (const std::string key = valueIn(one, "key", ""); !key.empty()) keys.insert(key);
  }
  return keys;
}

Status confirm(const std::vector<ActivePart>& parts) {
  if (parts.empty()) return {};
  std::error_code error;
  std::filesystem::create_directories(configFolder(), error);
  const FileTurn turn(filePath() + ".lock");
  Json list = storedList();
  std::set<std::string> known = confirmedKeys();
  for (const ActivePart& part : parts) {
    const std::string key = confirmationKey(part);
    if (key.empty())
      return Error::environment("Nothing can be confirmed here: this machine's libcrypto has no SHA-256.");
    if (!known.insert(key).second) continue;
    list.push_back({{"key", key}, {"kind", part.kind.text()}, {"what", detailLines(part)}, {"at", isoTimeNow()}});
  }
  return write(list);
}

ConfirmationList confirmations() {
  ConfirmationList given;
  for (const Json& one : storedList()) {
    Confirmation confirmation{valueIn(one, "key", ""), valueIn(one, "kind", ""), valueIn(one, "at", ""), {}};
    if (confirmation.key.empty()) continue;
    for (const Json& line : valueIn(one, "what", Json::array())) {
      if (line.is_string()) confirmation.what.push_back(line.get<std::string>());
    }
    given.push_back(std::move(confirmation));
  }
  std::reverse(given.begin(), given.end());
  return given;
}

Status takeBack(const std::set<std::string>& keys) {
  if (keys.empty() || storedList().empty()) return {};
  const FileTurn turn(filePath() + ".lock");
  Json kept = Json::array();
  for (const Json& one : storedList()) {
    if (!keys.contains(valueIn(one, "key", ""))) kept.push_back(one);
  }
  return write(kept);
}

std::vector<ActivePart> unconfirmedOf(const std::vector<ActivePart>& parts) {
  std::vector<ActivePart> open;
  if (parts.empty()) return open;
  const auto known = confirmedKeys();
  for (const ActivePart& part : parts) {
    if (!known.contains(confirmationKey(part))) open.push_back(part);
  }
  return open;
}

SortedChoices sortChoices(const std::string& machine, const ReadingChoices& choices) {
  SortedChoices sorted;
  if (choices.empty()) return sorted;
  const auto known = confirmedKeys();
  for (const auto& [reading, choice] : choices) {
    const bool isKnown = known.contains(confirmationKey(activePart(machine, reading, choice)));
    (isKnown ? sorted.accepted : sorted.proposed)[reading] = choice;
  }
  return sorted;
}

}  // namespace ash
