// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/iso_date.h"

#include <array>
#include <cmath>
#include <ctime>

#include <chrono>
#include <cstdio>
#include <string>

namespace ash {

std::optional<double> daySeconds(int year, int month, int day) {
  if (month < 1 || day < 1) return std::nullopt;
  const std::chrono::year_month_day date(std::chrono::year(year), std::chrono::month(static_cast<unsigned>(month)),
                                         std::chrono::day(static_cast<unsigned>(day)));
  if (!date.ok()) return std::nullopt;
  const std::chrono::seconds since = std::chrono::sys_days(date).time_since_epoch();
  return static_cast<double>(since.count());
}

std::optional<double> zoneSeconds(std::string_view zone) {
  if (zone.empty() || zone == "Z" || zone == "z") return 0.0;
  if (zone[0] != '+' && zone[0] != '-') return std::nullopt;
  const std::string text(zone.substr(1));
  int hours = 0, minutes = 0;
  const bool isPacked = text.size() == 4 && text.find(':') == std::string::npos;
  if (std::sscanf(text.c_str(), isPacked ? "%2d%2d" : "%2d:%2d", &hours, &minutes) < 1) return std::nullopt;
  return (zone[0] == '-' ? -1 : 1) * (hours * 3600.0 + minutes * 60.0);
}

std::optional<double> isoSeconds(std::string_view moment) {
  const std::string text(moment);
  int year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0, used = 0;
  if (std::sscanf(text.c_str(), "%d-%d-%dT%d:%d:%d%n", &year, &month, &day, &hour, &minute, &second, &used) != 6)
    return std::nullopt;
  if (year < 0 || year > 9999) return std::nullopt;
  const bool isClock = hour >= 0 && hour < 24 && minute >= 0 && minute < 60 && second >= 0 && second <= 60;
  const auto date = daySeconds(year, month, day);
  std::string_view rest = moment.substr(static_cast<size_t>(used));
  if (rest.starts_with('.') || rest.starts_with(',')) {
    const size_t end = rest.find_first_not_of("0123456789", 1);
    rest = end == std::string_view::npos ? std::string_view() : rest.substr(end);
  }
  const auto zone = zoneSeconds(rest);
  if (!isClock || !date || !zone) return std::nullopt;
  return *date + hour * 3600.0 + minute * 60.0 + second - *zone;
}

std::string isoDateText(double seconds) {
  const auto whole = static_cast<time_t>(std::floor(seconds));
  tm parts{};
  gmtime_r(&whole, &parts);
  std::array<char, 32> text{};
  const size_t length = strftime(text.data(), text.size(), "%Y-%m-%dT%H:%M:%S", &parts);
  return {text.data(), length};
}

}  // namespace ash
