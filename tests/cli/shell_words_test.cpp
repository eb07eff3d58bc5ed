// SPDX-License-Identifier: GPL-3.0-or-later
// What a shell offers, and what the program says of itself.
#include <catch2/catch.hpp>
#include <set>
#include <sstream>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

std::set<std::string> linesOf(const std::string& text) {
  std::set<std::string> lines;
  std::istringstream all(text);
  for (std::string line; std::getline(all, line);) lines.insert(line);
  return lines;
}

std::string trimmedStart(const std::string& line) {
  const size_t from = line.find_first_not_of(' ');
  return from == std::string::npos ? "" : line.substr(from);
}

// The words of --help that begin a line: what a person is told there is.
std::set<std::string> offeredByHelp(const std::string& help, bool areOptions) {
  std::set<std::string> words;
  std::istringstream all(help);
  bool isInCommands = false;
  for (std::string line; std::getline(all, line);) {
    if (line == "Subcommands:") isInCommands = true;
    const std::string text = trimmedStart(line);
    if (!areOptions && isInCommands && line.starts_with("  ") && line.size() > 2 && line[2] != ' ')
      words.insert(text.substr(0, text.find(' ')));
    const size_t dashes = text.starts_with("--")                  ? 0
                          : text.find(",--") == std::string::npos ? std::string::npos
                                                                  : text.find(",--") + 1;
    if (areOptions && text.starts_with("-") && dashes != std::string::npos)
      words.insert(text.substr(dashes, text.find_first_of(" ,", dashes) - dashes));
  }
  return words;
}

}  // namespace

TEST_CASE("aShellIsOfferedEveryCommandThatHelpShows") {
  const Bench bench;
  const auto offered = linesOf(bench.ashg("completion-words").out);
  const auto told = offeredByHelp(bench.ashg("--help").out, false);
  REQUIRE(told.size() > 15);
  for (const std::string& command : told) CHECK(offered.contains(command));
  // What is for shells only is offered to nobody.
  CHECK_FALSE(offered.contains("completion-words"));
}

TEST_CASE("aShellIsOfferedEveryOptionOfTheCommandThatIsTyped") {
  const Bench bench;
  for (const char* command : {"run", "report", "import", "instruments add", "book"}) {
    INFO(command);
    const auto offered = linesOf(bench.ashg(std::string("completion-words -- ") + command).out);
    const auto told = offeredByHelp(bench.ashg(std::string(command) + " --help").out, true);
    REQUIRE(!told.empty());
    for (const std::string& option : told) CHECK(offered.contains(option));
  }
  // Values that are typed already do not lead astray.
  CHECK(linesOf(bench.ashg("completion-words -- run --book b.ashbook --study s").out).contains("--setup"));
}

TEST_CASE("bashCompletesACommandAndAnOption") {
  const Bench bench;
  const std::string program = ASHG_PROGRAM, folder = program.substr(0, program.rfind('/'));
  bench.write("try.sh",
              "PATH=" + folder +
                  ":$PATH\nsource " PROJECT_FOLDER
                  "/packaging/completion/ashg.bash\nCOMP_WORDS=(ashg rep)\nCOMP_CWORD=1\n_ashg\nprintf '%s\\n' "
                  "\"${COMPREPLY[@]}\"\nCOMP_WORDS=(ashg report --form)\nCOMP_CWORD=2\n_ashg\nprintf '%s\\n' "
                  "\"${COMPREPLY[@]}\"\n");
  REQUIRE(std::system(("bash '" + bench.path("try.sh") + "' >'" + bench.path("got") + "'").c_str()) == 0);
  CHECK(readFile(bench.path("got")) == "report\n--format\n");
}

TEST_CASE("theVersionIsToldForPrograms") {
  const Bench bench;
  const Ran ran = bench.ashg("--version --json");
  REQUIRE(ran.status == 0);
  const Json told = Json::parse(ran.out);
  CHECK(bench.ashg("--version").out == "ashg " + told.at("version").get<std::string>() + "\n");
  CHECK(told.at("book_format").is_number_integer());
  CHECK(told.at("figures_method").is_string());
  CHECK(bench.ashg("--json --version").out == ran.out);
}
