// SPDX-License-Identifier: GPL-3.0-or-later
// A word of a vocabulary that others may extend.
#pragma once

#include <algorithm>
#include <string>
#include <string_view>

namespace ash {

/// One of the known words, or another that a book, a log or a later version brought along and that is kept as it came.
/// `Words` has `enum Known {…, Other}` and `kWords`, the words in that order; so `EventKind::Note` names a value.
template <typename Words>
class OpenWord : public Words {
 public:
  using Known = typename Words::Known;
  OpenWord(Known known = Words::Other) : m_known(known) {}  // NOLINT: a known word stands for itself

  /// The value that is called so in books, messages and sidecars.
  static OpenWord fromText(std::string text) {
    const auto found = std::find(Words::kWords.begin(), Words::kWords.end(), text);
    OpenWord word(static_cast<Known>(found - Words::kWords.begin()));
    if (word == Words::Other) word.m_other = std::move(text);
    return word;
  }

  /// For comparing and switching.
  operator Known() const { return m_known; }  // NOLINT
  std::string_view text() const {
    return m_known == Words::Other ? std::string_view(m_other) : Words::kWords[static_cast<size_t>(m_known)];
  }

 private:
  Known m_known;
  std::string m_other;  // its word, when it is none of ours
};

}  // namespace ash
