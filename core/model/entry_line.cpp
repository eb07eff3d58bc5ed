// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/entry_line.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "model/number_text.h"
#include "model/sound_level.h"
#include "model/text.h"
#include "model/typed_reading.h"
#include "model/unit.h"

namespace ash {
namespace {

// What else can be typed: the first word, and what is told of it while it is typed.
struct EntryKindRow {
  Entry::Kind kind;
  std::string_view word, help;
};
constexpr std::array kEntryKinds = {
    EntryKindRow{Entry::Kind::Setting, "set", "a setting that was changed, e.g. set power-limit 65 W"},
    EntryKindRow{Entry::Kind::Note, "note", "words, kept with their moment"},
    EntryKindRow{Entry::Kind::Void, "void", "the run does not count, with its reason"},
    EntryKindRow{Entry::Kind::Fail, "fail", "the run does not count, with its reason"}};

std::vector<std::string> wordsOf(std::string_view line) {
  std::vector<std::string> words;
  for (const std::string_view part : splitText(line, ' ')) {
    if (!trimmed(part).empty()) words.emplace_back(trimmed(part));
  }
  return words;
}

std::string joined(const std::vector<std::string>& words, size_t from) {
  std::string text;
  for (size_t i = from; i < words.size(); ++i) text += (text.empty() ? "" : " ") + words[i];
  return text;
}

/// A number with what is glued to its end: "38,5dBA" -> 38.5, "dBA".
struct Measured {
  double value = kMissing;
  std::string unit;
};

std::optional<Measured> measuredOf(std::string text) {
  std::replace(text.begin(), text.end(), ',', '.');
  if (text.starts_with("−")) text.replace(0, std::string_view("−").size(), "-");
  size_t end = 0;
  while (end < text.size() && (std::isdigit(static_cast<unsigned char>(text[end])) != 0 || text[end] == '.' ||
                               (end == 0 && (text[end] == '-' || text[end] == '+'))))
    ++end;
  // "38..44" is a range, not a number with two points.
  const auto number = parseNumber(text.substr(0, end));
  if (!number) return std::nullopt;
  return Measured{*number, text.substr(end)};
}

bool isDistance(const Measured& measured) {
  constexpr std::array<std::string_view, 3> kUnits = {"cm", "mm", "m"};
  return std::find(kUnits.begin(), kUnits.end(), measured.unit) != kUnits.end();
}

// How units are typed that a header would write out; the unit itself where it is none of these.
std::string unitAsTyped(const std::string& typed) {
  constexpr std::array<std::pair<std::string_view, const char*>, 7> kTyped = {
      {{"c", "°C"}, {"°", "°C"}, {"f", "°F"}, {"db", "dBA"}, {"dba", "dBA"}, {"db(a)", "dBA"}, {"w", "W"}}};
  const std::string small = lowerCase(typed);
  const auto found = std::find_if(kTyped.begin(), kTyped.end(), [&](const auto& unit) { return unit.first == small; });
  return found == kTyped.end() ? typed : found->second;
}

std::string distanceText(const Measured& measured) { return fmt::format("{:g} {}", measured.value, measured.unit); }

Error missingNumber(const TypedReading& word) {
  return Error::badInput(fmt::format("{} needs a number, e.g. “{}”.", word.word, word.example));
}

// What is read so far of "38", "38.5dBA", "38 to 44", "38..44", "38.5 dBA at 50 cm".
class NumberReader {
 public:
  NumberReader(const TypedReading& word, std::vector<std::string> words) : m_word(word), m_words(std::move(words)) {}

