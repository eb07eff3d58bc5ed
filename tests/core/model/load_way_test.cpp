// SPDX-License-Identifier: GPL-3.0-or-later
// One task in several ways: which spec a setup gets, what its fields become in a line, and what has to be confirmed.
#include "model/load_way.h"

#include <algorithm>
#include <array>
#include <catch2/catch.hpp>
#include <cstdio>

#include "model/active_parts.h"
#include "model/setup_edit.h"

using namespace ash;

namespace {

Study rendering(const Json& spec) {
  Study study;
  study.name = "render";
  study.setups = {{"Processor", {{"cooler", "Teasel"}}, {{"device", "cpu"}, {"tiles", 16}}, Json::object()},
                  {"Graphics", Json::object(), {{"device", "gpu 0; rm -rf 'x'"}, {"tiles", 2}}, Json::object()},
                  {"Neither", Json::object(), Json::object(), Json::object()}};
  study.loads = {{"Frame", spec}};
  return study;
}

std::string lineFor(const Study& study, const std::string& setup) {
  const auto spec = specOf(study, study.loads[0], setup);
  return spec ? valueIn(*spec, "command", "") : "refused: " + spec.error().message;
}

// What a shell makes of a line's words, one a line.
std::string wordsOfShell(const std::string& line) {
  const std::string command = "set -- " + line + "; for word do printf '%s\\n' \"$word\"; done";
  FILE* shell = popen(command.c_str(), "r");
  REQUIRE(shell != nullptr);
  std::array<char, 4096> buffer{};
  const size_t size = fread(buffer.data(), 1, buffer.size(), shell);
  pclose(shell);
  return std::string(buffer.data(), size);
}

}  // namespace

TEST_CASE("fieldsOfASetupStandInALineAsOneWordEach") {
  const Study study = rendering({{"kind", "command"}, {"command", "render.sh --on {device} -n {tiles} {cooler}"}});
  // The cooler is a field, which this setup states and the others do not.
  CHECK(lineFor(study, "Processor") == "render.sh --on cpu -n 16 Teasel");
  const Study two = rendering({{"kind", "command"}, {"command", "render.sh --on {device} -n {tiles}"}});
  const std::string line = lineFor(two, "Graphics");
  CHECK(wordsOfShell(line) == "render.sh\n--on\ngpu 0; rm -rf 'x'\n-n\n2\n");
}

TEST_CASE("aFieldInQuotesStaysWhatItIs") {
  const std::string hostile = "a $(echo gone) `echo gone` \"b\" \\ 'c' $HOME";
  Study study = rendering({{"kind", "command"}, {"command", ""}});
  study.setups[1].conditions["device"] = hostile;
  for (const char* line :
       {"{device}", "\"{device}\"", "'{device}'", "\"on \\\" {device}\"", "--on={device}", "'it'\\''s {device}'"}) {
    study.loads[0].spec["command"] = line;
    INFO(line);
    const std::string read = wordsOfShell(lineFor(study, "Graphics"));
    CHECK(std::count(read.begin(), read.end(), '\n') == 1);
    CHECK(read.find(hostile) != std::string::npos);
  }
}

TEST_CASE("aFieldWithinASubstitutionStaysWhatItIs") {
  const std::string hostile = "a $(echo gone) `echo gone` \"b\" \\ 'c' $HOME";
  Study study = rendering({{"kind", "command"}, {"command", ""}});
  study.setups[1].conditions["device"] = hostile;
  for (const char* line : {
           R"sh("$(printf %s {device})")sh",
           R"sh("$(printf %s "{device}")")sh",
           R"sh("$(printf %s '{device}')")sh",
           R"sh("it's $(printf %s "on {device}")")sh",
           R"sh("$(printf %s "$(printf %s "{device}")")")sh",
           R"sh("$(printf %s "$((1 + 2)) {device}")")sh",
           R"sh("$(printf '%s' a; (printf '%s' {device}); printf '%s' "b")" )sh",
           R"sh("`printf %s {device}`")sh",
           R"sh("`printf %s '{device}'`")sh",
           R"sh("$(printf %s `printf %s '{device}'`)" 2>/dev/null)sh",
           R"sh("$(printf %s ")")$(printf %s "{device}")")sh",
       }) {
    study.loads[0].spec["command"] = line;
    INFO(line << " becomes " << lineFor(study, "Graphics"));
    const std::string read = wordsOfShell(lineFor(study, "Graphics"));
    // Words of an unquoted substitution are parted by the shell itself, as they would be without a field.
    CHECK(std::count(read.begin(), read.end(), '\n') == 1);
    CHECK(read.find("gone\n") == std::string::npos);
    if (std::string(line).find("`printf %s '{device}'`)") == std::string::npos)
      CHECK(read.find(hostile) != std::string::npos);
  }
}

