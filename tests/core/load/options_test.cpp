// SPDX-License-Identifier: GPL-3.0-or-later
// Loads as text and as JSON: what is written is what is read, and what cannot be is refused in words.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <set>

#include "load/load_kinds.h"
#include "load/load_text.h"
#include "model/cpu_list.h"

using namespace ash;

namespace {

std::string refusal(const std::string& text) {
  const auto load = parseLoadText(text);
  return load ? std::string() : load.error().message;
}

}  // namespace

TEST_CASE("aLineNamesKindsWithTheirOptions") {
  const auto load = parseLoadText("vector threads=6 duty=50 cores=0-3,6 + graphics size=640x360 pattern=memory");
  REQUIRE(load);
  CHECK(load->kind == LoadKind::Vector);
  CHECK(load->threads == 6);
  CHECK(load->dutyPercent == 50);
  CHECK(load->cores == std::vector<int>{0, 1, 2, 3, 6});
  REQUIRE(load->also.size() == 1);
  CHECK(load->also[0].kind == LoadKind::Graphics);
  CHECK(load->also[0].width == 640);
  CHECK(load->also[0].height == 360);
  CHECK(load->also[0].pattern == "memory");
  CHECK(loadKindText(*load) == "vector + graphics");
}

TEST_CASE("aNameMayStandBeforeALoad") {
  const auto named = parseNamedLoad("Cores and graphics = vector + graphics");
  REQUIRE(named);
  CHECK(named->name == "Cores and graphics");
  CHECK(named->load.also.size() == 1);
  const auto bare = parseNamedLoad("vector threads=2");
  REQUIRE(bare);
  CHECK(bare->name == "vector threads=2");
  CHECK(bare->load.threads == 2);
}

TEST_CASE("aCommandIsQuotedAndItsPatternsHaveNames") {
  const auto load = parseLoadText(
      "command command='./render --frames 10' repeats=3 exit_code=2 env.MODE=quiet score.frames='frames: ([0-9]+)' "
      "live.frame.rate=\"fps ([0-9.]+)\"");
  REQUIRE(load);
  CHECK(load->command == "./render --frames 10");
  CHECK(load->repeats == 3);
  CHECK(load->exitCode == 2);
  CHECK(load->environment.at("MODE") == "quiet");
  CHECK(load->scores.at("frames") == "frames: ([0-9]+)");
  CHECK(load->live.at("frame.rate") == "fps ([0-9.]+)");
}

TEST_CASE("whatALineCannotSayIsNamed") {
  CHECK(refusal("furnace").find("There is no load \"furnace\"") == 0);
  CHECK(refusal("vector thread=6") ==
        "A load knows no \"thread=6\"; options are written threads=6, as in docs/loads.md.");
  CHECK(refusal("vector threads=many") == "\"threads\" of a load takes a number, not many.");
  CHECK(refusal("vector threads=1.5") == "The load's \"threads\" must be a whole number.");
  CHECK(refusal("vector +").find("A load begins with its kind") == 0);
  CHECK(refusal("").find("A load begins with its kind") == 0);
  CHECK(refusal("command command='./x").find("A quote is not closed") == 0);
  CHECK(refusal("command") == "The load \"command\" needs a command line (--command), and only that load takes one.");
  CHECK(refusal("vector cores=5-2") == "“5-2” is no list of cores; write 0-3,6.");
  CHECK(refusal("command command=x score.a='[0-9]+'").find("one group") != std::string::npos);
  CHECK(refusal("graphics size=big").find("The size of the picture must be") == 0);
  CHECK(refusal("storage queue_depth=900") == "The queue depth must be from 1 to 64.");
  CHECK(refusal("vector passes=3") == "Passes need the work of one pass (--pass-work), above zero.");
}

TEST_CASE("aLoadIsTheSameAfterBeingKept") {
  const auto load = parseLoadText(
      "memory threads=3 memory_mb=512 pattern=copy steps='25% 60s, 50%..100% 120s, 80%' pass_work=100 passes=4 + "
      "storage folder=/tmp file_mb=64 queue_depth=2 block_kb=256");
  REQUIRE(load);
  const Json kept = loadToJson(*load);
  const auto again = loadFromJson("", kept);
  REQUIRE(again);
  CHECK(loadToJson(*again) == kept);
  CHECK(again->steps.size() == 3);
  CHECK(again->also[0].queueDepth == 2);
}

