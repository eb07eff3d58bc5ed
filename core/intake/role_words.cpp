// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/role_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <set>

#include "model/text.h"

namespace ash {
namespace {

/// All of `needs` must be there ("a|b" = one of them), none of `never`. <N> in the role is the name's number.
struct WordRow {
  Quantity quantity;
  std::string_view needs, never, role;
};

// The first row that fits is taken, so special ones stand before general ones. docs/import.md prints it.
constexpr std::array kRows = {
    WordRow{Quantity::Temperature, "gpu|graphics|grafik hotspot|hot|junction", "", "gpu.temp.hotspot"},
    WordRow{Quantity::Temperature, "gpu|graphics|grafik memory|vram|speicher", "", "gpu.temp.memory"},
    WordRow{Quantity::Temperature, "vrm|vrms|regulator|regulators", "gpu|graphics|grafik", "board.temp.vrm"},
    WordRow{Quantity::Temperature, "gpu|graphics|grafik|graphique", "limit|max|min|fan|vrm|cpu", "gpu.temp"},
    WordRow{Quantity::Temperature, "cpu|processor|prozessor package", "limit|max|min|gpu|core", "cpu.temp.package"},
    WordRow{Quantity::Temperature, "cpu|processor|prozessor|core|cores|kerne mean|average|avg|mittel",
            "gpu|max|min|limit", "cpu.temp.mean"},
    WordRow{Quantity::Temperature, "core|kern <N>", "gpu|max|min|limit|distance|fan", "cpu.temp.core<N>"},
    WordRow{Quantity::Temperature, "cpu|processor|prozessor|processeur|procesador|processore",
            "gpu|limit|min|core|cores|package|fan|vrm|distance|socket|<N>", "cpu.temp"},
    WordRow{Quantity::Temperature, "coolant|water|liquid|wasser|kühlmittel", "<N>", "coolant.temp"},
    WordRow{Quantity::Temperature, "room|ambient|raum|umgebung|ambiante", "<N>", "room.temp"},
    WordRow{Quantity::Temperature, "exhaust|abluft", "<N>", "exhaust.temp"},
    WordRow{Quantity::Temperature, "case|chassis|gehäuse", "<N>", "case.temp"},
    WordRow{Quantity::Temperature, "ssd|nvme|drive|disk|hdd|storage|laufwerk", "<N>", "storage.temp"},
    WordRow{Quantity::Temperature, "dimm|ram|memory|speicher", "gpu|<N>", "memory.temp"},
    WordRow{Quantity::Temperature, "board|motherboard|mainboard|hauptplatine", "<N>", "board.temp"},
    WordRow{Quantity::Clock, "gpu|graphics|grafik memory|vram|speicher", "", "gpu.clock.memory"},
    WordRow{Quantity::Clock, "gpu|graphics|grafik", "limit|max|min|video|memory", "gpu.clock"},
    WordRow{Quantity::Clock, "core|kern <N>", "gpu|limit|max|min|bus|effective", "cpu.clock.core<N>"},
    WordRow{Quantity::Clock, "cpu|processor|prozessor|core|cores|kern|kerne",
            "gpu|limit|max|min|bus|<N>|effective|ring", "cpu.clock"},
    WordRow{Quantity::Power, "cpu|processor|prozessor|package limit", "gpu|<N>", "cpu.power.limit"},
    WordRow{Quantity::Power, "wall|mains|outlet|socket|steckdose|prise", "<N>", "wall.power"},
    WordRow{Quantity::Power, "battery|akku|batterie", "<N>", "battery.power"},
    WordRow{Quantity::Power, "gpu|graphics|grafik chip", "limit|max|min|<N>", "gpu.power.chip"},
    WordRow{Quantity::Power, "gpu|graphics|grafik|graphique", "limit|max|min|core|<N>", "gpu.power"},
    WordRow{Quantity::Power, "cpu|processor|prozessor|processeur|package", "gpu|limit|max|min|core|cores|dram|<N>",
            "cpu.power"},
    WordRow{Quantity::Energy, "wall|mains|outlet|socket|steckdose", "<N>", "wall.energy"},
    WordRow{Quantity::Energy, "cpu|package", "gpu|core|cores|<N>", "cpu.energy"},
    WordRow{Quantity::Percent, "fan|lüfter cpu", "<N>", "fan.cpu.duty"},
    WordRow{Quantity::Percent, "battery|akku|batterie charge|level|ladung|stand", "<N>", "battery.charge"},
    WordRow{Quantity::Percent, "gpu|graphics|grafik load|usage|utilization|utilisation|auslastung",
            "memory|vram|video|<N>|fan", "gpu.load"},
    WordRow{Quantity::Percent, "cpu|processor|prozessor|processeur load|usage|utilization|utilisation|auslastung|total",
            "gpu|core|thread|memory|max|<N>|fan", "cpu.load"},
    WordRow{Quantity::FanSpeed, "pump|pumpe|pompe", "<N>", "pump"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur cpu", "<N>", "fan.cpu"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur gpu", "<N>", "fan.gpu"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur rear|hinten", "<N>", "fan.rear"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur front|vorne", "<N>", "fan.front"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur top|oben", "<N>", "fan.top"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur case|chassis|gehäuse", "<N>|cpu|gpu", "fan.case"},
    WordRow{Quantity::FanSpeed, "fan|lüfter|ventilateur <N>", "cpu|gpu|rear|front|top", "fan.<N>"},
    WordRow{Quantity::Voltage, "cpu|core|processor|prozessor", "gpu|soc|<N>", "cpu.volt"},
    WordRow{Quantity::Voltage, "gpu|graphics|grafik", "<N>", "gpu.volt"},
    WordRow{Quantity::Noise, "", "<N>", "noise"},
    WordRow{Quantity::FrameRate, "", "<N>|1%|low|max|min", "frame.rate"},
};

struct QuantityRow {
  std::string_view words;
  Quantity quantity;
};
constexpr std::array kQuantityWords = {
    QuantityRow{"temperature|temp|temps|temperatur|température|temperatura", Quantity::Temperature},
    QuantityRow{"clock|frequency|freq|takt|fréquence|frecuencia", Quantity::Clock},
    QuantityRow{"power|leistung|puissance|potencia|watt|watts", Quantity::Power},
    QuantityRow{"rpm|speed|drehzahl", Quantity::FanSpeed},
    QuantityRow{"usage|load|utilization|utilisation|auslastung|charge|duty", Quantity::Percent},
    QuantityRow{"voltage|spannung|tension|vcore", Quantity::Voltage},
    QuantityRow{"noise|lärm|bruit", Quantity::Noise},
    QuantityRow{"fps", Quantity::FrameRate}};

// Languages that write words together: a thing ("gehäuse") and what is measured of it or stands on it ("lüfter").
constexpr std::string_view kThings =
    "cpu|gpu|prozessor|kern|kerne|grafik|gehäuse|raum|umgebung|wasser|kühlmittel|pumpe|speicher|lüfter|akku|batterie|"
    "laufwerk|steckdose|hauptplatine";
constexpr std::array<std::string_view, 8> kOfThings = {"temperatur", "takt",       "leistung", "lüfter",
                                                       "drehzahl",   "auslastung", "spannung", "ladung"};

bool isNumberWord(const std::string& word) {
  return !word.empty() && std::all_of(word.begin(), word.end(), [](unsigned char c) { return std::isdigit(c) != 0; });
}

std::string numberIn(const std::vector<std::string>& words) {
  const auto number = std::find_if(words.begin(), words.end(), isNumberWord);
  return number == words.end() ? std::string() : *number;
}

// "a|b": one of them is there.
bool hasOneOf(const std::vector<std::string>& words, std::string_view alternatives) {
  while (!alternatives.empty()) {
    const size_t bar = alternatives.find('|');
    const std::string_view one = alternatives.substr(0, bar);
    if (one == "<N>" ? !numberIn(words).empty() : std::find(words.begin(), words.end(), one) != words.end())
      return true;
    alternatives.remove_prefix(bar == std::string_view::npos ? alternatives.size() : bar + 1);
  }
  return false;
}

bool fits(const WordRow& row, const std::vector<std::string>& words) {
  if (hasOneOf(words, row.never)) return false;
  std::string_view needs = row.needs;
  while (!needs.empty()) {
    const size_t blank = needs.find(' ');
    if (!hasOneOf(words, needs.substr(0, blank))) return false;
    needs.remove_prefix(blank == std::string_view::npos ? needs.size() : blank + 1);
  }
  return true;
}

// "gehäuselüfter" is "gehäuse" and "lüfter", "umgebungstemperatur" "umgebung" and "temperatur"; what is no such word
// stays whole.
void takeApart(std::vector<std::string>& words) {
  for (size_t i = 0; i < words.size(); ++i) {
    for (const std::string_view end : kOfThings) {
      const std::string& whole = words[i];
      if (whole.size() <= end.size() || !whole.ends_with(end)) continue;
      const std::string thing = whole.substr(0, whole.size() - end.size());
      const bool isJoined = thing.ends_with('s') || thing.ends_with('n');
      const std::string bare = isJoined ? thing.substr(0, thing.size() - 1) : thing;
      const bool isThing = hasOneOf({thing}, kThings);
      if (!isThing && !(isJoined && hasOneOf({bare}, kThings))) continue;
      words[i] = isThing ? thing : bare;
      words.insert(words.begin() + static_cast<std::ptrdiff_t>(i) + 1, std::string(end));
      break;
    }
  }
}

}  // namespace

std::vector<std::string> wordsOfName(std::string_view name) {
  std::vector<std::string> words(1);
  char before = ' ';
  for (const char c : lowerCase(name)) {
    const bool isLetter =
        std::isalpha(static_cast<unsigned char>(c)) != 0 || static_cast<unsigned char>(c) >= 0x80 || c == '%';
    const bool isDigit = std::isdigit(static_cast<unsigned char>(c)) != 0;
    const bool wasDigit = std::isdigit(static_cast<unsigned char>(before)) != 0;
    const bool isBreak = (!isLetter && !isDigit) || (isDigit != wasDigit && !words.back().empty() && c != '%');
    if (isBreak && !words.back().empty()) words.emplace_back();
    if (isLetter || isDigit) words.back() += c;
    before = c;
  }
  if (words.back().empty()) words.pop_back();
  takeApart(words);
  return words;
}

Quantity quantityOfName(const std::vector<std::string>& words) {
  for (const QuantityRow& row : kQuantityWords) {
    if (hasOneOf(words, row.words)) return row.quantity;
  }
  return Quantity::Other;
}

Role roleByWords(const std::vector<std::string>& words, Quantity quantity) {
  for (const WordRow& row : kRows) {
    if (row.quantity != quantity || !fits(row, words)) continue;
    std::string role(row.role);
    if (const size_t at = role.find("<N>"); at != std::string::npos) role.replace(at, 3, numberIn(words));
    return Role(role);
  }
  return {};
}

std::string roleWordsTable() {
  const auto shown = [](std::string_view words) {
    std::string text;
    for (const char c : words)
      text += c == '|' ? std::string(" or ") : c == ' ' ? std::string(", ") : std::string(1, c);
    return text;
  };
  std::string table = "| unit | words of the name | not with | role |\n|---|---|---|---|\n";
  for (const WordRow& row : kRows)
    table += fmt::format("| {} | {} | {} | `{}` |\n", unitOf(row.quantity),
                         row.needs.empty() ? "any" : shown(row.needs), shown(row.never), row.role);
  return table;
}

}  // namespace ash
