// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>
#include <cmath>

#include "exchange/csv_read.h"
#include "exchange/csv_write.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

Log read(const std::string& text) {
  auto log = parseCsvLog(text, "f.csv");
  INFO(text);
  if (!log) FAIL(log.error().message);
  return *log;
}

std::string refusal(const std::string& text) {
  const auto log = parseCsvLog(text, "f.csv");
  return log ? "accepted" : log.error().message;
}

bool has(const Log& log, const std::string& kind) {
  for (const Problem& problem : log.problems) {
    if (problem.kind.text() == kind) return true;
  }
  return false;
}

std::string utf16(const std::string& ascii, bool bigEndian, bool withMark) {
  std::string bytes = withMark ? (bigEndian ? "\xFE\xFF" : "\xFF\xFE") : "";
  for (const char c : ascii) {
    if (bigEndian) bytes += '\0';
    bytes += c;
    if (!bigEndian) bytes += '\0';
  }
  return bytes;
}

}  // namespace

TEST_CASE("theContractsExampleIsRead") {
  const Log log = read(
      "time [s],cpu.temp [°C],cpu.clock [MHz],cpu.power [W],fan.cpu [RPM],room.temp [°C]\n"
      "0.0,34.2,1800,11.4,640,22.1\n0.5,34.3,,11.6,641,22.1\n");
  CHECK(log.timeS == std::vector<double>{0, 0.5});
  REQUIRE(log.channels.size() == 5);
  CHECK(log.find("cpu.temp")->values[1] == 34.3);
  CHECK(std::isnan(log.find("cpu.clock")->values[1]));
  CHECK(log.find("fan.cpu")->role == "fan.cpu");
  CHECK(log.problems.empty());
}

TEST_CASE("unitsAreConvertedWhateverTheHeaderSays") {
  const Log log = read(
      "time (min),cpu.temp (°F),cpu.clock [GHz],cpu.power [mW],cpu.load [ratio],room.temp "
      "[[degF]]\n1,212,4.5,1500,0.5,50\n2,32,1,1,0,32\n");
  CHECK(log.timeS[1] == 60);
  CHECK(log.find("cpu.temp")->values[0] == Approx(100));
  CHECK(log.find("cpu.clock")->values[0] == Approx(4500));
  CHECK(log.find("cpu.power")->values[0] == Approx(1.5));
  CHECK(log.find("cpu.load")->values[0] == Approx(50));
  CHECK(log.find("room.temp")->values[0] == Approx(10));
}

TEST_CASE("separatorsAndDecimalCommasAreDetected") {
  const Log semicolon = read("time [s];cpu.temp [°C];cpu.power [W]\n0,0;34,25;11,4\n0,5;34,5;11,6\n");
  CHECK(semicolon.timeS[1] == 0.5);
  CHECK(semicolon.find("cpu.temp")->values[0] == 34.25);
  CHECK(read("time [s]\tcpu.temp [°C]\n0\t34.5\n1\t35\n").find("cpu.temp")->values[0] == 34.5);
  CHECK(read("time [s],\"panel, left [°C]\"\n0,34.5\n").channels[0].name == "panel, left");
}

TEST_CASE("everySignOfNoReadingIsMissingAndNeverZero") {
  const Log log = read("time [s],cpu.temp [°C]\n0,\n1,NaN\n2,N/A\n3,-\n4,40\n");
  for (int i = 0; i < 4; ++i) CHECK(std::isnan(log.channels[0].values[static_cast<size_t>(i)]));
  CHECK_FALSE(has(log, "bad_cell"));
}

TEST_CASE("aCellThatIsNoNumberIsListedAndLeftOut") {
  const Log log = read("time [s],cpu.temp [°C]\n0,34\n1,warm\n2,35\n");
  CHECK(std::isnan(log.channels[0].values[1]));
  REQUIRE(has(log, "bad_cell"));
  CHECK(log.problems[0].text == "Line 3, column 2 (cpu.temp): \"warm\" is no number and is left out.");
}

TEST_CASE("encodingsOfRealLogsAreDetected") {
  const std::string plain = "time [s],cpu.temp [C]\n0,34\n1,35\n";
  CHECK(read("\xEF\xBB\xBF" + plain).channels[0].name == "cpu.temp");
  CHECK(read("time [s],cpu.temp [\xB0"
             "C]\n0,34\n")
            .channels[0]
            .unit == "°C");  // Windows-1252
  for (const bool bigEndian : {false, true}) {
    for (const bool withMark : {false, true}) CHECK(read(utf16(plain, bigEndian, withMark)).timeS.size() == 2);
  }
}