TEST_CASE("aSpecOfTheWrongShapeIsRefusedAndNamesItsKey") {
  const auto refused = [](const char* text) { return loadFromJson("vector", Json::parse(text)).error().message; };
  CHECK(refused(R"({"threads": "four"})") == "The load's \"threads\" must be a number.");
  CHECK(refused(R"({"also": 3})") == "The load's \"also\" must be a list of loads.");
  CHECK(refused(R"({"scores": {"a": 1}})") == "The load's \"scores\" must be an object of texts.");
  CHECK(loadFromJson("integer", Json::object())->kind == LoadKind::Integer);
}

TEST_CASE("dutyFollowsItsStepsAndRamps") {
  LoadOptions options;
  const auto steps = parseDutySteps("20% 10s, 40%..80% 20s, 60%");
  REQUIRE(steps);
  options.steps = *steps;
  CHECK(dutyAt(options, 0) == 20);
  CHECK(dutyAt(options, 9.9) == 20);
  CHECK(dutyAt(options, 20) == Approx(60));  // half way up the ramp
  CHECK(dutyAt(options, 29.99) == Approx(80).margin(0.1));
  CHECK(dutyAt(options, 31) == 60);
  CHECK(dutyAt(options, 1e6) == 60);
  CHECK_FALSE(parseDutySteps("120%"));
  CHECK_FALSE(parseDutySteps("20%..40%"));  // a ramp needs its time
  CHECK_FALSE(parseDutySteps("20%, 40% 10s"));
  CHECK(dutyStepsText(*steps) == "20% 10s, 40%..80% 20s, 60%");
}

TEST_CASE("coresAreListedShort") {
  CHECK(cpuListText({0, 1, 2, 3, 6, 8, 9}) == "0-3,6,8-9");
  CHECK(*parseCoreList("6, 0-2 ,2") == std::vector<int>{0, 1, 2, 6});
  CHECK_FALSE(parseCoreList("a"));
  CHECK_FALSE(parseCoreList("-1"));
  CHECK_FALSE(parseCoreList("99999"));
}

TEST_CASE("longTextsOfABookAreRefusedInASentence") {
  // 400 kB of them overflowed the stack of a matcher that recurses.
  for (const std::string& text : {std::string(400'000, '1'), std::string(400'000, ' '), std::string(400'000, '.'),
                                  "1%" + std::string(400'000, ' ') + "x", std::string(400'000, ',')}) {
    const auto steps = parseDutySteps(text);
    REQUIRE_FALSE(steps);
    CHECK(steps.error().message.size() < 400);
  }
}

TEST_CASE("noFileIsWrittenBeyondTheRoomThatWasLookedFor") {
  LoadOptions options;
  options.kind = LoadKind::Storage;
  options.fileMb = 16;
  options.queueDepth = 64;
  options.blockKb = 4096;
  // 64 requests of 4 MiB each touch 268 MB, whatever the file was to be.
  const auto refused = checkLoadOptions(options);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message == "64 requests of 4096 KB at a time need a file of at least 269 MB, not 16 (--file).");
  options.fileMb = 269;
  CHECK(checkLoadOptions(options));
}

