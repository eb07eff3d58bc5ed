// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

#include "exchange/csv_cells.h"
#include "intake/log_shape.h"
#include "model/reading.h"
#include "model/text.h"
#include "model/unit.h"

namespace ash {
namespace {

bool isDigitAt(std::string_view text, size_t i) {
  return i < text.size() && std::isdigit(static_cast<unsigned char>(text[i])) != 0;
}

bool isMissingWord(const std::string& word) {
  constexpr std::array kWords = {"",          "nan",  "-nan", "n/a", "na",  "-",    "--",   "---",
                                 "null",      "none", "nil",  "?",   "inf", "-inf", "+inf", "infinity",
                                 "-infinity", "∞",    "-∞",   "+∞",  "–",   "—"};
  return std::find(kWords.begin(), kWords.end(), word) != kWords.end();
}

// A mark between groups of three digits: a blank, a narrow blank, an apostrophe, or the mark that is not the decimal
// one.
size_t groupMarkAt(std::string_view text, size_t at, char decimal) {
  for (const std::string_view mark : {" ", "'", "\xC2\xA0", "\xE2\x80\xAF", "\xE2\x80\x89", "\xE2\x80\x99"}) {
    if (text.substr(at).starts_with(mark)) return mark.size();
  }
  return text[at] == (decimal == '.' ? ',' : '.') ? 1 : 0;
}

// Digits without their group marks and with a point; empty when the text is no number.
std::string plainDigits(std::string_view text, char decimal) {
  std::string plain;
  size_t at = 0, sinceMark = 0;
  bool hasGroups = false, isFraction = false;
  if (at < text.size() && (text[at] == '+' || text[at] == '-')) plain += text[at++] == '-' ? "-" : "";
  if (text.substr(at).starts_with("\xE2\x88\x92")) plain += "-", at += 3;  // −
  const size_t first = at;
  while (at < text.size()) {
    const char c = text[at];
    if (isDigitAt(text, at)) {
      plain += c;
      ++sinceMark;
      ++at;
    } else if (c == decimal && !isFraction) {
      if (hasGroups && sinceMark != 3) return {};
      isFraction = true;
      plain += '.';
      ++at;
    } else if ((c == 'e' || c == 'E') && at > first) {
      return plain + std::string(text.substr(at));
    } else {
      const size_t mark = isFraction || at == first ? 0 : groupMarkAt(text, at, decimal);
      const bool isGroup = hasGroups ? sinceMark == 3 : sinceMark >= 1 && sinceMark <= 3;
      if (mark == 0 || !isGroup || !isDigitAt(text, at + mark)) return {};
      hasGroups = true;
      sinceMark = 0;
      at += mark;
    }
  }
  return hasGroups && !isFraction && sinceMark != 3 ? std::string() : plain;
}

}  // namespace

bool readLogNumber(std::string_view cell, char decimal, double& value) {
  if (readPlainNumber(cell.data(), cell.data() + cell.size(), decimal, value)) return true;
  value = kMissing;
  if (cell.size() > 64) return false;
  if (isMissingWord(lowerCase(cell))) return true;
  const std::string plain = plainDigits(cell, decimal);
  if (plain.empty()) return false;
  const auto [end, error] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
  const bool isNumber = error == std::errc() && end == plain.data() + plain.size() && std::isfinite(value);
  if (!isNumber) value = kMissing;
  return isNumber;
}

std::optional<MeasuredCell> splitMeasured(std::string_view cell) {
  constexpr size_t kLongest = 40;
  const size_t last = cell.size() > kLongest ? std::string_view::npos : cell.find_last_of("0123456789");
  if (last == std::string_view::npos || last + 1 == cell.size()) return std::nullopt;
  const std::string_view behind = cell.substr(last + 1), unit = trimmed(behind);
  // "12V" is the name of a rail.
  const bool isApart = behind.front() == ' ' || behind.front() == '%' || behind.starts_with("°") ||
                       behind.starts_with("\xC2\xA0") || behind.starts_with("\xE2\x80\xAF");
  if (!isApart || !matchUnit(unit)) return std::nullopt;
  return MeasuredCell{cell.substr(0, last + 1), unit};
}

std::optional<bool> readState(std::string_view cell) {
  constexpr std::array kYes = {"yes",  "on", "true", "ja", "an",  "ein", "oui",
                               "vrai", "si", "sí",   "sì", "tak", "да",  "はい"};
  constexpr std::array kNo = {"no", "off", "false", "nein", "aus", "non", "faux", "nie", "нет", "いいえ", "nee", "uit"};
  if (cell.empty() || cell.size() > 12) return std::nullopt;
  const std::string word = lowerCase(cell);
  if (std::find(kYes.begin(), kYes.end(), word) != kYes.end()) return true;
  if (std::find(kNo.begin(), kNo.end(), word) != kNo.end()) return false;
  return std::nullopt;
}

}  // namespace ash
