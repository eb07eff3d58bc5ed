// SPDX-License-Identifier: GPL-3.0-or-later
// How a person says that a date and a time are written: "DD/MM/YYYY hh:mm:ss.f AM".
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "model/result.h"

namespace ash {

class TimePattern {
 public:
  /// Of YYYY, YY, MM, DD, hh, mm, ss, .f (or ,f) and AM, with their separators as they stand. Refused: without hours,
  /// the same part twice, a date that is not whole.
  static Result<TimePattern> parse(const std::string& text);
  bool hasDate() const { return m_hasDate; }
  const std::string& text() const { return m_text; }
  /// Seconds since 1970 (since midnight without a date); empty when the text is not written so.
  std::optional<double> read(std::string_view text) const;

 private:
  std::string m_text;
  bool m_hasDate = false;
};

}  // namespace ash