TEST_CASE("datesAndClockTimesBecomeSecondsSinceTheStart") {
  CHECK(read("timestamp,cpu.temp [°C]\n2026-05-04T09:30:00+02:00,34\n2026-05-04T07:30:01.5Z,35\n").timeS[1] ==
        Approx(1.5));
  CHECK(read("timestamp;cpu.temp [°C]\n04.05.2026 23:59:59;34\n05.05.2026 00:00:01;35\n").timeS[1] == 2);
  CHECK(read("time,cpu.temp [°C]\n09:30:00,34\n09:30:10,35\n").timeS[1] == 10);
}

TEST_CASE("repeatedAndBackwardTimesAreReportedAndNeverBridged") {
  const Log log = read("time [s],cpu.temp [°C]\n0,1\n1,2\n1,3\n2,4\n0.5,5\n1.5,6\n");
  CHECK(has(log, "repeated_time"));
  CHECK(has(log, "backward_time"));
  for (size_t i = 1; i < log.timeS.size(); ++i) CHECK(log.timeS[i] >= log.timeS[i - 1]);
  CHECK(log.timeS.back() == Approx(4));
}

TEST_CASE("aCutLastLineIsLeftOut") {
  const Log log = read("time [s],cpu.temp [°C],cpu.power [W]\n0,34,10\n1,35,11\n2,36");
  CHECK(log.timeS.size() == 2);
  CHECK(has(log, "truncated"));
  CHECK_FALSE(has(read("time [s],cpu.temp [°C]\n0,34\n1,35"), "truncated"));
}

TEST_CASE("whatHoldsNoLogIsRefusedWithItsPlace") {
  CHECK(refusal("").find("f.csv is empty") == 0);
  CHECK(refusal("time [s],cpu.temp [°C]\n") == "f.csv, line 2: there is a header but no sample, so it holds no log.");
  CHECK(refusal("cpu.temp [°C],cpu.power [W]\n34,10\n")
            .find("f.csv, line 1, column 1: the first column must be the time") == 0);
  CHECK(refusal("time [s],cpu.temp [°C]\nsoon,34\n") == "f.csv, line 2, column 1: \"soon\" is no time.");
  CHECK(refusal("time [s],cpu.temp [°C]\n0,34\n1,35,99\n").find("f.csv, line 3, column 3") == 0);
  std::string archive("PK\x03\x04\0\0\0\x08", 8);
  archive.append(100, '\1');
  CHECK(refusal(archive).find("binary") != std::string::npos);
  CHECK_FALSE(readCsvLog("/no/such/file.csv"));
}

TEST_CASE("aRoleInAWrongUnitIsKeptButNotUsed") {
  const Log log = read("time [s],fan.cpu [°C],cpu.temp\n0,34,40\n");
  CHECK(log.channels[0].role.empty());
  CHECK(has(log, "unit_mismatch"));
  CHECK(log.channels[1].role == "cpu.temp");
}

TEST_CASE("whatIsWrittenReadsBackTheSame") {
  const tests::TempFolder folder;
  const Log log = read("time [s],cpu.temp [°C],\"odd, name [W]\"\n0,34.123456789,1\n0.5,,2\n");
  REQUIRE(writeCsvLog(log, folder.path("o.csv")));
  const auto again = readCsvLog(folder.path("o.csv"));
  REQUIRE(again);
  CHECK(again->timeS == log.timeS);
  CHECK(again->channels[0].values[0] == 34.123456789);
  CHECK(std::isnan(again->channels[0].values[1]));
  CHECK(again->channels[1].name == "odd, name");
  const auto refused = writeCsvLog(log, folder.path("no/such/folder.csv"));
  CHECK_FALSE(refused);
  CHECK(refused.error().kind == ErrorKind::Environment);
}

TEST_CASE("theSidecarIsReadAndUnknownKeysAreKept") {
  const auto facts =
      parseSidecar(R"({"setup":"s","load":"l","outcome":"completed","watched":"gpu.temp","under_test":["fan_duty"],
    "limits":{"cpu.temp":{"throttle":95}},"phases":[{"kind":"soak","start_s":0,"end_s":60}],"conditions":{"room_c":22},
    "work":{"units":1,"unit":"frame","done_s":196},"passes":[{"start_s":0,"end_s":60,"score":1512,"scores":{"graphics":1490}}],
    "score_better":"lower","events":[{"at_s":12,"kind":"reading","text":"","role":"noise","value":38.5}],"mine":{"a":1}})",
                   "m.json");
  REQUIRE(facts);
  CHECK(facts->limit("cpu.temp", "throttle") == 95.0);
  CHECK(facts->phases[0].kind == PhaseKind::Soak);
  CHECK(facts->passes[0].scores.at("graphics") == 1490);
  CHECK(facts->lowerScoreIsBetter);
  CHECK(facts->events[0].value == 38.5);
  CHECK(facts->extra["mine"]["a"] == 1);
}