  Result<Entry> read(Entry entry) {
    splitRange();
    if (m_words.empty()) return missingNumber(m_word);
    const auto first = measuredOf(m_words[0]);
    if (!first) return missingNumber(m_word);
    entry.value = first->value;
    m_unit = first->unit;
    size_t at = 1;
    if (Status added = addSources(entry, at); !added) return added.error();
    if (at + 1 < m_words.size() && (lowerCase(m_words[at]) == "to" || m_words[at] == "..")) {
      const auto high = measuredOf(m_words[at + 1]);
      if (!high) return Error::badInput(fmt::format("A range needs two numbers, e.g. “{} 38 to 44”.", m_word.word));
      entry.valueHigh = high->value;
      if (!high->unit.empty()) m_unit = high->unit;
      at += 2;
    }
    for (; at < m_words.size(); ++at) {
      if (Status taken = takeRest(entry, at); !taken) return taken.error();
    }
    return finish(std::move(entry));
  }

 private:
  // "38..44" in one word becomes three, and "32+34" as well.
  void splitRange() {
    if (m_words.empty()) return;
    for (size_t plus = m_words[0].rfind('+'); plus != std::string::npos && plus > 0; plus = m_words[0].rfind('+')) {
      const std::string rest = m_words[0].substr(plus + 1);
      m_words[0].resize(plus);
      if (!rest.empty()) m_words.insert(m_words.begin() + 1, rest);
      m_words.insert(m_words.begin() + 1, "+");
    }
    const std::string first = m_words[0];
    const size_t dots = first.find("..");
    if (dots == std::string::npos) return;
    m_words[0] = first.substr(0, dots);
    m_words.insert(m_words.begin() + 1, {"..", first.substr(dots + 2)});
  }

  static Error onlyLevelsAreAdded() {
    return Error::badInput("Only sound levels are added, each a number, e.g. “noise 32 + 34.5 50cm”.");
  }

  // "32 + 34.5": sources that were measured one by one sound together.
  Status addSources(Entry& entry, size_t& at) {
    std::vector<double> levels = {entry.value};
    for (; at + 1 < m_words.size() && m_words[at] == "+"; at += 2) {
      const auto next = measuredOf(m_words[at + 1]);
      if (!next || isDistance(*next) || !m_word.canBeAdded()) return onlyLevelsAreAdded();
      levels.push_back(next->value);
      if (!next->unit.empty()) m_unit = next->unit;
    }
    if (levels.size() == 1) return {};
    entry.value = soundSumDba(levels);
    for (const double level : levels) entry.text += (entry.text.empty() ? "" : " + ") + numberText(level, 1);
    return {};
  }

  Status takeRest(Entry& entry, size_t& at) {
    const std::string word = m_words[at];
    if (lowerCase(word) == "at") return {};
    if (word == "+") return onlyLevelsAreAdded();
    if (auto measured = measuredOf(word)) {
      if (measured->unit.empty() && at + 1 < m_words.size()) {
        measured->unit = m_words[at + 1];
        if (isDistance(*measured)) ++at;
      }
      if (isDistance(*measured) && entry.place.empty()) {
        entry.place = distanceText(*measured);
        return {};
      }
    } else if (m_unit.empty() && (matchUnit(unitAsTyped(word)))) {
      m_unit = word;
      return {};
    } else if (m_word.isNamed()) {
      return Error::badInput("The name of a score stands before its number, e.g. “score graphics 1490”.");
    } else if (entry.place.empty()) {
      entry.place = joined(m_words, at);
      at = m_words.size();
      return {};
    }
    return Error::badInput(
        fmt::format("“{}” is more than {} can take; write it as in “{}”.", word, m_word.word, m_word.example));
  }

  Result<Entry> finish(Entry entry) {
    entry.unit = m_word.unit;
    if (Status converted = convert(entry); !converted) return converted.error();
    if (std::isfinite(entry.valueHigh) && entry.valueHigh < entry.value) std::swap(entry.value, entry.valueHigh);
    const double top = std::isfinite(entry.valueHigh) ? entry.valueHigh : entry.value;
    if (entry.value < m_word.least || top > m_word.most) {
      return Error::badInput(fmt::format("{} {:g} {} is not believable; it must lie between {:g} and {:g}.",
                                         m_word.word, entry.value < m_word.least ? entry.value : top, m_word.unit,
                                         m_word.least, m_word.most));
    }
    return entry;
  }

