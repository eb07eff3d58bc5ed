// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures as text and back. The text may come from anywhere: length, depth and what groups unfold to are bounded.
#include <fmt/format.h>

#include <cmath>

#include "model/phase_end_text.h"
#include "model/procedure_tree.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kLongestText = 64 << 10;
constexpr int kMostDepth = 16;

Result<Phase> parsePhase(std::string_view part) {
  const size_t blank = part.find_first_of(kPhaseBlank);
  const auto kind = phaseKindFromText(part.substr(0, blank));
  if (!kind) return wrongPhase(part, "its kind must be idle, soak, measure, cool, pass or pause");
  if (blank == std::string_view::npos) return wrongPhase(part, "it has no end");
  auto end = parsePhaseEnd(part, *kind, trimmed(part.substr(blank)));
  if (!end) return end.error();
  return Phase{*kind, std::move(*end)};
}

// "set KNOB VALUE": either may stand in quotes.
Result<KnobSetting> parseSetting(std::string_view part) {
  std::string_view text = trimmed(part.substr(3));
  const auto takeWord = [&]() -> std::string {
    if (text.starts_with('"')) return takeQuoted(text).value_or("");
    std::string word(text.substr(0, text.find_first_of(kPhaseBlank)));
    text.remove_prefix(word.size());
    return word;
  };
  KnobSetting setting;
  setting.knob = takeWord();
  text = trimmed(text);
  setting.value = takeWord();
  for (const std::string* word : {&setting.knob, &setting.value}) {
    if (word->empty() || word->size() > kLongestPhaseWords || withoutControls(*word) != *word)
      return wrongPhase(part, "write: set KNOB VALUE, such as set cpu.power.limit 65");
  }
  if (!trimmed(text).empty()) return wrongPhase(part, "after the value of 'set' nothing may follow but a comma");
  return setting;
}

/// Reads from the left to the right, a group by calling itself.
class PhaseParser {
 public:
  explicit PhaseParser(std::string_view text) : m_text(text) {}

  Result<Procedure> parse() {
    auto procedure = parseList(0);
    if (procedure && m_at < m_text.size()) return wrongPhase(m_text.substr(m_at), "a ')' has no '('");
    return procedure;
  }

 private:
  // Up to the end or the ')' that ends it.
  Result<Procedure> parseList(int depth) {
    Procedure all;
    std::vector<KnobSetting> settings;
    for (;;) {
      skipBlanks();
      if (const auto times = takeGroupHead()) {
        auto group = parseGroup(*times, depth);
        if (!group) return group.error();
        // Once before the group, not at each of its times.
        std::vector<KnobSetting>& first = group->phases.front().settings;
        first.insert(first.begin(), settings.begin(), settings.end());
        if (Status added = append(all, std::move(*group)); !added) return added.error();
        settings.clear();
      } else {
        const std::string_view part = trimmed(takeItem());
        if (part.starts_with("set ") || part.starts_with("set\t")) {
          auto setting = parseSetting(part);
          if (!setting) return setting.error();
          settings.push_back(std::move(*setting));
        } else {
          auto phase = parsePhase(part);
          if (!phase) return phase.error();
          phase->settings = std::exchange(settings, {});
          Procedure one;
          one.phases.push_back(std::move(*phase));
          if (Status added = append(all, std::move(one)); !added) return added.error();
        }
      }
      skipBlanks();
      if (m_at >= m_text.size() || m_text[m_at] == ')') break;
      if (m_text[m_at] != ',') return wrongPhase(m_text.substr(m_at), "a comma is missing before it");
      ++m_at;
    }
    if (!settings.empty()) return wrongPhase("set " + settings.back().knob, "no phase follows for which it is set");
    return all;
  }

