// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/cache_sizes.h"

#include <algorithm>
#include <fstream>

#include "load/load_options.h"

namespace ash {
namespace {

std::string lineOf(const std::string& path) {
  std::ifstream file(path);
  std::string line;
  std::getline(file, line);
  return line;
}

size_t bytesOf(const std::string& text) {
  size_t value = 0, i = 0;
  while (i < text.size() && text[i] >= '0' && text[i] <= '9' && value < (size_t{1} << 40))
    value = value * 10 + static_cast<size_t>(text[i++] - '0');
  if (i < text.size() && text[i] == 'K') return value << 10;
  if (i < text.size() && text[i] == 'M') return value << 20;
  return value;
}

}  // namespace

std::vector<CacheLevel> cacheLevels(const std::string& root) {
  std::vector<CacheLevel> levels;
  for (int index = 0; index < 10; ++index) {
    const std::string folder = root + "/sys/devices/system/cpu/cpu0/cache/index" + std::to_string(index) + "/";
    const std::string type = lineOf(folder + "type"), level = lineOf(folder + "level");
    if (type != "Data" && type != "Unified") continue;
    CacheLevel found;
    found.level = level.size() == 1 ? level[0] - '0' : 0;
    found.bytes = bytesOf(lineOf(folder + "size"));
    if (const auto shared = parseCoreList(lineOf(folder + "shared_cpu_list")))
      found.sharedBy = std::max<int>(1, int(shared->size()));
    if (found.level > 0 && found.bytes > 0) levels.push_back(found);
  }
  std::sort(levels.begin(), levels.end(), [](const CacheLevel& a, const CacheLevel& b) { return a.level < b.level; });
  return levels;
}

size_t availableMemoryBytes() {
  std::ifstream file("/proc/meminfo");
  for (std::string line; std::getline(file, line);) {
    if (!line.starts_with("MemAvailable:")) continue;
    const size_t digit = line.find_first_of("0123456789");
    return digit == std::string::npos ? 0 : bytesOf(line.substr(digit)) << 10;
  }
  return 0;
}

}  // namespace ash
