// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/found.h"

#include <fmt/format.h>

#include <algorithm>
#include <sstream>

#include "model/cpu_list.h"
#include "model/text.h"
#include "readings/gauges/root_path.h"

namespace ash {
namespace fs = std::filesystem;
namespace {
constexpr int kMostCpus = 8192;
constexpr size_t kLongestWords = 120;
// "…/hwmon3/…" -> "…/hwmon*/…", wherever `before` stands in front of a number that ends a part of the path.
std::string withoutNumber(std::string path, const std::string& before) {
  for (size_t at = path.find(before); at != std::string::npos; at = path.find(before, at + before.size())) {
    const size_t digits = at + before.size();
    const size_t end = std::min(path.find_first_not_of("0123456789", digits), path.size());
    if (end > digits && (end == path.size() || path[end] == '/')) path.replace(digits, end - digits, "*");
  }
  return path;
}

}  // namespace

std::vector<std::pair<int, fs::path>> numberedEntries(const fs::path& folder, const std::string& prefix) {
  std::vector<std::pair<int, fs::path>> found;
  std::error_code error;
  for (fs::directory_iterator it(folder, error), end; !error && it != end; it.increment(error)) {
    const std::string name = it->path().filename().string();
    if (!name.starts_with(prefix) || name.size() > prefix.size() + 6) continue;
    const std::string digits = name.substr(prefix.size());
    if (digits.empty() || digits.find_first_not_of("0123456789") != std::string::npos) continue;
    found.emplace_back(std::stoi(digits), it->path());
  }
  std::sort(found.begin(), found.end());
  return found;
}

std::optional<int64_t> readNumber(const fs::path& file) {
  SysfsFile number(file.string());
  return number.readInteger(0);
}

std::string readWords(const fs::path& file) {
  const std::string raw = readSmallFile(file.string()).value_or("");
  if (asUtf8(raw) != raw) return {};
  std::string words(trimmed(withoutControls(raw)));
  if (words.size() > kLongestWords) words = std::string(trimmed(asUtf8(words.substr(0, kLongestWords))));
  return words;
}

std::vector<int> parseCpuList(const std::string& text) {
  std::vector<int> cpus;
  std::string spaced = text;
  std::replace(spaced.begin(), spaced.end(), ',', ' ');
  std::istringstream words(spaced);
  for (std::string word; words >> word;) {
    const auto range = parseCpuRange(word, kMostCpus - 1);
    for (int cpu = range ? range->first : 0; range && cpu <= range->second; ++cpu) cpus.push_back(cpu);
  }
  return cpus;
}

Reading makeReading(Quantity quantity, std::string kind, std::string name) {
  Reading reading;
  reading.quantity = quantity;
  reading.unit = unitOf(quantity);
  reading.kind = std::move(kind);
  reading.name = std::move(name);
  return reading;
}

Reading makeReading(const char* unit, std::string kind, std::string name) {
  Reading reading = makeReading(Quantity::Other, std::move(kind), std::move(name));
  reading.unit = unit;
  return reading;
}

void setPath(const std::string& root, const fs::path& file, const std::string& part, Reading& reading) {
  reading.path = pathBelowRoot(root, file) + part;
  reading.id = stableId(reading.path);
}

std::string stableId(const std::string& path) { return withoutNumber(withoutNumber(path, "/hwmon"), "/drm/card"); }

std::string deviceKeyOf(const std::string& root, const fs::path& folder) { return pathBelowRoot(root, folder); }

}  // namespace ash