  Result<Procedure> parseGroup(size_t times, int depth) {
    if (depth >= kMostDepth) return wrongPhase(m_text.substr(m_at), "groups stand in groups too deep");
    auto once = parseList(depth + 1);
    if (!once) return once;
    if (m_at >= m_text.size()) return wrongPhase(m_text, "a group has no ')' at its end");
    ++m_at;  // of the ')'
    Procedure all;
    all.groups = once->groups;
    all.groups.push_back({0, once->phases.size(), times});
    if (once->phases.size() * times > kMostPhases) return tooMany();
    for (size_t i = 0; i < times; ++i) all.phases.insert(all.phases.end(), once->phases.begin(), once->phases.end());
    return all;
  }

  static Status append(Procedure& all, Procedure more) {
    if (all.phases.size() + more.phases.size() > kMostPhases) return tooMany();
    for (PhaseGroup group : more.groups) {
      group.first += all.phases.size();
      all.groups.push_back(group);
    }
    for (Phase& phase : more.phases) all.phases.push_back(std::move(phase));
    return {};
  }

  static Error tooMany() {
    return Error::badInput(fmt::format("With its groups unfolded the procedure has more than {} phases.", kMostPhases));
  }

  void skipBlanks() { m_at = std::min(m_text.find_first_not_of(kPhaseBlank, m_at), m_text.size()); }

  // "3 x (" is taken, anything else is left.
  std::optional<size_t> takeGroupHead() {
    std::string_view rest = m_text.substr(m_at);
    const size_t digits = std::min(rest.find_first_not_of("0123456789"), rest.size());
    if (digits == 0 || digits > 5) return std::nullopt;
    const size_t times = std::stoul(std::string(rest.substr(0, digits)));
    rest = trimmed(rest.substr(digits));
    for (const std::string_view sign : {"x", "×"}) {
      if (times == 0 || !rest.starts_with(sign)) continue;
      rest.remove_prefix(sign.size());
      rest.remove_prefix(std::min(rest.find_first_not_of(kPhaseBlank), rest.size()));
      if (!rest.starts_with('(')) return std::nullopt;
      m_at = static_cast<size_t>(rest.data() - m_text.data()) + 1;
      return times;
    }
    return std::nullopt;
  }

  // Up to a comma or a ')' that stands in no quotes.
  std::string_view takeItem() {
    const size_t from = m_at;
    for (bool isQuoted = false; m_at < m_text.size(); ++m_at) {
      const char c = m_text[m_at];
      if (isQuoted && c == '\\') {
        ++m_at;
      } else if (c == '"') {
        isQuoted = !isQuoted;
      } else if (!isQuoted && (c == ',' || c == ')')) {
        break;
      }
    }
    m_at = std::min(m_at, m_text.size());
    return m_text.substr(from, m_at - from);
  }

  std::string_view m_text;
  size_t m_at = 0;
};

std::string bareOrQuoted(const std::string& word) {
  return word.find_first_of(" \t\",()\\") == std::string::npos ? word : inQuotes(word);
}

std::string settingsText(const std::vector<KnobSetting>& settings) {
  std::string text;
  for (const KnobSetting& one : settings)
    text += fmt::format("set {} {}, ", bareOrQuoted(one.knob), bareOrQuoted(one.value));
  return text;
}

std::string textOf(const StepTree& tree) {
  std::string text;
  for (const StepNode& node : tree) {
    if (!text.empty()) text += ", ";
    if (node.isGroup())
      text += fmt::format("{}{} x ({})", settingsText(node.before), node.times, textOf(node.inner));
    else
      text += fmt::format("{}{} {}", settingsText(node.phase.settings), phaseKindText(node.phase.kind),
                          phaseEndText(node.phase.end));
  }
  return text;
}

}  // namespace

Result<Procedure> parsePhases(std::string_view text) {
  if (trimmed(text).empty())
    return Error::badInput(fmt::format("No phases given. Write phases like {}.", kExamplePhases));
  if (text.size() > kLongestText)
    return Error::badInput(fmt::format("The procedure is longer than {} KiB.", kLongestText >> 10));
  return PhaseParser(text).parse();
}

std::string phasesText(const Procedure& procedure) { return textOf(treeOf(procedure)); }

}  // namespace ash
