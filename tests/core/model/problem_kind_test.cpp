// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of problems against the contract that others read.
#include "model/problem_kind.h"

#include <catch2/catch.hpp>
#include <set>

#include "tests/support/temp_folder.h"

using namespace ash;

TEST_CASE("everyProblemOfTheContractIsAKindOfOurs") {
  const std::string contract = tests::readFile(std::string(PROJECT_FOLDER) + "/docs/analysis-contract.md");
  const std::string start = "\"problems\": [{\"kind\": \"";
  const size_t at = contract.find(start);
  REQUIRE(at != std::string::npos);
  const std::string words =
      contract.substr(at + start.size(), contract.find('"', at + start.size()) - at - start.size());
  int count = 0;
  for (size_t from = 0; from < words.size();) {
    const size_t to = std::min(words.find('|', from), words.size());
    const std::string word = words.substr(from, to - from);
    from = to + 1;
    if (word == "…") continue;
    INFO(word);
    CHECK(ProblemKind::fromText(word) != ProblemKind::Other);
    CHECK(ProblemKind::fromText(word).text() == word);
    ++count;
  }
  CHECK(count >= 10);
}

TEST_CASE("noTwoKindsOfProblemsShareAWordAndOthersAreKept") {
  std::set<std::string_view> words(ProblemWords::kWords.begin(), ProblemWords::kWords.end());
  CHECK(words.size() == ProblemWords::kWords.size());
  CHECK_FALSE(words.contains(""));
  const auto later = ProblemKind::fromText("found_by_a_later_version");
  CHECK(later == ProblemKind::Other);
  CHECK(later.text() == "found_by_a_later_version");
}
