// SPDX-License-Identifier: GPL-3.0-or-later
// Regular expressions whose time is linear in the text and whose memory is bounded, whoever wrote them: RE2.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "model/result.h"

namespace re2 {
class RE2;
}

namespace ash {

/// A compiled pattern. Cheap to copy; may be used by several threads at once.
class Pattern {
 public:
  static constexpr size_t kLongestPattern = 1000;

  /// What a person or a book wrote. Refused when it is no regular expression of RE2's syntax (no look-ahead, no
  /// back-references), longer than kLongestPattern, or larger than 1 MiB once compiled.
  static Result<Pattern> compile(const std::string& text);
  /// One that stands in this program's own code.
  static Pattern own(const char* text);

  int groupCount() const;
  /// The groups of the first match anywhere in the text, the whole match first; those that take no part are empty.
  /// Nothing when the text does not match. Views into `text`.
  std::optional<std::vector<std::string_view>> find(std::string_view text) const;
  /// The same where the whole text must match.
  std::optional<std::vector<std::string_view>> matchWhole(std::string_view text) const;

 private:
  explicit Pattern(std::shared_ptr<const re2::RE2> engine) : m_engine(std::move(engine)) {}
  std::shared_ptr<const re2::RE2> m_engine;
};

}  // namespace ash
