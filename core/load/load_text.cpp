// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_text.h"

#include <fmt/format.h>

#include <iterator>
#include <optional>

#include "load/load_kinds.h"
#include "model/condition_field.h"
#include "model/text.h"

namespace ash {
namespace {

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

// "threads=6", "score.fps=…": the field that is meant, with what is said of it. Empty when there is none.
std::optional<std::pair<const LoadField*, std::string>> fieldIn(const std::string& word) {
  const size_t equals = word.find('=');
  if (equals == std::string::npos || equals + 1 == word.size()) return std::nullopt;
  const std::string_view key = std::string_view(word).substr(0, equals);
  for (const LoadField& field : loadFields()) {
    if (const auto* named = std::get_if<LoadNamedTexts>(&field.place)) {
      if (key.starts_with(named->prefix) && key.size() > named->prefix.size())
        return std::pair{&field, word.substr(named->prefix.size())};
    } else if (key == field.key) {
      return std::pair{&field, word.substr(equals + 1)};
    }
  }
  return std::nullopt;
}

Status takeOption(const std::string& word, LoadOptions& load) {
  const auto meant = fieldIn(word);
  if (meant) return takeFieldText(*meant->first, meant->second, load);
  return Error::badInput(
      fmt::format("A load knows no \"{}\"; options are written threads=6, as in docs/loads.md.", word));
}

// One word, whatever it holds: between double quotes, those of its own between single ones.
std::string quoted(const std::string& word) {
  if (!word.empty() && word.find_first_of(" \t\"'") == std::string::npos) return word;
  std::string text = "\"";
  for (const char c : word) text += c == '"' ? std::string("\"'\"'\"") : std::string(1, c);
  return text + "\"";
}

std::string partText(const LoadOptions& load) {
  const Json spec = loadToJson(load), usual = loadToJson(LoadOptions());
  std::string text(load.kind.text());
  for (const LoadField& field : loadFields()) {
    const std::string key(field.key);
    const auto value = spec.find(key);
    if (value == spec.end() || (usual.contains(key) && usual[key] == *value)) continue;
    const auto* named = std::get_if<LoadNamedTexts>(&field.place);
    if (named == nullptr) {
      text += " " + key + "=" + quoted(bareText(*value));
      continue;
    }
    for (const auto& [name, words] : value->items())
      text += " " + quoted(fmt::format("{}{}={}", named->prefix, name, bareText(words)));
  }
  return text;
}

}  // namespace

Result<LoadOptions> parseLoadText(const std::string& text) {
  const auto words = wordsOf(text);
  if (!words) return Error::badInput(fmt::format("A quote is not closed in the load: {}.", text));
  std::vector<LoadOptions> parts;
  bool beginsPart = true;
  for (const std::string& word : *words) {
    if (word == "+") {
      if (beginsPart) break;
      beginsPart = true;
    } else if (beginsPart) {
      parts.emplace_back().kind = LoadKind::fromText(word);
      beginsPart = false;
    } else if (Status taken = takeOption(word, parts.back()); !taken) {
      return taken.error();
    }
  }
  if (beginsPart)
    return Error::badInput(fmt::format("A load begins with its kind ({}), and so does each after a +.",
                                       fmt::join(knownLoadKinds(), ", ")));
  if (parts.size() > 1 + kMostOtherLoads)
    return Error::badInput(fmt::format("At most {} loads run beside one.", kMostOtherLoads));
  LoadOptions load = std::move(parts.front());
  load.also.assign(std::make_move_iterator(parts.begin() + 1), std::make_move_iterator(parts.end()));
  if (Status checked = checkLoadOptions(load); !checked) return checked.error();
  return load;
}

std::string loadText(const LoadOptions& load) {
  std::string text = partText(load);
  for (const LoadOptions& other : load.also) text += " + " + partText(other);
  return text;
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
