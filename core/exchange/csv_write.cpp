// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_write.h"

#include <fmt/format.h>

#include <cerrno>
#include <cmath>
#include <cstdio>
#include <fstream>

namespace ash {
namespace {

std::string quoted(const std::string& cell) {
  if (cell.find_first_of(",\"\r\n") == std::string::npos) return cell;
  std::string text = "\"";
  for (const char c : cell) text += c == '"' ? std::string("\"\"") : std::string(1, c);
  return text + "\"";
}

}  // namespace

std::string csvText(const Log& log) {
  std::string text = "time [s]";
  for (const Channel& channel : log.channels) text += "," + quoted(fmt::format("{} [{}]", channel.name, channel.unit));
  text += "\n";
  for (size_t row = 0; row < log.timeS.size(); ++row) {
    text += fmt::format("{}", std::round(log.timeS[row] * 1e6) / 1e6);
    for (const Channel& channel : log.channels) {
      text += ',';
      if (std::isfinite(channel.values[row])) text += fmt::format("{}", channel.values[row]);
    }
    text += '\n';
  }
  return text;
}

Status writeWholeFile(const std::string& text, const std::string& path) {
  const std::string unfinished = path + ".part";
  {
    std::ofstream file(unfinished, std::ios::binary | std::ios::trunc);
    if (!file) return Error::io("write", path, errno);
    file.write(text.data(), static_cast<std::streamsize>(text.size()));
    file.flush();
    if (!file) {
      const int error = errno;
      std::remove(unfinished.c_str());
      return Error::io("write", path, error);
    }
  }
  if (std::rename(unfinished.c_str(), path.c_str()) != 0) {
    const int error = errno;
    std::remove(unfinished.c_str());
    return Error::io("write", path, error);
  }
  return {};
}

Status writeCsvLog(const Log& log, const std::string& path) { return writeWholeFile(csvText(log), path); }

}  // namespace ash
