// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/time_pattern.h"

#include <fmt/format.h>

#include <array>
#include <cctype>

#include "model/iso_date.h"
#include "model/text.h"

namespace ash {
namespace {

enum class Piece { Year, ShortYear, Month, Day, Hour, Minute, Second, Fraction, Half, Count };
constexpr std::array<std::string_view, static_cast<size_t>(Piece::Count)> kPieces = {"YYYY", "YY", "MM", "DD", "hh",
                                                                                     "mm",   "ss", ".f", "AM"};

std::optional<Piece> pieceAt(std::string_view pattern) {
  for (size_t i = 0; i < kPieces.size(); ++i) {
    if (pattern.starts_with(kPieces[i])) return static_cast<Piece>(i);
  }
  return pattern.starts_with(",f") ? std::optional(Piece::Fraction) : std::nullopt;
}

/// What was read of a stamp.
struct Parts {
  std::array<double, static_cast<size_t>(Piece::Count)> value{};
  std::array<bool, static_cast<size_t>(Piece::Count)> isThere{};
  double of(Piece piece) const { return value[static_cast<size_t>(piece)]; }
  bool has(Piece piece) const { return isThere[static_cast<size_t>(piece)]; }
  void set(Piece piece, double number) {
    value[static_cast<size_t>(piece)] = number;
    isThere[static_cast<size_t>(piece)] = true;
  }
};

// Digits, at most so many; false when there is none.
bool takeDigits(std::string_view& text, size_t most, double& number, size_t& count) {
  number = 0;
  for (count = 0; count < most && !text.empty() && std::isdigit(static_cast<unsigned char>(text.front())) != 0;
       ++count) {
    number = number * 10 + (text.front() - '0');
    text.remove_prefix(1);
  }
  return count > 0;
}

bool takePiece(Piece piece, std::string_view& text, Parts& parts) {
  double number = 0;
  size_t count = 0;
  if (piece == Piece::Half) {
    const std::string half = lowerCase(text.substr(0, 2));
    if (half != "am" && half != "pm") return false;
    parts.set(piece, half == "pm" ? 1 : 0);
    text.remove_prefix(2);
    return true;
  }
  if (piece == Piece::Fraction) {
    // It may be left out where it is nothing.
    parts.set(piece, 0);
    if (text.empty() || (text.front() != '.' && text.front() != ',')) return true;
    text.remove_prefix(1);
    if (!takeDigits(text, 9, number, count)) return false;
    while (count-- > 0) number /= 10;
    parts.set(piece, number);
    return true;
  }
  if (!takeDigits(text, piece == Piece::Year ? 4 : 2, number, count)) return false;
  if (piece == Piece::Year && count != 4) return false;
  parts.set(piece, number);
  return true;
}

std::optional<double> secondsOf(const Parts& parts) {
  double hour = parts.of(Piece::Hour);
  if (parts.has(Piece::Half)) {
    if (hour < 1 || hour > 12) return std::nullopt;
    hour = hour == 12 ? 0 : hour;
    hour += 12 * parts.of(Piece::Half);
  }
  if (hour > 23 || parts.of(Piece::Minute) > 59 || parts.of(Piece::Second) > 60) return std::nullopt;
  const double ofDay = hour * 3600 + parts.of(Piece::Minute) * 60 + parts.of(Piece::Second) + parts.of(Piece::Fraction);
  if (!parts.has(Piece::Day)) return ofDay;
  const double year = parts.has(Piece::Year) ? parts.of(Piece::Year) : 2000 + parts.of(Piece::ShortYear);
  const auto day = daySeconds(static_cast<int>(year), static_cast<int>(parts.of(Piece::Month)),
                              static_cast<int>(parts.of(Piece::Day)));
  return day ? std::optional(*day + ofDay) : std::nullopt;
}

}  // namespace

Result<TimePattern> TimePattern::parse(const std::string& text) {
  Parts parts;
  const std::string shown = withoutControls(text);
  for (std::string_view left = text; !left.empty();) {
    const auto piece = pieceAt(left);
    if (!piece) {
      if (std::isalpha(static_cast<unsigned char>(left.front())) != 0 && left.front() != 'T')
        return Error::badInput(fmt::format(
            "--time \"{}\": write it of YYYY, YY, MM, DD, hh, mm, ss, .f and AM, e.g. \"DD/MM/YYYY hh:mm:ss\".",
            shown));
      left.remove_prefix(1);
      continue;
    }
    if (parts.has(*piece)) return Error::badInput(fmt::format("--time \"{}\" has a part twice.", shown));
    parts.set(*piece, 0);
    left.remove_prefix(*piece == Piece::Year ? 4 : 2);
  }
  const bool hasYear = parts.has(Piece::Year) || parts.has(Piece::ShortYear);
  const int ofDate = int{hasYear} + int{parts.has(Piece::Month)} + int{parts.has(Piece::Day)};
  if (!parts.has(Piece::Hour) || (ofDate != 0 && ofDate != 3))
    return Error::badInput(fmt::format("--time \"{}\" must have hours, and a date whole or not at all.", shown));
  TimePattern pattern;
  pattern.m_text = text;
  pattern.m_hasDate = ofDate == 3;
  return pattern;
}

std::optional<double> TimePattern::read(std::string_view text) const {
  Parts parts;
  text = trimmed(text);
  for (std::string_view left = m_text; !left.empty();) {
    if (const auto piece = pieceAt(left)) {
      if (!takePiece(*piece, text, parts)) return std::nullopt;
      left.remove_prefix(*piece == Piece::Year ? 4 : 2);
    } else if (left.front() == ' ') {
      left.remove_prefix(1);
      while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
    } else {
      if (text.empty() || text.front() != left.front()) return std::nullopt;
      text.remove_prefix(1);
      left.remove_prefix(1);
    }
  }
  return text.empty() ? secondsOf(parts) : std::nullopt;
}

}  // namespace ash
