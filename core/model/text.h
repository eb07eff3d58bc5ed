// SPDX-License-Identifier: GPL-3.0-or-later
// Small pieces of text handling that several rooms need: trimming, splitting, strict numbers, durations.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ash {

std::string_view trimmed(std::string_view text);
std::vector<std::string_view> splitText(std::string_view text, char separator);

/// A word for a shell (POSIX.1-2017, 2.2.2): between single quotes, whatever it holds.
std::string shellWord(std::string_view text);

/// The whole text as one finite number; empty when anything else stands in it.
std::optional<double> parseNumber(std::string_view text);

/// "30s", "5min", "1.5 h", "250ms" in seconds. A bare number is refused: 5 what?
std::optional<double> parseDurationS(std::string_view text);

/// True for an id as this program makes them: letters, digits, - and _, at most 64. Anything else is never made part of
/// a path.
bool isPlainId(std::string_view text);

/// What may be shown in a terminal or a list: control characters (and with them escape sequences) become spaces.
std::string withoutControls(std::string_view text);

/// A text for a cell of a table that a spreadsheet may open: one that it would take for a formula (=, +, -, @ or a
/// control character at its start) gets an apostrophe before it. Numbers stay as they are.
std::string guardedCell(std::string_view text);
/// The same text without that apostrophe.
std::string_view unguardedCell(std::string_view cell);

/// True when the bytes are UTF-8.
bool isUtf8(std::string_view text);

/// The text as UTF-8: bytes that are none become U+FFFD, so that it may be put into JSON and HTML.
std::string asUtf8(std::string_view text);

/// "12:31", "1:02:31"; "–" for a missing value.
std::string clockText(double seconds);

/// "30 s", "5 min", "1 h 20 min": how a person would say it.
std::string durationWords(double seconds);
/// As an estimate is told: to the second below a minute and never none, to the minute above: "40 s", "43 min".
std::string roughDurationWords(double seconds);

/// Narrow and unbroken blanks, as units are written with, as the usual one.
std::string plainBlanks(std::string_view typed);

/// Latin letters small; all else as it is.
std::string lowerCase(std::string_view text);

}  // namespace ash
