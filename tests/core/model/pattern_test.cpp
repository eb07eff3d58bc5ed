// SPDX-License-Identifier: GPL-3.0-or-later
// Patterns of persons and books: what they find, and that no text or pattern takes the program down.
#include "model/pattern.h"

#include <catch2/catch.hpp>

#include "model/text.h"

using namespace ash;

TEST_CASE("aPatternFindsItsGroups") {
  const auto pattern = Pattern::compile("score: ([0-9.]+)(?: (fps))?");
  REQUIRE(pattern);
  CHECK(pattern->groupCount() == 2);
  const auto found = pattern->find("pass 3, score: 118.5 points");
  REQUIRE(found);
  CHECK((*found)[0] == "score: 118.5");
  CHECK((*found)[1] == "118.5");
  CHECK((*found)[2].empty());
  CHECK_FALSE(pattern->find("no score"));
  CHECK_FALSE(pattern->matchWhole("pass 3, score: 118.5"));
  CHECK(pattern->matchWhole("score: 118.5 fps"));
}

TEST_CASE("aPatternThatCouldTakeForEverOrFillTheMemoryIsNoProblemOrRefused") {
  // Exponential in an engine that goes back: 2^40 ways to split the letters.
  const auto nested = Pattern::compile("^(a+)+$");
  REQUIRE(nested);
  std::string almost(10'000, 'a');
  almost.back() = '!';
  CHECK_FALSE(nested->find(almost));
  CHECK(nested->find(std::string(400'000, 'a')));
  CHECK_FALSE(Pattern::compile("(a)\\1"));
  CHECK_FALSE(Pattern::compile("(?=a)b"));
  CHECK_FALSE(Pattern::compile("((a{900}){900}){900}"));
  CHECK_FALSE(Pattern::compile(std::string(1001, 'a')));
  CHECK_FALSE(Pattern::compile("(\xff"));
  CHECK_FALSE(Pattern::compile(std::string(400, '(')));
}

TEST_CASE("formulasAreGuardedInTablesAndNumbersAreNot") {
  for (const char* harmless : {"", "42", "-12.5", "+3", "1e-3", "mesh", "'quoted", "a=b"}) {
    INFO(harmless);
    CHECK(guardedCell(harmless) == harmless);
    CHECK(unguardedCell(guardedCell(harmless)) == harmless);
  }
  for (const char* formula : {"=1+1", "+cmd", "-12 V rail", "@sum", "\tx", "=HYPERLINK(\"x\")"}) {
    INFO(formula);
    CHECK(guardedCell(formula) == "'" + std::string(formula));
    CHECK(unguardedCell(guardedCell(formula)) == formula);
  }
}

TEST_CASE("whatIsNoUtf8IsTold") {
  CHECK(isUtf8("Größe µ"));
  CHECK(isUtf8(""));
  CHECK_FALSE(isUtf8("a\xff"));
  CHECK_FALSE(isUtf8("\xc3"));
}
