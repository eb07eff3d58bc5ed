// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/shell_quotes.h"

#include <algorithm>
#include <string_view>

namespace ash {
namespace {
constexpr char kPlain = 'x';
}  // namespace

void ShellQuotes::take(char c) {
  Place& place = m_places.back();
  const char before = m_before;
  m_before = c;
  if (m_isComment) {
    m_isComment = c != '\n';
  } else if (m_isEscaped) {
    m_isEscaped = false;
    m_before = kPlain;  // no operator is made of it
    m_isUnclear |= c == '`' && place.kind == Place::Kind::Backquotes;
  } else if (place.quoting == Quoting::Single) {
    if (c == '\'') place.quoting = Quoting::None;
  } else if (c == '\\') {
    m_isEscaped = true;
  } else if (c == '`') {
    if (place.kind == Place::Kind::Backquotes)
      m_places.pop_back();
    else
      m_places.push_back({Place::Kind::Backquotes});
    m_word.clear();
  } else if (before == '$' && c == '(') {
    m_places.push_back({Place::Kind::Substitution});
    m_word.clear();
  } else if (c == '"') {
    place.quoting = place.quoting == Quoting::Double ? Quoting::None : Quoting::Double;
  } else if (place.quoting == Quoting::None) {
    m_before = before;
    takeBare(c);
  }
}

void ShellQuotes::takeBare(char c) {
  Place& place = m_places.back();
  constexpr std::string_view kEndsWord = " \t\n;&|()<>";
  const bool beginsWord = kEndsWord.find(m_before) != std::string_view::npos;
  if (c == '#' && beginsWord) m_isComment = true;
  // The next backquote ends such a comment, too.
  m_isUnclear |= m_isComment && place.kind == Place::Kind::Backquotes;
  if (c == '<' && m_before == '<') m_isUnclear = true;
  if (c == '\'') place.quoting = Quoting::Single;
  followWord(c);
  m_before = c;
  if (c == '(') ++place.brackets;
  if (c != ')') return;
  if (place.brackets > 0)
    --place.brackets;
  else if (place.kind == Place::Kind::Substitution)
    m_places.pop_back();
}

void ShellQuotes::followWord(char c) {
  if (c >= 'a' && c <= 'z') {
    m_word += c;
    return;
  }
  const bool isInside = std::any_of(m_places.begin(), m_places.end(),
                                    [](const Place& one) { return one.kind == Place::Kind::Substitution; });
  m_isUnclear |= isInside && m_word == "case";
  m_word.clear();
}

std::string ShellQuotes::inBackquotes(std::string text) const {
  for (const Place& place : m_places) {
    if (place.kind != Place::Kind::Backquotes) continue;
    std::string escaped;
    for (const char c : text) {
      if (std::string_view("$`\\").find(c) != std::string_view::npos) escaped += '\\';
      escaped += c;
    }
    text = std::move(escaped);
  }
  return text;
}

}  // namespace ash
