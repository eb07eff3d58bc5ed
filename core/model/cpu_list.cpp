// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/cpu_list.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

#include "model/text.h"

namespace ash {
namespace {

std::optional<int> parseCpu(std::string_view text) {
  text = trimmed(text);
  int cpu = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), cpu);
  if (text.empty() || error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  return cpu;
}

}  // namespace

std::optional<std::pair<int, int>> parseCpuRange(std::string_view text, int highest) {
  const size_t dash = text.find('-');
  const auto first = parseCpu(text.substr(0, dash));
  const auto last = dash == std::string_view::npos ? first : parseCpu(text.substr(dash + 1));
  if (!first || !last || *first < 0 || *last < *first || *last > highest) return std::nullopt;
  return std::pair(*first, *last);
}

std::string cpuListText(std::vector<int> cpus) {
  std::sort(cpus.begin(), cpus.end());
  std::string text;
  for (size_t i = 0; i < cpus.size();) {
    size_t last = i;
    while (last + 1 < cpus.size() && cpus[last + 1] == cpus[last] + 1) ++last;
    text += fmt::format("{}{}", text.empty() ? "" : ",", cpus[i]);
    if (last > i) text += fmt::format("-{}", cpus[last]);
    i = last + 1;
  }
  return text;
}

}  // namespace ash
