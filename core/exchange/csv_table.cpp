// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/csv_table.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <cstdio>

#include "model/text.h"

namespace ash {
namespace {

char detectSeparator(const std::string& text) {
  constexpr std::array<char, 3> kSeparators = {',', ';', '\t'};
  std::array<size_t, 3> counts{};
  bool quoted = false;
  for (const char c : text) {
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

// Walks the text one character at a time and hands out rows.
class Splitter {
 public:
  Splitter(const std::string& text, CsvTable& table) : m_text(text), m_table(table) {}

  void run() {
    for (m_at = 0; m_at < m_text.size(); ++m_at) {
      if (m_quoted)
        takeQuoted();
      else
        takePlain();
    }
    m_table.endsInsideQuotes = m_quoted;
    m_table.endsWithNewline = !m_text.empty() && (m_text.back() == '\n' || m_text.back() == '\r') && !m_quoted;
    if (!m_cell.empty() || !m_row.cells.empty()) endRow();
  }

 private:
  void takeQuoted() {
    const char c = m_text[m_at];
    if (c == '"' && m_at + 1 < m_text.size() && m_text[m_at + 1] == '"') {
      m_cell += '"';
      ++m_at;
    } else if (c == '"') {
      m_quoted = false;
    } else {
      m_line += c == '\n';
      m_cell += c;
    }
  }
  void takePlain() {
    const char c = m_text[m_at];
    if (c == '"' && trimmed(m_cell).empty()) {
      m_cell.clear();
      m_quoted = true;
    } else if (c == m_table.separator) {
      endCell();
    } else if (c == '\n' || c == '\r') {
      if (c == '\r' && m_at + 1 < m_text.size() && m_text[m_at + 1] == '\n') ++m_at;
      endRow();
      ++m_line;
      m_row.line = m_line;
    } else {
      m_cell += c;
    }
  }
  void endCell() {
    m_row.cells.emplace_back(trimmed(m_cell));
    m_cell.clear();
  }
  void endRow() {
    endCell();
    const bool isBlank = m_row.cells.size() == 1 && m_row.cells[0].empty();
    if (!isBlank) m_table.rows.push_back(m_row);
    m_row.cells.clear();
  }

  const std::string& m_text;
  CsvTable& m_table;
  size_t m_at = 0;
  size_t m_line = 1;
  bool m_quoted = false;
  std::string m_cell;
  CsvRow m_row{1, {}};
};

bool hasCommaBetweenDigits(const std::string& cell) {
  const size_t comma = cell.find(',');
  if (comma == std::string::npos || comma == 0 || comma + 1 >= cell.size()) return false;
  return std::all_of(cell.begin(), cell.end(),
                     [](unsigned char c) { return std::isdigit(c) || c == ',' || c == '-' || c == '+'; }) &&
         std::isdigit(static_cast<unsigned char>(cell[comma - 1])) != 0;
}

bool detectDecimalComma(const CsvTable& table) {
  if (table.separator == ',') return false;
  for (size_t r = 1; r < table.rows.size() && r < 200; ++r) {
    for (const std::string& cell : table.rows[r].cells) {
      if (hasCommaBetweenDigits(cell)) return true;
    }
  }
  return false;
}

std::string lower(std::string text) {
  std::transform(text.begin(), text.end(), text.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return text;
}

// Days since 1970-01-01 of the proleptic Gregorian calendar (Hinnant, "chrono-compatible low-level date algorithms").
long long daysFromCivil(long long year, int month, int day) {
  year -= month <= 2;
  const long long era = (year >= 0 ? year : year - 399) / 400;
  const long long yearOfEra = year - era * 400;
  const long long dayOfYear = (153LL * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
  const long long dayOfEra = yearOfEra * 365 + yearOfEra / 4 - yearOfEra / 100 + dayOfYear;
  return era * 146097 + dayOfEra - 719468;
}

std::optional<double> readClock(const std::string& text, double& offsetS) {
  int hours = 0, minutes = 0, used = 0;
  if (std::sscanf(text.c_str(), "%d:%d%n", &hours, &minutes, &used) != 2 || used == 0) return std::nullopt;
  double seconds = 0;
  size_t at = static_cast<size_t>(used);
  if (at < text.size() && text[at] == ':') {
    size_t end = at + 1;
    while (end < text.size() &&
           (std::isdigit(static_cast<unsigned char>(text[end])) || text[end] == '.' || text[end] == ','))
      ++end;
    std::string number = text.substr(at + 1, end - at - 1);
    std::replace(number.begin(), number.end(), ',', '.');
    const auto value = parseNumber(number);
    if (!value) return std::nullopt;
    seconds = *value;
    at = end;
  }
  if (hours < 0 || minutes < 0 || minutes > 59 || seconds < 0 || seconds >= 61) return std::nullopt;
  const std::string zone(trimmed(std::string_view(text).substr(at)));
  offsetS = 0;
  if (!zone.empty() && zone != "Z") {
    int zoneHours = 0, zoneMinutes = 0;
    const char sign = zone[0];
    if (sign != '+' && sign != '-') return std::nullopt;
    if (std::sscanf(zone.c_str() + 1, "%2d:%2d", &zoneHours, &zoneMinutes) < 1) return std::nullopt;
    if (zone.size() == 5 && zone.find(':') == std::string::npos)
      std::sscanf(zone.c_str() + 1, "%2d%2d", &zoneHours, &zoneMinutes);
    offsetS = (sign == '-' ? -1 : 1) * (zoneHours * 3600.0 + zoneMinutes * 60.0);
  }
  return hours * 3600.0 + minutes * 60.0 + seconds;
}

std::optional<double> readDateTime(const std::string& cell) {
  int a = 0, b = 0, c = 0, used = 0;
  char first = 0, second = 0;
  if (std::sscanf(cell.c_str(), "%d%c%d%c%d%n", &a, &first, &b, &second, &c, &used) != 5 || first != second)
    return std::nullopt;
  if (first != '-' && first != '.' && first != '/') return std::nullopt;
  const bool yearFirst = a > 31;
  const int year = yearFirst ? a : c, month = b, day = yearFirst ? c : a;
  // Month and day in slashes without a leading year are told apart in the import dialog, not guessed here.
  if (!yearFirst && first == '/') return std::nullopt;
  if (year < 1970 || year > 9999 || month < 1 || month > 12 || day < 1 || day > 31) return std::nullopt;
  std::string rest(trimmed(std::string_view(cell).substr(static_cast<size_t>(used))));
  if (rest.starts_with('T') || rest.starts_with('t')) rest.erase(0, 1);
  double offsetS = 0;
  const auto clock = rest.empty() ? std::optional<double>(0.0) : readClock(rest, offsetS);
  if (!clock) return std::nullopt;
  return static_cast<double>(daysFromCivil(year, month, day)) * 86400.0 + *clock - offsetS;
}

}  // namespace

CsvTable splitCsv(const std::string& text) {
  CsvTable table;
  table.separator = detectSeparator(text);
  Splitter(text, table).run();
  table.hasDecimalComma = detectDecimalComma(table);
  return table;
}

CellNumber readCell(const std::string& cell, bool hasDecimalComma) {
  const std::string small = lower(cell);
  if (cell.empty() || small == "nan" || small == "n/a" || small == "-") return {std::nullopt, true};
  std::string number = cell;
  if (hasDecimalComma) std::replace(number.begin(), number.end(), ',', '.');
  return {parseNumber(number), false};
}

std::optional<double> readTimeCell(const std::string& cell, bool hasDecimalComma) {
  const CellNumber number = readCell(cell, hasDecimalComma);
  if (number.value) return number.value;
  if (const auto dateTime = readDateTime(cell)) return dateTime;
  double offsetS = 0;
  return readClock(cell, offsetS);
}

}  // namespace ash