TEST_CASE("aCommentsApostropheOpensNothing") {
  const Study study = rendering({{"kind", "command"}, {"command", "true # it's slow\nrender.sh {device}"}});
  CHECK(lineFor(study, "Graphics") == "true # it's slow\nrender.sh 'gpu 0; rm -rf '\\''x'\\'''");
  // A field in a comment stays as it is: a value of two lines would end the comment.
  Study lines = rendering({{"kind", "command"}, {"command", "true # on {device}\nrender.sh"}});
  lines.setups[1].conditions["device"] = "x\nrm -rf y";
  CHECK(lineFor(lines, "Graphics") == "true # on {device}\nrender.sh");
  // Within a word it is no comment.
  const Study word = rendering({{"kind", "command"}, {"command", "render.sh a#'{device}'"}});
  CHECK(lineFor(word, "Processor") == "render.sh a#'cpu'");
}

TEST_CASE("whereAShellMayReadAnythingAFieldIsRefused") {
  for (const char* line : {"cat <<END\n{device}\nEND", "x=$(case a in a) echo {device};; esac)",
                           "echo `echo \\`echo {device}\\``", "echo \"`true # it's` {device}\""}) {
    const Study study = rendering({{"kind", "command"}, {"command", line}});
    INFO(line);
    CHECK(lineFor(study, "Processor").find("refused: The line of Frame has {device} behind a here-document") == 0);
  }
  const Study before = rendering({{"kind", "command"}, {"command", "render.sh {device} <<END\nx\nEND"}});
  CHECK(lineFor(before, "Processor") == "render.sh cpu <<END\nx\nEND");
}

TEST_CASE("whatASetupDoesNotStateRefusesTheRun") {
  const Study study = rendering({{"kind", "command"}, {"command", "render.sh --on {device}"}});
  CHECK(lineFor(study, "Neither") ==
        "refused: The load Frame needs {device}, which Neither does not state; state it on Plan, or give the load "
        "another line.");
  CHECK(lineFor(study, "elsewhere").find("which the setup does not state") != std::string::npos);
}

TEST_CASE("bracesOfTheShellStayAsTheyAre") {
  for (const char* line :
       {"awk '{print $1}' x", "echo ${device}", "echo {a,b}", "echo {}", "echo {device", "x{1..3}"}) {
    const Study study = rendering({{"kind", "command"}, {"command", line}});
    CHECK(lineFor(study, "Processor") == line);
  }
}

TEST_CASE("wordsAndEnvironmentTakeAFieldAsItIs") {
  const Study study = rendering({{"kind", "command"},
                                 {"command", {"render.sh", "{device}", "x-{tiles}"}},
                                 {"environment", {{"ON", "{device}"}, {"HOME", "/tmp"}}},
                                 {"also", {{{"kind", "command"}, {"command", "log.sh {tiles}"}}}}});
  const Json spec = *specOf(study, study.loads[0], "Graphics");
  CHECK(spec["command"] == Json({"render.sh", "gpu 0; rm -rf 'x'", "x-2"}));
  CHECK(spec["environment"]["ON"] == "gpu 0; rm -rf 'x'");
  CHECK(spec["environment"]["HOME"] == "/tmp");
  CHECK(spec["also"][0]["command"] == "log.sh 2");
}