TEST_CASE("aWrongSidecarIsRefusedWhole") {
  const auto refused = [](const std::string& text) {
    const auto facts = parseSidecar(text, "m.json");
    return facts ? std::string("accepted") : facts.error().message;
  };
  CHECK(refused("{\"setup\": \n oops}").find("m.json, line 2") == 0);
  CHECK(refused("[]").find("must be one JSON object") != std::string::npos);
  CHECK(refused(R"({"outcome":"fine"})").find("outcome") != std::string::npos);
  CHECK(refused(R"({"phases":[{"kind":"soak","start_s":9,"end_s":3}]})") ==
        "m.json: \"phases[0]\" ends before it starts.");
  CHECK(refused(R"({"limits":{"cpu.temp":95}})").find("limits.cpu.temp") != std::string::npos);
  CHECK(refused(R"({"setup":5})").find("\"setup\" must be a text") != std::string::npos);
  // Every section, of another kind than it must be; the sentence names the place.
  for (const auto& [text, words] :
       {std::pair{R"({"machine":"old"})", "\"machine\" must be an object."},
        std::pair{R"({"conditions":[1]})", "\"conditions\" must be an object."},
        std::pair{R"({"under_test":"panel"})", "\"under_test\" must be a list of field names."},
        std::pair{R"({"under_test":["panel",2]})", "\"under_test\" must be a list of field names."},
        std::pair{R"({"limits":95})", "\"limits\" must be an object."},
        std::pair{R"({"rated":{"cpu.clock":{"base":"fast"}}})", "\"rated.cpu.clock.base\" must be a number."},
        std::pair{R"({"accuracy":1})", "\"accuracy\" must be an object."},
        std::pair{R"({"accuracy":{"noise":-1}})", "\"accuracy.noise\" must not be below zero."},
        std::pair{R"({"accuracy":{"noise":{"instrument":4}}})", "\"accuracy.noise.instrument\" must be a text."},
        std::pair{R"({"phases":{}})", "\"phases\" must be a list."},
        std::pair{R"({"phases":[7]})", "\"phases[0]\" must be an object."},
        std::pair{R"({"phases":[{"kind":"soak","start_s":1}]})", "\"phases[0].end_s\" is missing."},
        std::pair{R"({"phases":[{"kind":"warm","start_s":1,"end_s":2}]})",
                  "\"phases[0].kind\" must be idle, soak, measure or cool."},
        std::pair{R"({"work":7})", "\"work\" must be an object."},
        std::pair{R"({"work":{"units":"many"}})", "\"work.units\" must be a number."},
        std::pair{R"({"passes":[{"start_s":0,"end_s":1,"score":"good"}]})", "\"passes[0].score\" must be a number."},
        std::pair{R"({"passes":[{"start_s":0,"end_s":1,"scores":{"a":"b"}}]})",
                  "\"passes[0].scores.a\" must be a number."},
        std::pair{R"({"events":[{"kind":"note"}]})", "\"events[0].at_s\" is missing."},
        std::pair{R"({"events":[{"at_s":1},{"at_s":2,"value":true}]})", "\"events[1].value\" must be a number."},
        std::pair{R"({"score_better":"more"})", "\"score_better\" must be \"higher\" or \"lower\"."}}) {
    CHECK(refused(text) == std::string("m.json: ") + words);
  }
}

TEST_CASE("filesAreReadTogetherWithTheirSidecar") {
  const tests::TempFolder folder;
  const std::string csv = folder.write("run 7.csv", "time [s],cpu.temp [°C]\n0,34\n1,35\n");
  CHECK(readRunFiles(csv)->facts.setup == "run 7");
  folder.write("run 7.meta.json", R"({"setup":"mesh"})");
  CHECK(readRunFiles(csv)->facts.setup == "mesh");
  CHECK(readRunFiles(csv)->name == "run 7");
  folder.write("run 7.meta.json", "not json");
  CHECK_FALSE(readRunFiles(csv));
}

TEST_CASE("aNameThatLooksLikeAFormulaIsGuardedAndComesBackAsItWas") {
  Log log;
  log.timeS = {0, 1};
  log.channels.push_back({"=HYPERLINK(\"http://x\")", Quantity::Other, "", {1, 2}, "", 0});
  log.channels.push_back({"-12 V rail", Quantity::Voltage, "V", {-11.9, -12.1}, "", 0});
  const std::string text = csvText(log);
  CHECK(text.find("\n=") == std::string::npos);
  CHECK(text.find(",=") == std::string::npos);
  CHECK(text.find(",'-12 V rail [V]") != std::string::npos);
  CHECK(text.find(",-11.9\n") != std::string::npos);
  const Log again = read(text);
  REQUIRE(again.channels.size() == 2);
  CHECK(again.channels[1].name == "-12 V rail");
  CHECK(again.channels[1].values == std::vector<double>{-11.9, -12.1});
}
