// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/phase_end_text.h"

#include <fmt/format.h>

#include <cmath>

#include "model/text.h"

namespace ash {
namespace {

constexpr double kLongestPhaseS = 30 * 86400.0;
constexpr int kMostPasses = 100'000;

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
    const size_t blank = text.find_last_of(kPhaseBlank, dots);
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

Result<PhaseEnd> parsePause(std::string_view part, std::string_view text) {
  EndsByAnswer end;
  const auto words = takeQuoted(text);
  if (!words) return wrongPhase(part, "a pause says in quotes what shall be done: pause \"close the lid\"");
  end.words = trimmed(*words);
  if (end.words.empty() || end.words.size() > kLongestPhaseWords || withoutControls(end.words) != end.words)
    return wrongPhase(part, fmt::format("its words are 1 to {} characters in one line", kLongestPhaseWords));
  text = trimmed(text);
  if (text.empty()) return PhaseEnd(end);
  if (!text.starts_with("at most")) return wrongPhase(part, "after its words a pause may have only 'at most TIME'");
  const auto most = parseDurationS(trimmed(text.substr(7)));
  if (!most || *most <= 0) return wrongPhase(part, "'at most' needs a time such as 30s or 5min");
  if (*most > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  end.mostS = *most;
  return PhaseEnd(end);
}

// "battery empty", "battery 20%", and after it "..10h".
Result<PhaseEnd> parseCharge(std::string_view part, PhaseKind kind, std::string_view text) {
  if (kind == PhaseKind::Cool || kind == PhaseKind::Pass)
    return wrongPhase(part, "only an idle, a soak or a measure phase runs a battery down");
  EndsAtCharge end;
  if (const size_t dots = text.find(".."); dots != std::string_view::npos) {
    const auto most = parseDurationS(trimmed(text.substr(dots + 2)));
    if (!most || *most <= 0) return wrongPhase(part, "its most time needs a number and a unit (s, min, h)");
    if (*most > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
    end.mostS = *most;
    text = trimmed(text.substr(0, dots));
  }
  if (text == "empty") return PhaseEnd(end);
  if (text.ends_with('%')) text.remove_suffix(1);
  const auto percent = parseNumber(trimmed(text));
  if (!percent || !(*percent > 0 && *percent < 100))
    return wrongPhase(part, "'battery' needs 'empty' or a charge above 0 and below 100 %");
  end.percent = *percent;
  return PhaseEnd(end);
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
  std::string operator()(const EndsAtCharge& end) const {
    const std::string most = end.mostS == kLongestRunDownS ? std::string() : " .." + shortDuration(end.mostS);
    return (end.percent > 0 ? fmt::format("battery {}%", end.percent) : std::string("battery empty")) + most;
  }
  std::string operator()(const EndsWithWork& end) const { return fmt::format("work {}", end.units); }
  std::string operator()(const EndsAfterPasses& end) const { return fmt::format("x{}", end.count); }
  std::string operator()(const EndsByAnswer& end) const {
    return inQuotes(end.words) + (std::isfinite(end.mostS) ? " at most " + shortDuration(end.mostS) : std::string());
  }
};

}  // namespace

Error wrongPhase(std::string_view part, std::string_view why) {
  return Error::badInput(fmt::format("Phase \"{}\": {}. Write phases like {}.", withoutControls(part.substr(0, 200)),
                                     why, kExamplePhases));
}

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

std::string inQuotes(std::string_view words) {
  std::string text = "\"";
  for (const char c : words) {
    if (c == '"' || c == '\\') text += '\\';
    text += c;
  }
  return text + "\"";
}

Result<PhaseEnd> parsePhaseEnd(std::string_view part, PhaseKind kind, std::string_view text) {
  if (kind == PhaseKind::Pause) return parsePause(part, text);
  if (text.starts_with("settled")) return parseSettled(part, trimmed(text.substr(7)));
  if (text.starts_with("below")) return parseTemperatureEnd(part, kind, text.substr(5), true);
  if (text.starts_with("above")) return parseTemperatureEnd(part, kind, text.substr(5), false);
  if (text.starts_with("work")) return parseWork(part, kind, trimmed(text.substr(4)));
  if (text.starts_with("battery")) return parseCharge(part, kind, trimmed(text.substr(7)));
  if (text.starts_with('x')) return parsePasses(part, kind, trimmed(text.substr(1)));
  const auto seconds = parseDurationS(text);
  if (!seconds)
    return wrongPhase(part,
                      "its end must be a time such as 30s or 5min, 'settled LEAST..MOST', 'below T', 'above T', "
                      "'work N', 'battery empty', 'battery N%' or, of passes, 'xN'");
  if (*seconds <= 0) return wrongPhase(part, "its time must be longer than zero");
  if (*seconds > kLongestPhaseS) return wrongPhase(part, "it is longer than 30 days");
  return PhaseEnd(EndsAfter{*seconds});
}

std::string phaseEndText(const PhaseEnd& end) { return std::visit(EndText{}, end); }

}  // namespace ash
