// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "load/load_kinds.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr std::array kWordKeys = {"cores", "steps", "variant", "pattern", "size", "folder", "command"};
constexpr std::array kNumberKeys = {"threads", "duty",    "work",        "pass_work", "passes",  "memory_mb",
                                    "level",   "file_mb", "queue_depth", "block_kb",  "repeats", "exit_code"};
constexpr std::array<std::pair<const char*, const char*>, 3> kNamedKeys = {
    std::pair{"score.", "scores"}, std::pair{"live.", "live"}, std::pair{"env.", "environment"}};

// Words between blanks; quotes hold a word together. Empty when a quote is not closed.
std::optional<std::vector<std::string>> wordsOf(const std::string& text) {
  std::vector<std::string> words(1);
  char quote = 0;
  for (const char c : text) {
    if (quote != 0) {
      if (c == quote)
        quote = 0;
      else
        words.back() += c;
    } else if (c == '"' || c == '\'') {
      quote = c;
    } else if (c != ' ' && c != '\t') {
      words.back() += c;
    } else if (!words.back().empty()) {
      words.emplace_back();
    }
  }
  if (quote != 0) return std::nullopt;
  if (words.back().empty()) words.pop_back();
  return words;
}

Status takeOption(const std::string& word, Json& spec) {
  const size_t equals = word.find('=');
  const std::string key = word.substr(0, equals), value = equals == std::string::npos ? "" : word.substr(equals + 1);
  const auto unknown = [&] {
    return Error::badInput(
        fmt::format("A load knows no \"{}\"; options are written threads=6, as in docs/loads.md.", word));
  };
  if (equals == std::string::npos || value.empty()) return unknown();
  if (std::find(kWordKeys.begin(), kWordKeys.end(), key) != kWordKeys.end()) {
    spec[key] = value;
    return {};
  }
  for (const auto& [start, list] : kNamedKeys) {
    if (!key.starts_with(start) || key.size() == std::string_view(start).size()) continue;
    spec[list][key.substr(std::string_view(start).size())] = value;
    return {};
  }
  if (std::find(kNumberKeys.begin(), kNumberKeys.end(), key) == kNumberKeys.end()) return unknown();
  const auto number = parseNumber(value);
  if (!number) return Error::badInput(fmt::format("\"{}\" of a load takes a number, not {}.", key, value));
  spec[key] = *number;
  return {};
}

}  // namespace

Result<LoadOptions> parseLoadText(const std::string& text) {
  const auto words = wordsOf(text);
  if (!words) return Error::badInput(fmt::format("A quote is not closed in the load: {}.", text));
  std::vector<Json> specs;
  bool beginsPart = true;
  for (const std::string& word : *words) {
    if (word == "+") {
      if (beginsPart) break;
      beginsPart = true;
    } else if (beginsPart) {
      specs.push_back({{"kind", word}});
      beginsPart = false;
    } else if (Status taken = takeOption(word, specs.back()); !taken) {
      return taken.error();
    }
  }
  if (beginsPart)
    return Error::badInput(fmt::format("A load begins with its kind ({}), and so does each after a +.",
                                       fmt::join(knownLoadKinds(), ", ")));
  for (size_t i = 1; i < specs.size(); ++i) specs.front()["also"].push_back(specs[i]);
  auto load = loadFromJson("", specs.front());
  if (!load) return load.error();
  if (Status checked = checkLoadOptions(*load); !checked) return checked.error();
  return load;
}

std::vector<std::string> kindsToChoose() {
  std::vector<std::string> kinds = knownLoadKinds();
  std::erase(kinds, LoadKind(LoadKind::Command).text());
  return kinds;
}

Result<NamedLoad> parseNamedLoad(const std::string& text) {
  const size_t equals = text.find('=');
  const std::string before(trimmed(std::string_view(text).substr(0, equals)));
  // "vector threads=6" has an equals sign, too: a name stands before one with a blank.
  const bool hasName = equals != std::string::npos && equals > 0 && text[equals - 1] == ' ';
  auto load = parseLoadText(hasName ? text.substr(equals + 1) : text);
  if (!load) return load.error();
  return NamedLoad{hasName ? before : std::string(trimmed(text)), std::move(*load)};
}

Result<std::vector<NamedLoad>> parseNamedLoads(const std::string& text) {
  std::vector<std::string> parts(1);
  char quote = 0;
  for (const char c : text) {
    if (c == quote)
      quote = 0;
    else if (quote == 0 && (c == '"' || c == '\''))
      quote = c;
    if (c == ';' && quote == 0)
      parts.emplace_back();
    else
      parts.back() += c;
  }
  std::vector<NamedLoad> loads;
  for (const std::string& part : parts) {
    if (trimmed(part).empty()) continue;
    auto load = parseNamedLoad(std::string(trimmed(part)));
    if (!load) return load.error();
    loads.push_back(std::move(*load));
  }
  return loads;
}

}  // namespace ash