TEST_CASE("aWayOfItsOwnFollowsItsSetup") {
  Study study = rendering({{"kind", "integer"}, {"work", 900}});
  StudyPlan plan;
  setWay(study.loads[0], "Graphics", {{"kind", "graphics"}, {"work", 900}});
  CHECK((*specOf(study, study.loads[0], "Graphics"))["kind"] == "graphics");
  CHECK(*specOf(study, study.loads[0], "Processor") == Json({{"kind", "integer"}, {"work", 900}}));
  renameSetup(study, plan, 1, "On the card");
  CHECK((*specOf(study, study.loads[0], "On the card"))["kind"] == "graphics");
  CHECK(wayOf(study.loads[0], "Graphics").empty());
  removeSetup(study, 1);
  CHECK(study.setups.size() == 2);
  CHECK(study.loads[0].spec == Json({{"kind", "integer"}, {"work", 900}}));
}

TEST_CASE("aWayOfTheWrongShapeIsAsIfItWereMissing") {
  for (const Json& ways : {Json(3), Json("x"), Json::array({1}), Json({{"Graphics", 5}}), Json({{"Graphics", "x"}})}) {
    const Study study = rendering({{"kind", "integer"}, {"by_setup", ways}});
    CHECK(*specOf(study, study.loads[0], "Graphics") == Json({{"kind", "integer"}}));
  }
}

// A stranger's book must not show one thing and run another.
TEST_CASE("whatIsConfirmedOfACellIsWhatRunsThere") {
  Study study = rendering({{"kind", "vector"}});
  // A way within a way, harmless, under the name of the same setup.
  setWay(study.loads[0], "Processor",
         {{"kind", "command"}, {"command", "evil.sh"}, {"by_setup", {{"Processor", {{"kind", "vector"}}}}}});
  REQUIRE(activeParts(study, "Processor", "Frame").size() == 1);
  CHECK(activeParts(study, "Processor", "Frame")[0].text == "evil.sh");
  CHECK(activeParts(study).size() == 1);
  CHECK(lineFor(study, "Processor") == "evil.sh");
  CHECK_FALSE(specOf(study, study.loads[0], "Processor")->contains("by_setup"));
  // A field that looks like the place of another one.
  study.loads[0].spec = {{"kind", "command"}, {"command", "render.sh {device}"}, {"environment", {{"ON", "{device}"}}}};
  study.setups[0].conditions["device"] = "{tiles}";
  const auto shown = activeParts(study, "Processor", "Frame");
  REQUIRE(shown.size() == 1);
  CHECK(shown[0].body == *specOf(study, study.loads[0], "Processor"));
  CHECK(shown[0].text == "render.sh '{tiles}'");
  CHECK(shown[0].body["environment"]["ON"] == "{tiles}");
}

TEST_CASE("eachLineThatWouldRunIsConfirmedByItself") {
  const Study study = rendering({{"kind", "command"}, {"command", "render.sh --on {device}"}});
  const auto ofCell = activeParts(study, "Processor", "Frame");
  REQUIRE(ofCell.size() == 1);
  CHECK(ofCell[0].text == "render.sh --on cpu");
  const auto all = activeParts(study);
  const auto hasLine = [&](const std::string& line) {
    return std::any_of(all.begin(), all.end(), [&](const ActivePart& part) { return part.text == line; });
  };
  CHECK(hasLine("render.sh --on cpu"));
  CHECK(hasLine("render.sh --on 'gpu 0; rm -rf '\\''x'\\'''"));
  // Whoever changes the field changes what runs: that is another part.
  Study changed = study;
  changed.setups[0].conditions["device"] = "other";
  CHECK(canonicalText(activeParts(changed, "Processor", "Frame")[0]) != canonicalText(ofCell[0]));
  // Where all setups do the same it stands once.
  CHECK(activeParts(rendering({{"kind", "command"}, {"command", "make"}})).size() == 1);
}
