// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/named_date.h"

#include <array>
#include <cctype>
#include <charconv>
#include <string>
#include <vector>

#include "model/iso_date.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kLongest = 60;

bool isLetter(char c) {
  return std::isalpha(static_cast<unsigned char>(c)) != 0 || static_cast<unsigned char>(c) >= 0x80;
}
bool isDigit(char c) { return std::isdigit(static_cast<unsigned char>(c)) != 0; }

// 1 to 12, or 0 for another word.
int monthOf(std::string_view word) {
  struct Month {
    std::string_view start;
    int number;
  };
  // The longer beginnings first where one begins with another.
  constexpr std::array kMonths = {
      Month{"jan", 1},  Month{"ene", 1},  Month{"gen", 1},  Month{"feb", 2},  Month{"fév", 2},  Month{"mar", 3},
      Month{"mär", 3},  Month{"mrz", 3},  Month{"apr", 4},  Month{"avr", 4},  Month{"abr", 4},  Month{"may", 5},
      Month{"mai", 5},  Month{"mag", 5},  Month{"juin", 6}, Month{"juil", 7}, Month{"jun", 6},  Month{"giu", 6},
      Month{"jul", 7},  Month{"lug", 7},  Month{"aug", 8},  Month{"août", 8}, Month{"aoû", 8},  Month{"ago", 8},
      Month{"sep", 9},  Month{"set", 9},  Month{"oct", 10}, Month{"okt", 10}, Month{"ott", 10}, Month{"nov", 11},
      Month{"dec", 12}, Month{"dez", 12}, Month{"déc", 12}, Month{"dic", 12}};
  const std::string small = lowerCase(word);
  for (const Month& month : kMonths) {
    if (small.starts_with(month.start)) return month.number;
  }
  return 0;
}

struct Token {
  std::string_view text;
  size_t end = 0;
};

// The first words and numbers, up to four, with nothing but blanks, dots, dashes, slashes and commas between.
std::vector<Token> tokensOf(std::string_view text) {
  std::vector<Token> tokens;
  for (size_t at = 0; at < std::min(text.size(), kLongest) && tokens.size() < 4;) {
    const size_t from = at;
    while (at < text.size() && isLetter(text[at])) ++at;
    if (at == from) {
      while (at < text.size() && isDigit(text[at])) ++at;
    }
    if (at > from) {
      tokens.push_back({text.substr(from, at - from), at});
    } else if (std::string_view(" .-/,").find(text[at]) == std::string_view::npos) {
      break;
    } else {
      ++at;
    }
  }
  return tokens;
}

std::optional<int> numberOf(std::string_view text) {
  int value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  return error == std::errc() && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

}  // namespace

std::optional<NamedDate> readNamedDate(std::string_view text) {
  auto tokens = tokensOf(text);
  const auto isWord = [](const Token& token) { return isLetter(token.text.front()); };
  if (tokens.size() == 4 && isWord(tokens[0]) && monthOf(tokens[0].text) == 0) tokens.erase(tokens.begin());
  if (tokens.size() < 3) return std::nullopt;
  const size_t word = isWord(tokens[0]) ? 0 : isWord(tokens[1]) ? 1 : 2;
  if (word == 2) return std::nullopt;
  const int month = monthOf(tokens[word].text);
  const auto first = numberOf(tokens[word == 0 ? 1 : 0].text), second = numberOf(tokens[2].text);
  if (month == 0 || !first || !second) return std::nullopt;
  // "2026-Nov-14" as well as "14-Nov-2026".
  const bool isYearFirst = word == 1 && *first > 31;
  const int day = isYearFirst ? *second : *first, year = isYearFirst ? *first : *second;
  const auto date = daySeconds(year < 100 ? 2000 + year : year, month, day);
  if (!date || year > 9999 || (year >= 100 && year < 1970)) return std::nullopt;
  return NamedDate{*date, tokens[2].end};
}

}  // namespace ash
