// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_write.h"

#include <fmt/format.h>

#include <cmath>

#include "model/text.h"
#include "system/whole_file.h"

namespace ash {
namespace {

// A text that a spreadsheet would take for a formula is written behind an apostrophe (csv_records.h takes it off).
std::string quoted(const std::string& text) {
  const std::string cell = guardedCell(text);
  if (cell.find_first_of(",\"\r\n") == std::string::npos) return cell;
  std::string whole = "\"";
  for (const char c : cell) whole += c == '"' ? std::string("\"\"") : std::string(1, c);
  return whole + "\"";
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

Status writeCsvLog(const Log& log, const std::string& path) { return writeWholeFile(csvText(log), path); }

}  // namespace ash
