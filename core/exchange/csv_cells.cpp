// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_cells.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cstdint>
#include <cstring>

#include "model/text.h"

namespace ash {
namespace {

char detectSeparator(std::string_view head) {
  constexpr std::array<char, 3> kSeparators = {',', ';', '\t'};
  std::array<size_t, 3> counts{};
  bool quoted = false;
  for (const char c : head) {
    if (c == '"') quoted = !quoted;
    if (!quoted && (c == '\n' || c == '\r')) break;
    for (size_t s = 0; s < kSeparators.size(); ++s) counts[s] += !quoted && c == kSeparators[s];
  }
  const auto most = std::max_element(counts.begin(), counts.end());
  // Names may hold commas; two semicolons or tabs say more than they do.
  if (counts[1] >= 1 && counts[1] >= counts[0] / 2) return ';';
  if (counts[2] >= 1 && counts[2] >= counts[0] / 2) return '\t';
  return kSeparators[static_cast<size_t>(most - counts.begin())];
}

// A comma with a digit before and after it, in a cell of digits, signs and commas.
bool hasCommaBetweenDigits(std::string_view cell) {
  const size_t comma = cell.find(',');
  if (comma == std::string_view::npos || comma == 0 || comma + 1 >= cell.size()) return false;
  return std::all_of(cell.begin(), cell.end(),
                     [](unsigned char c) { return std::isdigit(c) || c == ',' || c == '-' || c == '+'; }) &&
         std::isdigit(static_cast<unsigned char>(cell[comma - 1])) != 0;
}

bool hasDecimalComma(std::string_view head, char separator) {
  if (separator == ',') return false;
  size_t at = head.find_first_of("\r\n");
  while (at != std::string_view::npos && at + 1 < head.size()) {
    const size_t end = head.find_first_of("\r\n", at + 1);
    for (const std::string& cell : splitCells(head.substr(at + 1, end - at - 1), separator)) {
      if (hasCommaBetweenDigits(cell)) return true;
    }
    at = end;
  }
  return false;
}

}  // namespace

CsvFormat detectCsvFormat(std::string_view head) {
  CsvFormat format;
  format.separator = detectSeparator(head);
  format.hasDecimalComma = hasDecimalComma(head, format.separator);
  return format;
}

std::vector<std::string> splitCells(std::string_view record, char separator) {
  std::vector<std::string> cells;
  std::string cell;
  bool quoted = false;
  for (size_t i = 0; i < record.size(); ++i) {
    const char c = record[i];
    if (quoted) {
      if (c == '"' && i + 1 < record.size() && record[i + 1] == '"') {
        cell += '"';
        ++i;
      } else if (c == '"') {
        quoted = false;
      } else {
        cell += c;
      }
    } else if (c == '"' && trimmed(cell).empty()) {
      cell.clear();
      quoted = true;
    } else if (c == separator) {
      cells.emplace_back(trimmed(cell));
      cell.clear();
    } else {
      cell += c;
    }
  }
  cells.emplace_back(trimmed(cell));
  return cells;
}

CellNumber readCell(std::string_view cell, bool hasComma) {
  if (cell.empty() || cell == "-") return {std::nullopt, true};
  if (cell.size() == 3) {
    const std::string small = lowerCase(cell);
    if (small == "nan" || small == "n/a") return {std::nullopt, true};
  }
  if (!hasComma) return {parseNumber(cell), false};
  std::string number(cell);
  std::replace(number.begin(), number.end(), ',', '.');
  return {parseNumber(number), false};
}

// Digits below 2^53 and a power of ten up to 10^22 are exact as doubles, so that one division rounds once and correctly
// (Clinger 1990, "How to read floating point numbers accurately").
bool readPlainNumber(const char* at, const char* end, char decimalMark, double& value) {
  constexpr std::array<double, 20> kPowers = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,
                                              1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19};
  constexpr uint64_t kExact = uint64_t{1} << 53;
  const bool isNegative = at < end && *at == '-';
  if (at < end && (*at == '-' || *at == '+')) ++at;
  if (end - at > 18 || at == end) return false;
  uint64_t digits = 0;
  const char* const first = at;
  while (at < end && *at >= '0' && *at <= '9') digits = digits * 10 + static_cast<uint64_t>(*at++ - '0');
  const auto whole = at - first;
  std::ptrdiff_t decimals = 0;
  if (at < end && *at == decimalMark) {
    const char* const mark = ++at;
    while (at < end && *at >= '0' && *at <= '9') digits = digits * 10 + static_cast<uint64_t>(*at++ - '0');
    decimals = at - mark;
  }
  if (at != end || whole + decimals == 0 || digits >= kExact) return false;
  const double magnitude = static_cast<double>(digits) / kPowers[static_cast<size_t>(decimals)];
  value = isNegative ? -magnitude : magnitude;
  return true;
}

}  // namespace ash
