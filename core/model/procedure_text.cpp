// SPDX-License-Identifier: GPL-3.0-or-later
// Procedures as text and back. The text may come from anywhere: length, depth and what groups unfold to are bounded.
#include <fmt/format.h>

#include <cmath>

#include "model/procedure.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr double kLongestPhaseS = 30 * 86400.0;
constexpr size_t kLongestText = 64 << 10, kLongestWords = 300;
constexpr int kMostDepth = 16, kMostPasses = 100'000;
constexpr std::string_view kExample = "\"idle 20s, soak settled 1min..5min, measure 1min, cool 30s\"";
constexpr std::string_view kBlank = " \t";

Error wrongPhase(std::string_view part, std::string_view why) {
  return Error::badInput(
      fmt::format("Phase \"{}\": {}. Write phases like {}.", withoutControls(part.substr(0, 200)), why, kExample));
}

std::string shortDuration(double seconds) {
  if (seconds >= 3600 && std::fmod(seconds, 3600) == 0) return fmt::format("{}h", seconds / 3600);
  if (seconds >= 60 && std::fmod(seconds, 60) == 0) return fmt::format("{}min", seconds / 60);
  return fmt::format("{}s", seconds);
}

Result<PhaseEnd> parseSettled(std::string_view part, std::string_view range) {
  const size_t dots = range.find("..");
  if (dots == std::string_view::npos) return wrongPhase(part, "'settled' needs a least and a most time, LEAST..MOST");
  const auto least = parseDurationS(range.substr(0, dots));
  const auto most = parseDurationS(range.substr(dots + 2));
  if (!least || !most) return wrongPhase(part, "its times need a number and a unit (s, min, h)");
  if (*most > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  if (*most <= 0 || *least > *most) return wrongPhase(part, "the least time is longer than the most");
  return PhaseEnd(EndsWhenSettled{*least, *most});
}

/// "45", "45 °C", and after it "1min..20min" or "..20min".
struct TemperatureEnd {
  double celsius = 0, leastS = 0, mostS = kLongestRecoverS;
};

Result<TemperatureEnd> parseTemperature(std::string_view part, std::string_view text) {
  TemperatureEnd end;
  if (const size_t dots = text.find(".."); dots != std::string_view::npos) {
    const size_t blank = text.find_last_of(kBlank, dots);
    if (blank == std::string_view::npos) return wrongPhase(part, "it needs a temperature before its times");
    const std::string_view least = trimmed(text.substr(blank, dots - blank)), most = trimmed(text.substr(dots + 2));
    const auto leastS = least.empty() ? std::optional(0.0) : parseDurationS(least);
    const auto mostS = parseDurationS(most);
    if (!leastS || !mostS) return wrongPhase(part, "its times need a number and a unit (s, min, h)");
    if (*mostS > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
    if (*mostS <= 0 || *leastS > *mostS) return wrongPhase(part, "the least time is longer than the most");
    end.leastS = *leastS;
    end.mostS = *mostS;
    text = trimmed(text.substr(0, blank));
  }
  for (const std::string_view unit : {"°C", "C"}) {
    if (text.ends_with(unit)) {
      text.remove_suffix(unit.size());
      break;
    }
  }
  const auto celsius = parseNumber(text);
  if (!celsius || std::abs(*celsius) > 500) return wrongPhase(part, "'below' and 'above' need a temperature in °C");
  end.celsius = *celsius;
  return end;
}

Result<PhaseEnd> parseTemperatureEnd(std::string_view part, PhaseKind kind, std::string_view text, bool isBelow) {
  if (isBelow && kind != PhaseKind::Cool && kind != PhaseKind::Idle)
    return wrongPhase(part, "only an idle or a cool phase can end below a temperature");
  if (!isBelow && kind != PhaseKind::Soak && kind != PhaseKind::Measure)
    return wrongPhase(part, "only a soak or a measure phase can end above a temperature");
  const auto end = parseTemperature(part, trimmed(text));
  if (!end) return end.error();
  if (isBelow) return PhaseEnd(EndsBelow{end->celsius, end->leastS, end->mostS});
  if (end->leastS > 0) return wrongPhase(part, "'above' has no least time: write ..MOST");
  return PhaseEnd(EndsAbove{end->celsius, end->mostS});
}

Result<PhaseEnd> parsePasses(std::string_view part, PhaseKind kind, std::string_view number) {
  if (kind != PhaseKind::Pass) return wrongPhase(part, "only a pass phase counts passes");
  const auto count = parseNumber(number);
  if (!count || *count < 1 || *count > kMostPasses || *count != std::floor(*count))
    return wrongPhase(part, fmt::format("passes are counted from x1 to x{}", kMostPasses));
  return PhaseEnd(EndsAfterPasses{static_cast<int>(*count)});
}

Result<PhaseEnd> parseWork(std::string_view part, PhaseKind kind, std::string_view number) {
  if (kind != PhaseKind::Soak && kind != PhaseKind::Measure)
    return wrongPhase(part, "only a soak or a measure phase ends when work is done");
  const auto units = parseNumber(number);
  if (!units || !(*units > 0) || *units > 1e15) return wrongPhase(part, "'work' needs a number of units above zero");
  return PhaseEnd(EndsWithWork{*units});
}

// "words" with \" and \\ in them; what stands behind the closing quote is left in `text`.
std::optional<std::string> takeQuoted(std::string_view& text) {
  if (!text.starts_with('"')) return std::nullopt;
  std::string words;
  for (size_t i = 1; i < text.size(); ++i) {
    if (text[i] == '"') {
      text.remove_prefix(i + 1);
      return words;
    }
    if (text[i] == '\\' && i + 1 < text.size()) ++i;
    words += text[i];
  }
  return std::nullopt;
}

Result<PhaseEnd> parsePause(std::string_view part, std::string_view text) {
  EndsByAnswer end;
  const auto words = takeQuoted(text);
  if (!words) return wrongPhase(part, "a pause says in quotes what shall be done: pause \"close the lid\"");
  end.words = trimmed(*words);
  if (end.words.empty() || end.words.size() > kLongestWords || withoutControls(end.words) != end.words)
    return wrongPhase(part, fmt::format("its words are 1 to {} characters in one line", kLongestWords));
  text = trimmed(text);
  if (text.empty()) return PhaseEnd(end);
  if (!text.starts_with("at most")) return wrongPhase(part, "after its words a pause may have only 'at most TIME'");
  const auto most = parseDurationS(trimmed(text.substr(7)));
  if (!most || *most <= 0) return wrongPhase(part, "'at most' needs a time such as 30s or 5min");
  if (*most > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  end.mostS = *most;
  return PhaseEnd(end);
}

Result<PhaseEnd> parseEnd(std::string_view part, PhaseKind kind, std::string_view text) {
  if (kind == PhaseKind::Pause) return parsePause(part, text);
  if (text.starts_with("settled")) return parseSettled(part, trimmed(text.substr(7)));
  if (text.starts_with("below")) return parseTemperatureEnd(part, kind, text.substr(5), true);
  if (text.starts_with("above")) return parseTemperatureEnd(part, kind, text.substr(5), false);
  if (text.starts_with("work")) return parseWork(part, kind, trimmed(text.substr(4)));
  if (text.starts_with('x')) return parsePasses(part, kind, trimmed(text.substr(1)));
  const auto seconds = parseDurationS(text);
  if (!seconds)
    return wrongPhase(part,
                      "its end must be a time such as 30s or 5min, 'settled LEAST..MOST', 'below T', 'above T', "
                      "'work N' or, of passes, 'xN'");
  if (*seconds <= 0) return wrongPhase(part, "its time must be longer than zero");
  if (*seconds > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  return PhaseEnd(EndsAfter{*seconds});
}

Result<Phase> parsePhase(std::string_view part) {
  const size_t blank = part.find_first_of(kBlank);
  const auto kind = phaseKindFromText(part.substr(0, blank));
  if (!kind) return wrongPhase(part, "its kind must be idle, soak, measure, cool, pass or pause");
  if (blank == std::string_view::npos) return wrongPhase(part, "it has no end");
  auto end = parseEnd(part, *kind, trimmed(part.substr(blank)));
  if (!end) return end.error();
  return Phase{*kind, std::move(*end)};
}

// "set KNOB VALUE": either may stand in quotes.
Result<KnobSetting> parseSetting(std::string_view part) {
  std::string_view text = trimmed(part.substr(3));
  const auto takeWord = [&]() -> std::string {
    if (text.starts_with('"')) return takeQuoted(text).value_or("");
    std::string word(text.substr(0, text.find_first_of(kBlank)));
    text.remove_prefix(word.size());
    return word;
  };
  KnobSetting setting;
  setting.knob = takeWord();
  text = trimmed(text);
  setting.value = takeWord();
  for (const std::string* word : {&setting.knob, &setting.value}) {
    if (word->empty() || word->size() > kLongestWords || withoutControls(*word) != *word)
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

  void skipBlanks() { m_at = std::min(m_text.find_first_not_of(kBlank, m_at), m_text.size()); }

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
      rest.remove_prefix(std::min(rest.find_first_not_of(kBlank), rest.size()));
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

std::string inQuotes(std::string_view words) {
  std::string text = "\"";
  for (const char c : words) {
    if (c == '"' || c == '\\') text += '\\';
    text += c;
  }
  return text + "\"";
}

std::string bareOrQuoted(const std::string& word) {
  return word.find_first_of(" \t\",()\\") == std::string::npos ? word : inQuotes(word);
}

std::string rangeText(double leastS, double mostS) {
  if (leastS == 0 && mostS == kLongestRecoverS) return {};
  return fmt::format(" {}..{}", leastS == 0 ? std::string() : shortDuration(leastS), shortDuration(mostS));
}

struct EndText {
  std::string operator()(const EndsAfter& end) const { return shortDuration(end.seconds); }
  std::string operator()(const EndsWhenSettled& end) const {
    return fmt::format("settled {}..{}", shortDuration(end.leastS), shortDuration(end.mostS));
  }
  std::string operator()(const EndsBelow& end) const {
    return fmt::format("below {}{}", end.celsius, rangeText(end.leastS, end.mostS));
  }
  std::string operator()(const EndsAbove& end) const {
    return fmt::format("above {}{}", end.celsius, rangeText(0, end.mostS));
  }
  std::string operator()(const EndsWithWork& end) const { return fmt::format("work {}", end.units); }
  std::string operator()(const EndsAfterPasses& end) const { return fmt::format("x{}", end.count); }
  std::string operator()(const EndsByAnswer& end) const {
    return inQuotes(end.words) + (std::isfinite(end.mostS) ? " at most " + shortDuration(end.mostS) : std::string());
  }
};

std::string settingsText(const Phase& phase, size_t from, size_t to) {
  std::string text;
  for (size_t i = from; i < to; ++i)
    text += fmt::format("set {} {}, ", bareOrQuoted(phase.settings[i].knob), bareOrQuoted(phase.settings[i].value));
  return text;
}

// Phases [from, to), with the first `groups` of its groups as far as they lie within; those behind are outside of those
// before. `written` = settings of the first phase that stand already before it.
std::string textOf(const Procedure& procedure, size_t from, size_t to, size_t groups, size_t written) {
  std::string text;
  for (size_t i = from; i < to;) {
    if (!text.empty()) text += ", ";
    const Phase& phase = procedure.phases[i];
    const size_t had = i == from ? std::min(written, phase.settings.size()) : 0;
    // The outermost group that begins here.
    size_t g = groups;
    while (g > 0) {
      const PhaseGroup& group = procedure.groups[g - 1];
      if (group.first == i && group.length > 0 && group.first + group.length * group.times <= to) break;
      --g;
    }
    if (g > 0) {
      const PhaseGroup& group = procedure.groups[g - 1];
      // What its second time does not repeat was set before it.
      const size_t again = group.times > 1 ? procedure.phases[i + group.length].settings.size() : phase.settings.size();
      const size_t before = std::max(had, phase.settings.size() - std::min(again, phase.settings.size()));
      text += settingsText(phase, had, before);
      text += fmt::format("{} x ({})", group.times, textOf(procedure, i, i + group.length, g - 1, before));
      i += group.length * group.times;
      continue;
    }
    text += settingsText(phase, had, phase.settings.size());
    text += fmt::format("{} {}", phaseKindText(phase.kind), std::visit(EndText{}, phase.end));
    ++i;
  }
  return text;
}

}  // namespace

Result<Procedure> parsePhases(std::string_view text) {
  if (trimmed(text).empty()) return Error::badInput(fmt::format("No phases given. Write phases like {}.", kExample));
  if (text.size() > kLongestText)
    return Error::badInput(fmt::format("The procedure is longer than {} KiB.", kLongestText >> 10));
  return PhaseParser(text).parse();
}

std::string phasesText(const Procedure& procedure) {
  return textOf(procedure, 0, procedure.phases.size(), procedure.groups.size(), 0);
}

}  // namespace ash
