// SPDX-License-Identifier: GPL-3.0-or-later
// How a shell reads what stands at a place of a line (POSIX.1-2017, Shell Command Language, 2.2, 2.3 and 2.6.3).
#pragma once

#include <string>
#include <vector>

namespace ash {

enum class Quoting { None, Single, Double };

/// Follows the quotes of a line from its beginning, into and out of $( … ) and backquotes, which have quotes of their
/// own, and past comments.
class ShellQuotes {
 public:
  void take(char c);
  /// How the next character would be read.
  Quoting now() const { return m_places.back().quoting; }
  /// A shell reads nothing here for certain, up to the line's end.
  bool isComment() const { return m_isComment && !m_isUnclear; }
  /// True from where this reader cannot tell any more how the shell reads on: behind a here-document, in a `case`
  /// within $( … ) (its patterns end in lone brackets), behind a comment or further backquotes within backquotes.
  bool isUnclear() const { return m_isUnclear; }
  /// A text that is to stand here, as it must be written within the backquotes that are open: they take one backslash
  /// off before anything else reads it.
  std::string inBackquotes(std::string text) const;

 private:
  struct Place {
    enum class Kind { Line, Substitution, Backquotes } kind = Kind::Line;
    Quoting quoting = Quoting::None;
    int brackets = 0;  ///< open within it
  };
  void takeBare(char c);
  void followWord(char c);

  std::vector<Place> m_places = {Place{}};
  std::string m_word;  // unquoted, as far as it goes
  char m_before = '\n';
  bool m_isEscaped = false, m_isComment = false, m_isUnclear = false;
};

}  // namespace ash
