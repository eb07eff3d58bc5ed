// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace ash {

std::string_view trimmed(std::string_view text) {
  constexpr std::string_view kBlank = " \t\r\n\f\v";
  const size_t first = text.find_first_not_of(kBlank);
  if (first == std::string_view::npos) return {};
  return text.substr(first, text.find_last_not_of(kBlank) - first + 1);
}

std::vector<std::string_view> splitText(std::string_view text, char separator) {
  std::vector<std::string_view> parts;
  while (true) {
    const size_t at = text.find(separator);
    parts.push_back(text.substr(0, at));
    if (at == std::string_view::npos) return parts;
    text.remove_prefix(at + 1);
  }
}

std::optional<double> parseNumber(std::string_view text) {
  text = trimmed(text);
  if (text.starts_with('+')) text.remove_prefix(1);
  if (text.empty()) return std::nullopt;
  double value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
  return value;
}

std::optional<double> parseDurationS(std::string_view text) {
  text = trimmed(text);
  struct Suffix {
    std::string_view text;
    double seconds;
  };
  constexpr Suffix kSuffixes[] = {{"ms", 1e-3}, {"min", 60}, {"h", 3600}, {"s", 1}};
  for (const Suffix& suffix : kSuffixes) {
    if (!text.ends_with(suffix.text)) continue;
    const auto number = parseNumber(text.substr(0, text.size() - suffix.text.size()));
    if (!number || *number < 0) return std::nullopt;
    return *number * suffix.seconds;
  }
  return std::nullopt;
}

bool isPlainId(std::string_view text) {
  constexpr std::string_view kAllowed = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_";
  return !text.empty() && text.size() <= 64 && text.find_first_not_of(kAllowed) == std::string_view::npos;
}

std::string withoutControls(std::string_view text) {
  std::string clean(text);
  for (size_t i = 0; i < clean.size(); ++i) {
    const auto byte = static_cast<unsigned char>(clean[i]);
    // C1 controls (U+0080 to U+009F) are two bytes in UTF-8.
    const bool isC1 = byte == 0xC2 && i + 1 < clean.size() && static_cast<unsigned char>(clean[i + 1]) < 0xA0;
    if (isC1) clean[i] = clean[i + 1] = ' ';
    if (byte < 0x20 || byte == 0x7F) clean[i] = ' ';
  }
  return clean;
}

namespace {

// Length of the UTF-8 sequence that begins here, 0 when it is none (RFC 3629: no overlong forms, no surrogates).
size_t utf8Length(std::string_view text) {
  const auto byte = [&](size_t i) { return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u; };
  const auto isNext = [&](size_t i, unsigned low = 0x80, unsigned high = 0xBF) {
    return byte(i) >= low && byte(i) <= high;
  };
  const unsigned first = byte(0);
  if (first < 0x80) return 1;
  if (first >= 0xC2 && first <= 0xDF) return isNext(1) ? 2 : 0;
  if (first >= 0xE0 && first <= 0xEF) {
    const unsigned low = first == 0xE0 ? 0xA0 : 0x80, high = first == 0xED ? 0x9F : 0xBF;
    return isNext(1, low, high) && isNext(2) ? 3 : 0;
  }
  if (first >= 0xF0 && first <= 0xF4) {
    const unsigned low = first == 0xF0 ? 0x90 : 0x80, high = first == 0xF4 ? 0x8F : 0xBF;
    return isNext(1, low, high) && isNext(2) && isNext(3) ? 4 : 0;
  }
  return 0;
}

}  // namespace

namespace {
bool looksLikeFormula(std::string_view text) {
  if (text.empty() || parseNumber(text)) return false;
  return std::string_view("=+-@").find(text.front()) != std::string_view::npos ||
         static_cast<unsigned char>(text.front()) < 0x20;
}
}  // namespace

std::string guardedCell(std::string_view text) { return (looksLikeFormula(text) ? "'" : "") + std::string(text); }

std::string_view unguardedCell(std::string_view cell) {
  return cell.starts_with('\'') && looksLikeFormula(cell.substr(1)) ? cell.substr(1) : cell;
}

bool isUtf8(std::string_view text) { return asUtf8(text) == text; }

std::string asUtf8(std::string_view text) {
  std::string clean;
  clean.reserve(text.size());
  while (!text.empty()) {
    const size_t length = utf8Length(text);
    if (length == 0)
      clean += "\xEF\xBF\xBD";
    else
      clean += text.substr(0, length);
    text.remove_prefix(length == 0 ? 1 : length);
  }
  return clean;
}

std::string clockText(double seconds) {
  if (!std::isfinite(seconds)) return "–";
  const bool negative = seconds < 0;
  const auto total = static_cast<long long>(std::llround(std::abs(seconds)));
  const long long hours = total / 3600;
  const long long minutes = total / 60 % 60;
  const std::string text = hours > 0 ? fmt::format("{}:{:02}:{:02}", hours, minutes, total % 60)
                                     : fmt::format("{}:{:02}", minutes, total % 60);
  return negative ? "−" + text : text;
}

std::string durationWords(double seconds) {
  if (!std::isfinite(seconds)) return "–";
  const bool isWholeMinutes = seconds >= 60 && std::fmod(std::round(seconds), 60) == 0;
  if (seconds < 120 && !isWholeMinutes) return fmt::format("{:g} s", std::round(seconds * 10) / 10);
  const auto total = static_cast<long long>(std::llround(seconds));
  if (total < 7200) {
    return total % 60 == 0 ? fmt::format("{} min", total / 60) : fmt::format("{} min {} s", total / 60, total % 60);
  }
  const long long minutes = total / 60 % 60;
  return minutes == 0 ? fmt::format("{} h", total / 3600) : fmt::format("{} h {} min", total / 3600, minutes);
}

std::string roughDurationWords(double seconds) {
  return durationWords(seconds < 59.5 ? std::max(1.0, std::round(seconds)) : std::round(seconds / 60) * 60);
}

std::string shellWord(std::string_view text) {
  std::string word = "'";
  for (const char c : text) word += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return word + "'";
}

std::string lowerCase(std::string_view text) {
  std::string small(text);
  for (char& c : small) {
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  }
  return small;
}

std::string plainBlanks(std::string_view typed) {
  std::string plain;
  for (size_t i = 0; i < typed.size();) {
    const std::string_view rest = typed.substr(i);
    const size_t width = rest.starts_with("\u202F") ? 3 : rest.starts_with("\u00A0") ? 2 : 0;
    plain += width > 0 ? ' ' : typed[i];
    i += std::max<size_t>(1, width);
  }
  return plain;
}

}  // namespace ash
