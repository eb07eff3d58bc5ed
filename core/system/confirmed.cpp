// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/confirmed.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>

#include "model/json.h"

namespace ash {
namespace {

std::string folder() {
  const char* given = std::getenv("XDG_CONFIG_HOME");
  if (given != nullptr && *given != '\0') return std::string(given) + "/ash-gauge";
  const char* home = std::getenv("HOME");
  return std::string(home == nullptr ? "" : home) + "/.config/ash-gauge";
}

std::string filePath() { return folder() + "/confirmed.json"; }

}  // namespace

std::set<std::string> confirmedTexts() {
  std::ifstream file(filePath(), std::ios::binary);
  const Json stored = parseQuietly({std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>()});
  std::set<std::string> texts;
  for (const Json& text : valueIn(stored, "confirmed", Json::array())) {
    if (text.is_string()) texts.insert(text.get<std::string>());
  }
  return texts;
}

Status confirmTexts(const std::vector<std::string>& added) {
  std::set<std::string> texts = confirmedTexts();
  texts.insert(added.begin(), added.end());
  std::error_code error;
  std::filesystem::create_directories(folder(), error);
  const std::string path = filePath(), unfinished = path + ".new";
  const int file = open(unfinished.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC | O_NOFOLLOW, 0600);
  if (file < 0) return Error::io("write", unfinished, errno);
  const std::string text = Json({{"confirmed", texts}}).dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
  const bool isWritten = write(file, text.data(), text.size()) == static_cast<ssize_t>(text.size()) && fsync(file) == 0;
  const int failure = errno;
  close(file);
  if (!isWritten || std::rename(unfinished.c_str(), path.c_str()) != 0)
    return Error::io("write", path, isWritten ? errno : failure);
  return {};
}

}  // namespace ash
