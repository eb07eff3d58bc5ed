// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/guardian/guardian.h"

#include <cstdio>

namespace ash {

std::string orderText(const GuardianOrder& order) {
  std::string text = order.command + '\0' + order.folder + '\0';
  for (const std::string& entry : order.environment) text += entry + '\0';
  return text + '\0';
}

std::optional<GuardianOrder> orderFromText(const std::string& text) {
  GuardianOrder order;
  size_t at = 0;
  const auto take = [&]() -> std::optional<std::string> {
    const size_t end = text.find('\0', at);
    if (end == std::string::npos) return std::nullopt;
    std::string part = text.substr(at, end - at);
    at = end + 1;
    return part;
  };
  auto command = take();
  auto folder = command ? take() : std::nullopt;
  if (!folder) return std::nullopt;
  order.command = std::move(*command);
  order.folder = std::move(*folder);
  for (auto entry = take(); entry; entry = take()) {
    if (entry->empty()) return order;
    order.environment.push_back(std::move(*entry));
  }
  return std::nullopt;
}

std::string wordText(const GuardianWord& word) {
  char text[80];
  if (word.hasEnded)
    std::snprintf(text, sizeof text, "ended %d %.9f\n", word.status, word.atS);
  else
    std::snprintf(text, sizeof text, "began %.9f\n", word.atS);
  return text;
}

std::optional<GuardianWord> wordFromText(const std::string& line) {
  GuardianWord word;
  if (std::sscanf(line.c_str(), "began %lf", &word.atS) == 1) return word;
  word.hasEnded = true;
  if (std::sscanf(line.c_str(), "ended %d %lf", &word.status, &word.atS) == 2) return word;
  return std::nullopt;
}

}  // namespace ash