  Status convert(Entry& entry) const {
    const std::string unit = unitAsTyped(m_unit);
    if (unit.empty() || unit == m_word.unit) return {};
    const auto match = matchUnit(unit);
    if (!match || m_word.unit.empty() || unitOf(match->quantity) != m_word.unit) {
      return Error::badInput(fmt::format("{} is kept in {}, not in {}.", m_word.word,
                                         m_word.unit.empty() ? "points" : m_word.unit, m_unit));
    }
    entry.value = match->toStored(entry.value);
    if (std::isfinite(entry.valueHigh)) entry.valueHigh = match->toStored(entry.valueHigh);
    return {};
  }

  const TypedReading& m_word;
  std::vector<std::string> m_words;
  std::string m_unit;
};

Result<Entry> parseReading(const TypedReading& word, std::vector<std::string> words) {
  Entry entry;
  entry.kind = Entry::Kind::Reading;
  entry.role = word.roleAt({});
  words.erase(words.begin());
  const bool isNamed = !words.empty() && !measuredOf(words.front());
  if (word.hasOwnPlace()) {
    // Everything up to the number is the place.
    const auto number =
        std::find_if(words.begin(), words.end(), [](const std::string& w) { return measuredOf(w).has_value(); });
    if (number == words.begin() || words.empty())
      return Error::badInput(fmt::format("surface needs its place first, e.g. “{}”.", word.example));
    std::string place;
    for (auto w = words.begin(); w != number; ++w) place += (place.empty() ? "" : "-") + lowerCase(*w);
    entry.role = word.roleAt(place);
    if (!entry.role.isKnown())
      return Error::badInput(fmt::format("“{}” is no name for a place: letters, digits and - only.", place));
    words.erase(words.begin(), number);
  } else if (word.isNamed() && isNamed) {
    entry.name = lowerCase(words.front());
    words.erase(words.begin());
  }
  return NumberReader(word, std::move(words)).read(std::move(entry));
}

Result<Entry> parseSetting(const std::vector<std::string>& words) {
  if (words.size() < 3) return Error::badInput("set needs what and to what, e.g. “set power-limit 65 W”.");
  Entry entry;
  entry.kind = Entry::Kind::Setting;
  entry.name = lowerCase(words[1]);
  entry.text = joined(words, 2);
  if (const auto measured = measuredOf(words[2])) {
    entry.value = measured->value;
    entry.unit = measured->unit.empty() && words.size() == 4 ? words[3] : measured->unit;
  }
  return entry;
}

std::string withoutBlanks(std::string text) {
  std::erase(text, ' ');
  return text;
}

bool startsWithWord(std::string_view whole, std::string_view typed) { return whole.substr(0, typed.size()) == typed; }

}  // namespace

Result<Entry> parseEntry(std::string_view line) {
  const auto words = wordsOf(line);
  if (words.empty())
    return Error::badInput("The line is empty; begin with noise, surface, score, wall, room, set, note, void or fail.");
  if (line.size() > 500) return Error::badInput("An entry has at most 500 characters.");
  const std::string first = lowerCase(words[0]);
  if (const TypedReading* word = typedReadingCalled(first)) return parseReading(*word, words);
  const auto kind =
      std::find_if(kEntryKinds.begin(), kEntryKinds.end(), [&](const EntryKindRow& row) { return row.word == first; });
  const bool isNamed = kind != kEntryKinds.end();
  if (isNamed && kind->kind == Entry::Kind::Setting) return parseSetting(words);
  Entry entry;
  entry.kind = isNamed ? kind->kind : Entry::Kind::Note;
  entry.text = isNamed ? joined(words, 1) : std::string(trimmed(line));
  if (entry.text.empty()) {
    return Error::badInput(entry.kind == Entry::Kind::Void
                               ? "void needs its reason, e.g. “void left a cable in the fan”."
                               : "note needs its words, e.g. “note coil whine”.");
  }
  return entry;
}

std::string entryWords(const Entry& entry) {
  switch (entry.kind) {
    case Entry::Kind::Note:
      return "note: " + entry.text;
    case Entry::Kind::Void:
      return "void: " + entry.text;
    case Entry::Kind::Fail:
      return "load failed: " + entry.text;
    case Entry::Kind::Setting:
      return "setting " + entry.name + " " + entry.text;
    case Entry::Kind::Reading:
      break;
  }
  std::string what = typedWords(entry.role);
  if (!entry.name.empty()) what += " " + entry.name;
  const int digits = std::abs(entry.value - std::round(entry.value)) < 1e-9 && entry.unit.empty() ? 0 : 1;
  std::string value = withUnit(entry.value, digits, entry.unit);
  if (std::isfinite(entry.valueHigh))
    value = numberText(entry.value, digits) + " to " + withUnit(entry.valueHigh, digits, entry.unit);
  if (!entry.text.empty()) value += " (" + entry.text + " together)";
  return what + " " + value + (entry.place.empty() ? "" : " at " + entry.place);
}

Event eventOf(const Entry& entry, double atS) {
  Event event;
  event.atS = atS;
  event.value = entry.value;
  event.valueHigh = entry.valueHigh;
  event.role = entry.role;
  if (!entry.place.empty()) event.extra["place"] = entry.place;
  if (!entry.name.empty()) event.extra["name"] = entry.name;
  switch (entry.kind) {
    case Entry::Kind::Note:
      event.kind = EventKind::Note;
      event.text = entry.text;
      break;
    case Entry::Kind::Void:
      event.kind = EventKind::Void;
      event.text = entry.text;
      break;
    case Entry::Kind::Fail:
      event.kind = EventKind::Fail;
      event.text = entry.text;
      break;
    case Entry::Kind::Setting:
      event.kind = EventKind::Setting;
      event.text = entry.name + " " + entry.text;
      break;
    case Entry::Kind::Reading:
      event.kind = EventKind::Reading;
      event.text = entryWords(entry);
      break;
  }
  return event;
}

std::vector<EntryCompletion> completeEntry(std::string_view line, const std::vector<OwedReading>& owed) {
  std::vector<EntryCompletion> all;
  const std::string typed(line.substr(std::min(line.size(), line.find_first_not_of(' '))));
  const bool isOneWord = typed.find(' ') == std::string::npos;
  for (const OwedReading& reading : owed) {
    if (typedReadingOf(reading.role) == nullptr) continue;
    const std::string start = typedWords(reading.role);
    if (isOneWord && startsWithWord(start, lowerCase(typed))) all.push_back({start + " ", owedWords(reading)});
    // The number stands there; the place the plan asks for is missing.
    const auto entry = parseEntry(typed);
    if (!isOneWord && !reading.place.empty() && entry && entry->role == reading.role && entry->place.empty())
      all.push_back({std::string(trimmed(typed)) + " " + reading.place, owedWords(reading)});
    // The place has been begun: "noise 36.4 5".
    const size_t last = typed.rfind(' ');
    const std::string begun = isOneWord || last == std::string::npos ? "" : typed.substr(last + 1);
    const auto before = parseEntry(typed.substr(0, last));
    const bool isBegun =
        !begun.empty() && startsWithWord(withoutBlanks(reading.place), begun) && begun != withoutBlanks(reading.place);
    if (isBegun && before && before->role == reading.role && before->place.empty())
      all.push_back({typed.substr(0, last + 1) + withoutBlanks(reading.place), owedWords(reading)});
  }
  if (!isOneWord) return all;
  for (const TypedReading& word : typedReadings()) {
    const bool isThere = std::any_of(all.begin(), all.end(), [&](const EntryCompletion& known) {
      return known.line.starts_with(std::string(word.word) + " ");
    });
    if (!isThere && startsWithWord(word.word, lowerCase(typed)))
      all.push_back({std::string(word.word) + " ", "e.g. " + std::string(word.example)});
  }
  for (const EntryKindRow& row : kEntryKinds) {
    if (startsWithWord(row.word, lowerCase(typed))) all.push_back({std::string(row.word) + " ", std::string(row.help)});
  }
  return all;
}

}  // namespace ash
