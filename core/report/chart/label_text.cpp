// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/chart/label_text.h"

#include <algorithm>

#include "model/text.h"

namespace ash {
namespace {

constexpr double kEmAtMost = 0.62;

bool beginsCharacter(char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }

size_t charactersOf(const std::string& text) {
  return static_cast<size_t>(std::count_if(text.begin(), text.end(), beginsCharacter));
}

// The first so many characters, whole.
std::string firstOf(const std::string& text, size_t characters) {
  size_t at = 0;
  for (; at < text.size(); ++at) {
    if (beginsCharacter(text[at]) && characters-- == 0) break;
  }
  return text.substr(0, at);
}

// Without its middle: what tells names apart stands as often at their end ("…, 105 W") as at their start.
std::string elided(const std::string& text, size_t most) {
  const size_t all = charactersOf(text);
  if (all <= most) return text;
  const size_t kept = most > 1 ? most - 1 : 1, atEnd = kept / 2;
  const std::string end = text.substr(firstOf(text, all - atEnd).size());
  return std::string(trimmed(firstOf(text, kept - atEnd))) + "…" + std::string(trimmed(end));
}

}  // namespace

double widthAtMost(const std::string& text, double fontPx) {
  return kEmAtMost * fontPx * static_cast<double>(charactersOf(text));
}

std::vector<std::string> brokenLabel(const std::string& text, double fontPx, double mostPx, size_t mostLines) {
  const auto most = static_cast<size_t>(std::max(1.0, mostPx / (kEmAtMost * fontPx)));
  std::vector<std::string> lines(1);
  for (const std::string_view word : splitText(text, ' ')) {
    std::string& line = lines.back();
    const std::string longer = line.empty() ? std::string(word) : line + " " + std::string(word);
    // What does not fit goes to a line of its own, but for the last one, which takes all that is left.
    if (line.empty() || charactersOf(longer) <= most || lines.size() == mostLines)
      line = longer;
    else
      lines.emplace_back(word);
  }
  for (std::string& line : lines) line = elided(line, most);
  return lines;
}

}  // namespace ash
