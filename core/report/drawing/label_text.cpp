// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/drawing/label_text.h"

#include <algorithm>

#include "model/text.h"

namespace ash {
namespace {

// Widths of the characters of a wide sans-serif, in em; what is beyond ASCII by where it stands in Unicode.
double emOf(char32_t c) {
  constexpr double kNarrow = 0.33, kUsual = 0.6, kDigit = 0.64, kCapital = 0.73, kWide = 0.95, kIdeograph = 1.05;
  constexpr std::string_view kNarrowOnes = " .,:;'|!()[]fijlrtI-", kWideOnes = "mwMW%@";
  constexpr char32_t kAscii = 0x80, kFirstIdeograph = 0x2E80, kBlanks = 0x2000, kBlanksEnd = 0x2030, kSigns = 0x2190,
                     kSignsEnd = 0x2800;
  if (c >= kFirstIdeograph) return kIdeograph;
  if (c >= kSigns && c < kSignsEnd) return kWide;
  if (c >= kBlanks && c < kBlanksEnd) return kUsual;
  if (c >= kAscii) return kCapital;
  const char ascii = static_cast<char>(c);
  if (kNarrowOnes.find(ascii) != std::string_view::npos) return kNarrow;
  if (kWideOnes.find(ascii) != std::string_view::npos) return kWide;
  if (ascii >= '0' && ascii <= '9') return kDigit;
  return ascii >= 'A' && ascii <= 'Z' ? kCapital : kUsual;
}

// The characters of a text; what is no UTF-8 counts as one each.
std::vector<std::string_view> charactersOf(std::string_view text) {
  std::vector<std::string_view> all;
  const auto continues = [&](size_t at) {
    return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0) == 0x80;
  };
  for (size_t at = 0; at < text.size();) {
    size_t end = at + 1;
    while (continues(end)) ++end;
    all.push_back(text.substr(at, end - at));
    at = end;
  }
  return all;
}

char32_t codeOf(std::string_view character) {
  const auto lead = static_cast<unsigned char>(character.front());
  if (character.size() == 1) return lead;
  const unsigned char kept = character.size() == 2 ? 0x1F : character.size() == 3 ? 0x0F : 0x07;
  char32_t code = lead & kept;
  for (const char c : character.substr(1)) code = code << 6 | (static_cast<unsigned char>(c) & 0x3F);
  return code;
}

double emsOf(std::string_view text) {
  double ems = 0;
  for (const std::string_view character : charactersOf(text)) ems += emOf(codeOf(character));
  return ems;
}

// Without its middle: what tells names apart stands as often at their end ("…, 105 W") as at their start.
std::string elided(const std::string& text, double most) {
  if (emsOf(text) <= most) return text;
  const std::vector<std::string_view> all = charactersOf(text);
  size_t before = 0, after = 0;
  double ems = emsOf("…");
  std::string start, end;
  // One from either side in turn, as long as there is room.
  while (before + after < all.size()) {
    const bool isBefore = before <= after;
    const std::string_view next = isBefore ? all[before] : all[all.size() - 1 - after];
    ems += emOf(codeOf(next));
    if (ems > most) break;
    if (isBefore)
      start += next, ++before;
    else
      end.insert(0, next), ++after;
  }
  return std::string(trimmed(start)) + "…" + std::string(trimmed(end));
}

}  // namespace

double widthAtMost(const std::string& text, double fontPx) { return emsOf(text) * fontPx; }

std::vector<std::string> brokenLabel(const std::string& text, double fontPx, double mostPx, size_t mostLines) {
  const double most = mostPx / fontPx;
  std::vector<std::string> lines(1);
  for (const std::string_view word : splitText(text, ' ')) {
    std::string& line = lines.back();
    const std::string longer = line.empty() ? std::string(word) : line + " " + std::string(word);
    // What does not fit goes to a line of its own, but for the last one, which takes all that is left.
    if (line.empty() || emsOf(longer) <= most || lines.size() == mostLines)
      line = longer;
    else
      lines.emplace_back(word);
  }
  for (std::string& line : lines) line = elided(line, most);
  return lines;
}

}  // namespace ash
