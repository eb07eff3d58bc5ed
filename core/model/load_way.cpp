// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/load_way.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/condition_field.h"
#include "model/shell_quotes.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr char kBySetup[] = "by_setup", kCommand[] = "command", kEnvironment[] = "environment", kAlso[] = "also";

bool isNameCharacter(char c) {
  return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '.';
}

const Json* fieldOf(const Setup& setup, const std::string& field) {
  for (const Json* fields : {&setup.conditions, &setup.parts}) {
    const auto found = fields->is_object() ? fields->find(field) : fields->end();
    if (found != fields->end() && (found->is_number() || found->is_string() || found->is_boolean())) return &*found;
  }
  return nullptr;
}

// A text as the shell takes it for itself where it stands: one word, or a part of one that is quoted already.
std::string asRead(const std::string& text, Quoting quoting) {
  std::string out;
  if (quoting == Quoting::Double) {
    for (const char c : text) {
      if (std::string_view("$`\"\\").find(c) != std::string_view::npos) out += '\\';
      out += c;
    }
    return out;
  }
  const std::string quoted = shellWord(text);
  return quoting == Quoting::Single ? quoted.substr(1, quoted.size() - 2) : quoted;
}

// Plain words need no quotes; they are easier to read where they are confirmed.
std::string oneWord(const std::string& text) {
  constexpr std::string_view kPlain = "_-./:,+@%=";
  const bool isPlain = !text.empty() && std::all_of(text.begin(), text.end(), [&](char c) {
    return (isNameCharacter(c) && c != 0) || kPlain.find(c) != std::string_view::npos;
  });
  if (isPlain) return text;
  return asRead(text, Quoting::None);
}

/// Puts the fields of one setup into texts.
class Filler {
 public:
  Filler(const Study& study, const Load& load, const std::string& setup) : m_study(study), m_load(load) {
    const auto found =
        std::find_if(study.setups.begin(), study.setups.end(), [&](const Setup& one) { return one.name == setup; });
    m_setup = found == study.setups.end() ? nullptr : &*found;
  }

  Json filled(Json spec) {
    if (!spec.is_object()) return spec;
    if (const auto line = spec.find(kCommand); line != spec.end()) {
      if (line->is_string()) *line = fill(line->get<std::string>(), true);
      // A list of words: each is one already.
      if (line->is_array()) {
        for (Json& word : *line) {
          if (word.is_string()) word = fill(word.get<std::string>(), false);
        }
      }
    }
    if (const auto values = spec.find(kEnvironment); values != spec.end() && values->is_object()) {
      for (auto& [name, value] : values->items()) {
        if (value.is_string()) value = fill(value.get<std::string>(), false);
      }
    }
    if (const auto also = spec.find(kAlso); also != spec.end() && also->is_array()) {
      for (Json& other : *also) other = filled(other);
    }
    return spec;
  }
  const std::string& refusal() const { return m_refusal; }

 private:
  bool isFieldOfAny(const std::string& name) const {
    return std::any_of(m_study.setups.begin(), m_study.setups.end(),
                       [&](const Setup& one) { return fieldOf(one, name) != nullptr; });
  }
  std::string fill(const std::string& text, bool isLine) {
    std::string out;
    ShellQuotes quotes;
    size_t at = 0;
    while (at < text.size()) {
      size_t end = at + 1;
      while (text[at] == '{' && end < text.size() && isNameCharacter(text[end])) ++end;
      const std::string name = text.substr(at + 1, end - at - 1);
      const bool isPlace = text[at] == '{' && !name.empty() && end < text.size() && text[end] == '}' &&
                           (at == 0 || text[at - 1] != '$') && !(isLine && quotes.isComment()) && isFieldOfAny(name);
      if (!isPlace) {
        quotes.take(text[at]);
        out += text[at++];
        continue;
      }
      const std::string value = valueOf(name);
      if (isLine && quotes.isUnclear()) refuseUnclear(name);
      out += isLine ? quotes.inBackquotes(quotes.now() == Quoting::None ? oneWord(value) : asRead(value, quotes.now()))
                    : value;
      at = end + 1;
    }
    return out;
  }
  void refuseUnclear(const std::string& name) {
    if (!m_refusal.empty()) return;
    m_refusal = fmt::format(
        "The line of {} has {{{}}} behind a here-document, in a 'case' within $( … ), or behind a comment or further "
        "backquotes within backquotes, where a shell may read it as anything; put it before that, or give each setup a "
        "line of its own.",
        m_load.name, name);
  }
  std::string valueOf(const std::string& name) {
    const Json* value = m_setup == nullptr ? nullptr : fieldOf(*m_setup, name);
    if (value != nullptr) return bareText(*value);
    if (m_refusal.empty())
      m_refusal = fmt::format(
          "The load {} needs {{{}}}, which {} does not state; state it on Plan, or give the load "
          "another line.",
          m_load.name, name, m_setup == nullptr ? "the setup" : m_setup->name);
    return {};
  }

  const Study& m_study;
  const Load& m_load;
  const Setup* m_setup = nullptr;
  std::string m_refusal;
};

const Json* waysOf(const Load& load) {
  const auto found = load.spec.is_object() ? load.spec.find(kBySetup) : load.spec.end();
  return found != load.spec.end() && found->is_object() && !found->empty() ? &*found : nullptr;
}

}  // namespace

Json commonSpec(const Load& load) {
  Json spec = load.spec;
  if (spec.is_object()) spec.erase(kBySetup);
  return spec;
}

Json wayOf(const Load& load, const std::string& setup) {
  const Json* ways = waysOf(load);
  const auto found = ways == nullptr ? Json::const_iterator() : ways->find(setup);
  return ways != nullptr && found != ways->end() && found->is_object() ? *found : Json::object();
}

void setWay(Load& load, const std::string& setup, const Json& spec) {
  if (!load.spec.is_object()) return;
  Json ways = valueIn(load.spec, kBySetup, Json::object());
  if (spec.empty())
    ways.erase(setup);
  else
    ways[setup] = spec;
  if (ways.empty())
    load.spec.erase(kBySetup);
  else
    load.spec[kBySetup] = std::move(ways);
}

void renameWay(Load& load, const std::string& before, const std::string& after) {
  const Json way = wayOf(load, before);
  if (way.empty()) return;
  setWay(load, before, Json::object());
  setWay(load, after, way);
}

Result<Json> specOf(const Study& study, const Load& load, const std::string& setup) {
  Json spec = wayOf(load, setup);
  if (spec.empty()) spec = load.spec;
  // Ways have no ways of their own: what is confirmed is what runs.
  if (spec.is_object()) spec.erase(kBySetup);
  Filler filler(study, load, setup);
  Json filled = filler.filled(std::move(spec));
  if (!filler.refusal().empty()) return Error::badInput(filler.refusal());
  return filled;
}

}  // namespace ash