TEST_CASE("aCommandThatCannotBeHandedOverWholeIsRefused") {
  LoadOptions options;
  options.kind = LoadKind::Command;
  options.command = std::string(200'000, 'x');
  CHECK(checkLoadOptions(options).error().message.find("too long") != std::string::npos);
  options.command = std::string("echo\0x", 6);
  CHECK_FALSE(checkLoadOptions(options));
  options.command = "echo";
  options.environment = {{"A=B", "c"}};
  CHECK_FALSE(checkLoadOptions(options));
  options.environment = {{"A", "c=d"}};
  CHECK(checkLoadOptions(options));
}

TEST_CASE("severalLoadsArePartedBySemicolonsOutsideOfQuotes") {
  const auto loads = parseNamedLoads("A = vector threads=2; B = command command=\"x 'y;' ; z\" repeats=1;; memory");
  REQUIRE(loads);
  REQUIRE(loads->size() == 3);
  CHECK((*loads)[0].name == "A");
  CHECK((*loads)[1].load.command == "x 'y;' ; z");
  CHECK((*loads)[2].name == "memory");
  CHECK(parseNamedLoads("  ; ")->empty());
  CHECK_FALSE(parseNamedLoads("A = vector; B = nonsense"));
}

TEST_CASE("everyFieldIsReadAndWrittenByLineByJsonAndByOption") {
  // A text for each field that is not as usual; a field that nobody put here makes the test fail.
  const std::map<std::string_view, std::string> texts = {{"threads", "3"},
                                                         {"duty", "40"},
                                                         {"work", "5000"},
                                                         {"cores", "0-1"},
                                                         {"steps", "25% 60s, 80%"},
                                                         {"pass_work", "10"},
                                                         {"passes", "2"},
                                                         {"variant", "portable"},
                                                         {"pattern", "copy"},
                                                         {"memory_mb", "64"},
                                                         {"folder", "/tmp"},
                                                         {"level", "3"},
                                                         {"size", "640x360"},
                                                         {"file_mb", "64"},
                                                         {"queue_depth", "2"},
                                                         {"block_kb", "256"},
                                                         {"command", "./render"},
                                                         {"environment", "A=b c"},
                                                         {"repeats", "2"},
                                                         {"exit_code", "3"},
                                                         {"scores", "fps=fps: ([0-9.]+)"},
                                                         {"live", "frame=f ([0-9]+)"}};
  std::set<std::string_view> keys, options;
  for (const LoadField& field : loadFields()) {
    INFO(std::string(field.key));
    CHECK(keys.insert(field.key).second);
    CHECK(options.insert(field.option).second);
    CHECK_FALSE(field.help.empty());
    REQUIRE(texts.contains(field.key));
    LoadOptions load;
    REQUIRE(takeFieldText(field, texts.at(field.key), load));
    Json spec = Json::object();
    writeFields(load, spec);
    REQUIRE(spec.contains(std::string(field.key)));
    // The way back gives the same load.
    JsonCursor::Mistakes mistakes;
    LoadOptions again;
    readFields(JsonCursor(spec, mistakes), again);
    CHECK(mistakes.empty());
    Json twice = Json::object();
    writeFields(again, twice);
    CHECK(twice == spec);
    // As usual it is not written, but for the two that are always told.
    Json usual = Json::object();
    writeFields(LoadOptions(), usual);
    CHECK(usual.contains(std::string(field.key)) == field.isAlwaysWritten);
  }
  CHECK(keys.size() == texts.size());
}

TEST_CASE("aNumberOutOfAFieldsRangeIsRefusedInTheFieldsOwnWords") {
  for (const LoadField& field : loadFields()) {
    if (!field.isNumber()) continue;
    INFO(std::string(field.key));
    REQUIRE_FALSE(field.refusal.empty());
    LoadOptions load;
    REQUIRE(takeFieldText(field, "-1", load));
    CHECK(checkRanges(load).error().message == field.refusal);
  }
}

TEST_CASE("everyKindHasItsRow") {
  std::set<LoadKind::Known> kinds;
  for (const LoadKindRow* row : loadKindRows()) CHECK(kinds.insert(row->kind).second);
  CHECK(kinds.size() == LoadWords::kWords.size());
}

TEST_CASE("aMistakeInALoadBesideAnotherIsToldWithItsPlace") {
  const auto refused = [](const char* text) { return loadFromJson("vector", Json::parse(text)).error().message; };
  CHECK(refused(R"({"also": [{"kind": "graphics"}, {"kind": "memory", "duty": "half"}]})") ==
        "The load's \"also[1].duty\" must be a number.");
  CHECK(refused(R"({"cores": "5-2"})") ==
        "The load's \"cores\" cannot be read: “5-2” is no list of cores; write 0-3,6.");
  CHECK(refused(R"({"also": [{"kind": "memory", "also": [{"kind": "vector"}]}]})").find("also[0].also") !=
        std::string::npos);
  // A list of words is a line for the shell, each word held together.
  CHECK(loadFromJson("command", Json::parse(R"({"command": ["./a b", "it's"]})"))->command == "'./a b' 'it'\\''s'");
}
