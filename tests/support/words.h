// SPDX-License-Identifier: GPL-3.0-or-later
// Lets a test hold a value against the words of the contract: CHECK(row.verdict == "better").
#pragma once

#include <catch2/catch.hpp>
#include <string_view>

#include "analysis/comparison/verdict.h"

namespace ash {

inline bool operator==(Verdict verdict, std::string_view words) { return wordsOf(verdict) == words; }
inline bool operator==(Bound bound, std::string_view words) { return wordsOf(bound) == words; }
inline bool operator==(Severity severity, std::string_view words) { return wordsOf(severity) == words; }

inline std::ostream& operator<<(std::ostream& out, Verdict verdict) { return out << wordsOf(verdict); }
inline std::ostream& operator<<(std::ostream& out, Bound bound) { return out << wordsOf(bound); }
inline std::ostream& operator<<(std::ostream& out, Severity severity) { return out << wordsOf(severity); }

}  // namespace ash
