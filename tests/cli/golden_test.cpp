// SPDX-License-Identifier: GPL-3.0-or-later
// What is told of the demo book stays as it was, byte for byte, until a change means to change it.
#include <catch2/catch.hpp>
#include <filesystem>
#include <set>

#include "tests/support/demo_book.h"

using namespace ash;
using tests::Bench;
using tests::readFile;

namespace {

std::set<std::string> filesOf(const std::filesystem::path& folder) {
  std::set<std::string> names;
  for (const auto& entry : std::filesystem::directory_iterator(folder)) names.insert(entry.path().filename());
  return names;
}

/// Where two texts part: the line's number and both lines; empty when they are equal.
std::string firstDifference(const std::string& was, const std::string& is) {
  size_t line = 1, start = 0, at = 0;
  while (at < was.size() && at < is.size() && was[at] == is[at])
    if (was[at++] == '\n') ++line, start = at;
  if (at == was.size() && at == is.size()) return {};
  const auto lineOf = [&](const std::string& text) {
    return text.substr(start, text.find('\n', start) - start).substr(0, 400);
  };
  return "line " + std::to_string(line) + "\nwas: " + lineOf(was) + "\nis:  " + lineOf(is);
}

}  // namespace

TEST_CASE("theDemoBookIsToldAsItWas") {
  const Bench bench;
  const std::string golden = std::string(PROJECT_FOLDER) + "/tests/golden";
  tests::putDemoBook(bench, "demo.ashbook");
  const std::string command =
      "'" + golden + "/write' '" ASHG_PROGRAM "' '" + bench.path("now") + "' '" + bench.path("demo.ashbook") + "'";
  REQUIRE(std::system(command.c_str()) == 0);
  CHECK(filesOf(bench.path("now")) == filesOf(golden + "/demo"));
  for (const std::string& name : filesOf(golden + "/demo")) {
    INFO(name);
    CHECK(firstDifference(readFile(golden + "/demo/" + name), readFile(bench.path("now/" + name))) == "");
  }
}

// docs/examples, which README.md shows: written anew by docs/make-examples when the page changes on purpose.
TEST_CASE("theExamplesAreThoseOfTheDemoBook") {
  const Bench bench;
  const std::string examples = std::string(PROJECT_FOLDER) + "/docs/examples";
  tests::putDemoBook(bench, "demo.ashbook");
  for (const char* report : {"'Which side panel?' --format html", "'Wren in summer' --format html,md,csv,json,svg",
                             "'The mixdown on processor or graphics?' --format html"})
    REQUIRE(bench.ashg(std::string("report ") + report + " --book demo.ashbook --to now").status == 0);
  std::set<std::string> names = filesOf(examples);
  for (const char* byFonts :
       {"wren-in-summer.pdf", "which-side-panel-answer-phone.png", "which-side-panel-warm-up-thumbnail.png"})
    CHECK(names.erase(byFonts) == 1);
  CHECK(names == filesOf(bench.path("now")));
  for (const std::string& name : names) {
    INFO(name);
    CHECK(firstDifference(readFile(examples + "/" + name), readFile(bench.path("now/" + name))) == "");
  }
}
