// SPDX-License-Identifier: GPL-3.0-or-later
#include "package/package_csv.h"

#include <fmt/format.h>

#include <cmath>

#include "model/text.h"

namespace ash {

std::string csvCell(std::string_view text) {
  if (text.find_first_of(",\"\r\n") == std::string_view::npos) return std::string(text);
  std::string whole = "\"";
  for (const char c : text) whole += c == '"' ? std::string("\"\"") : std::string(1, c);
  return whole + "\"";
}

std::string csvNumber(double value) {
  if (std::isinf(value)) return value > 0 ? "INF" : "-INF";
  return std::isnan(value) ? std::string() : fmt::format("{}", value);
}

Status eachCsvRecord(std::string_view text, const std::string& where,
                     const std::function<Status(const std::vector<std::string>& record, size_t number)>& take) {
  std::vector<std::string> record(1);
  size_t number = 1, width = 0;
  bool isQuoted = false;
  const auto wrong = [&](const char* why) -> Status {
    return Error::badInput(fmt::format("{}, record {}: {}.", withoutControls(where), number, why));
  };
  const auto end = [&]() -> Status {
    if (number == 1) width = record.size();
    if (record.size() != width) return wrong("it has another number of cells than the header");
    if (Status taken = take(record, number); !taken) return taken;
    ++number;
    record.assign(1, {});
    return {};
  };
  for (size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    std::string& cell = record.back();
    const bool isPlain = c != '"' && c != ',' && c != '\n';
    const bool isDoubled = c == '"' && i + 1 < text.size() && text[i + 1] == '"';
    if (isQuoted && isDoubled) {
      cell += text[i++];
    } else if (isQuoted && c == '"') {
      isQuoted = false;
      if (i + 1 < text.size() && text[i + 1] != ',' && text[i + 1] != '\n') return wrong("a quote ends within a cell");
    } else if (isQuoted || isPlain) {
      cell += c;
    } else if (c == '"') {
      if (!cell.empty()) return wrong("a quote begins within a cell");
      isQuoted = true;
    } else if (c == ',') {
      record.emplace_back();
    } else if (Status ended = end(); !ended) {
      return ended;
    }
  }
  if (isQuoted) return wrong("a quote is never closed");
  return record.size() > 1 || !record.back().empty() ? end() : Status();
}

Result<std::vector<std::vector<std::string>>> parseStrictCsv(std::string_view text, const std::string& where) {
  std::vector<std::vector<std::string>> records;
  const Status read = eachCsvRecord(text, where, [&](const std::vector<std::string>& record, size_t) -> Status {
    records.push_back(record);
    return {};
  });
  if (!read) return read.error();
  return records;
}

}  // namespace ash
