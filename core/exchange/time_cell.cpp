// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/time_cell.h"

#include <algorithm>
#include <cctype>
#include <cstdio>

#include "exchange/csv_cells.h"
#include "exchange/named_date.h"
#include "model/iso_date.h"
#include "model/text.h"

namespace ash {
namespace {

// Takes "AM" or "PM" off the end; 0 when there is none, else 1 or 2.
int takeHalfOfDay(std::string& text) {
  if (text.size() < 3) return 0;
  const auto upper = [](char c) { return static_cast<char>(std::toupper(static_cast<unsigned char>(c))); };
  const char half = upper(text[text.size() - 2]);
  if (upper(text.back()) != 'M' || (half != 'A' && half != 'P')) return 0;
  text = std::string(trimmed(std::string_view(text).substr(0, text.size() - 2)));
  return half == 'A' ? 1 : 2;
}

std::optional<double> readClock(std::string text) {
  const int half = takeHalfOfDay(text);
  int hours = 0, minutes = 0, used = 0;
  if (std::sscanf(text.c_str(), "%d:%d%n", &hours, &minutes, &used) != 2 || used == 0) return std::nullopt;
  double seconds = 0;
  size_t at = static_cast<size_t>(used);
  if (at < text.size() && text[at] == ':') {
    size_t end = at + 1;
    while (end < text.size() &&
           (std::isdigit(static_cast<unsigned char>(text[end])) != 0 || text[end] == '.' || text[end] == ','))
      ++end;
    std::string number = text.substr(at + 1, end - at - 1);
    std::replace(number.begin(), number.end(), ',', '.');
    const auto value = parseNumber(number);
    if (!value) return std::nullopt;
    seconds = *value;
    at = end;
  }
  if (hours < 0 || minutes < 0 || minutes > 59 || seconds < 0 || seconds >= 61) return std::nullopt;
  if (half != 0) {
    if (hours < 1 || hours > 12) return std::nullopt;
    hours = hours % 12 + (half == 2 ? 12 : 0);
  }
  const auto zone = zoneSeconds(trimmed(std::string_view(text).substr(at)));
  if (!zone) return std::nullopt;
  return hours * 3600.0 + minutes * 60.0 + seconds - *zone;
}

// "Z" or "+02:00" behind a clock time.
bool hasZone(std::string_view clock) {
  return !clock.empty() &&
         (clock.back() == 'Z' || clock.back() == 'z' || clock.find_first_of("+-") != std::string_view::npos);
}

// What follows a date: a time of day, or nothing, for midnight.
std::optional<TimeCell> withClock(double dateS, std::string rest, bool isOrderOpen) {
  if (rest.starts_with('T') || rest.starts_with('t') || rest.starts_with(','))
    rest = std::string(trimmed(rest.substr(1)));
  const auto clock = rest.empty() ? std::optional<double>(0.0) : readClock(rest);
  if (!clock) return std::nullopt;
  TimeCell time{dateS + *clock, TimeCell::Kind::Date, isOrderOpen};
  time.hasZone = hasZone(rest);
  return time;
}

std::optional<TimeCell> readNamedDateTime(const std::string& cell) {
  const auto date = readNamedDate(cell);
  return date ? withClock(date->seconds, std::string(trimmed(std::string_view(cell).substr(date->length))), false)
              : std::nullopt;
}

/// Three numbers of a date as they stand.
struct DateFields {
  int a = 0, b = 0, c = 0;
  char between = 0;
  bool isShort = false;  // two digits each
};

// Which orders a date may be written in: a year of four digits stands at one end, points stand in one order only unless
// there is no such month, and a short year stands in front between dashes only.
bool isWrittenIn(DayOrder order, const DateFields& date) {
  if (date.a > 31) return order == DayOrder::YearFirst;
  switch (order) {
    case DayOrder::DayFirst:
      return true;
    case DayOrder::MonthFirst:
      return date.between != '.' || date.b > 12;
    case DayOrder::YearFirst:
      return date.isShort && date.between == '-';
  }
  return false;
}

std::optional<double> dateIn(DayOrder order, const DateFields& date) {
  if (!isWrittenIn(order, date)) return std::nullopt;
  int year = date.c, month = date.b, day = date.a;
  if (order == DayOrder::MonthFirst) std::swap(month, day);
  if (order == DayOrder::YearFirst) std::swap(year, day);
  if (year < 100) year += 2000;
  return year < 1970 || year > 9999 ? std::nullopt : daySeconds(year, month, day);
}

std::optional<TimeCell> readDateTime(const std::string& cell, DayOrder order) {
  DateFields date;
  int used = 0;
  char second = 0;
  if (std::sscanf(cell.c_str(), "%d%c%d%c%d%n", &date.a, &date.between, &date.b, &second, &date.c, &used) != 5 ||
      date.between != second)
    return std::nullopt;
  if (second != '-' && second != '.' && second != '/') return std::nullopt;
  if (date.a < 0 || date.b < 1 || date.c < 0) return std::nullopt;
  date.isShort = cell.find(second) == 2 && used == 8;
  auto taken = dateIn(order, date);
  bool isOrderOpen = false;
  for (const DayOrder one : kDayOrders) {
    const auto other = dateIn(one, date);
    if (!taken) taken = other;
    isOrderOpen = isOrderOpen || (other && *other != *taken);
  }
  if (!taken) return std::nullopt;
  return withClock(*taken, std::string(trimmed(std::string_view(cell).substr(static_cast<size_t>(used)))), isOrderOpen);
}

}  // namespace

std::optional<TimeCell> readTimeCell(std::string_view cell, bool hasDecimalComma, DayOrder order) {
  const CellNumber number = readCell(cell, hasDecimalComma);
  if (number.value) return TimeCell{*number.value, TimeCell::Kind::Seconds, false};
  if (auto dateTime = readDateTime(std::string(cell), order)) return dateTime;
  const auto clock = readClock(std::string(cell));
  return clock ? TimeCell{*clock, TimeCell::Kind::Clock, false} : readNamedDateTime(std::string(cell));
}

}  // namespace ash
