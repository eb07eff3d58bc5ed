// SPDX-License-Identifier: GPL-3.0-or-later
// Harder logs: cut off, dated in words or in two ways, with units in the cells, with times by a pattern.
#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/read_log.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("aLastNumberThatIsCutIsLeftOut") {
  const std::string text = "time,a\n0,10.25\n1,11.25\n2,12.25\n3,13.25\n";
  CHECK(readText(text).facts.rows == 4);
  CHECK(readText(text.substr(0, text.size() - 1)).facts.rows == 4);  // only the end of line is missing
  for (const size_t lost : {2, 3, 4, 5, 7}) {
    const Read read = readText(text.substr(0, text.size() - lost));
    INFO(lost << " bytes are lost");
    CHECK(read.facts.rows == 3);
    CHECK(hasProblem(read, ProblemKind::Truncated));
    CHECK_FALSE(hasProblem(read, ProblemKind::BadCell));
  }
}

TEST_CASE("daysThatAreWrittenWithDashesMayBeTwoAsWell") {
  // A short year in front: the order in which the log goes on wins, a day that tells nothing is asked for.
  const auto turned = readText("time,a [W]\n26-11-30 23:59:59,40\n26-12-01 00:00:01,41\n");
  CHECK(turned.refusal.empty());
  CHECK(turned.facts.lengthS == 2);
  CHECK(startText(turned.facts) == "2026-11-30T23:59:59");
  CHECK(readText("time,a [W]\n26-11-30 09:30:00,40\n26-11-30 09:30:01,41\n").refusal.find("--time") !=
        std::string::npos);
  CHECK(readText("time,a [W]\n13-02-45 09:30:00,40\n13-02-45 09:30:01,41\n").refusal.empty());  // no 45th day
  CHECK(readText("time,a [W]\n05-04-2026 09:30:00,40\n05-04-2026 09:30:01,41\n").refusal.find("--time") !=
        std::string::npos);
  // From 1 December to 2 December, not from 12 January to 12 February.
  CHECK(readText("time,a\n12-01-2026 23:59:59,1\n12-02-2026 00:00:01,2\n").kept.times[1] == 2);
  CHECK(startText(readText("time,a\n12-01-2026 23:59:59,1\n12-02-2026 00:00:01,2\n").facts) == "2026-12-01T23:59:59");
  CHECK(readText("time,a\n11-29-2026 09:00:00,1\n11-29-2026 09:00:01,2\n").facts.rows == 2);
  // Points stand day first.
  CHECK(readText("time,a\n05.04.2026 09:30:00,40\n05.04.2026 09:30:01,41\n").facts.rows == 2);
}

TEST_CASE("aPatternFindsTheColumnsThatAreWrittenSo") {
  ImportWishes wishes;
  wishes.time = "YYYYMMDD-hhmmss";
  const Read one = readText("n,stamp,a\n7,20260504-093000,1\n7,20260504-093002,2\n", wishes);
  INFO(one.refusal);
  REQUIRE(one.refusal.empty());
  CHECK(one.facts.timeNames == std::vector<std::string>{"stamp"});
  CHECK(one.facts.startsS == 1777887000);
  CHECK(one.kept.times[1] == 2);
  wishes.time = "MM/DD/YYYY hh:mm:ss AM";
  const Read two = readText("Date,Time,a\n05/04/2026,09:30:00 AM,1\n05/04/2026,09:30:03 AM,2\n", wishes);
  CHECK(two.facts.timeNames == std::vector<std::string>{"Date", "Time"});
  CHECK(two.kept.times[1] == 3);
  CHECK(readText("time,a\n0,1\n1,2\n", wishes).refusal.find("No column of ") == 0);
}

TEST_CASE("columnsAreSaidByTheHeaderAsItStandsToo") {
  ImportWishes wishes;
  wishes.map["Sensor 7 [°C]"] = {"coolant.temp", ""};
  wishes.skip = {"Sensor 8 [°C]"};
  const Read read = readText("time,Sensor 7 [°C],Sensor 8 [°C]\n0,40,1\n1,41,2\n", wishes);
  INFO(read.refusal);
  REQUIRE(read.refusal.empty());
  CHECK(read.kept.names == std::vector<std::string>{"coolant.temp"});
}

TEST_CASE("numbersWithBlanksBetweenAreRead") {
  const Read read = readText("t cpu fan\n0.5 41.5 900\n1.25 142.25 91\n10 3 1000\n");
  REQUIRE(read.refusal.empty());
  REQUIRE(read.kept.rows.size() == 3);
  CHECK(read.kept.rows[1] == std::vector<double>{142.25, 91});
  CHECK(read.kept.times == std::vector<double>{0, 0.75, 9.5});
}

TEST_CASE("whereALogStartsIsToldWithItsZone") {
  CHECK(startText(readText("time,a\n2026-05-04T09:30:00+02:00,1\n2026-05-04T09:30:01+02:00,2\n").facts) ==
        "2026-05-04T07:30:00Z");
  CHECK(startText(readText("time,a\n2026-05-04 09:30:00,1\n2026-05-04 09:30:01,2\n").facts) == "2026-05-04T09:30:00");
  CHECK(startText(readText("time,a\n1777887000,1\n1777887001,2\n").facts) == "2026-05-04T09:30:00Z");
  CHECK(startText(readText("time,a\n0,1\n1,2\n").facts).empty());
}

TEST_CASE("zerosOfAPowerCutAreTold") {
  const Read read = readText("time,a\n0,1\n1,2\n" + std::string(512, '\0') + "2,3\n");
  CHECK(read.facts.rows == 3);
  CHECK(hasProblem(read, ProblemKind::Damaged));
}

TEST_CASE("manyNamesThatStandStillAreRefusedBeforeTheyFillTheMemory") {
  std::string text = "time;name;value\n";
  for (int i = 0; i < 60'000; ++i) text += "7;n" + std::to_string(i % 500) + ";" + std::to_string(i) + "\n";
  CHECK(readText(text + "8;n0;1\n").facts.rows == 121);
  std::string still;
  for (int i = 0; i < 20'000; ++i) still += "7;n0;1\n7;n1;1\n";
  CHECK(readText("time;name;value\n" + still).refusal.empty());
  for (int i = 0; i < 500; ++i) still += "7;m" + std::to_string(i) + ";1\n";
  CHECK(readText("time;name;value\n" + still).refusal.find("time stands still") != std::string::npos);
}

TEST_CASE("unitsThatStandInTheCellsAreTheirColumns") {
  const Read read = readText(
      "Zeit;CPU Temperatur;CPU Takt;Fan CPU;Note\n0;41,5 °C;4,2 GHz;1 200 RPM;ok\n1;42,5 °C;3900 MHz;1 210 RPM;ok\n2;– "
      ";4,1 GHz;1 220 RPM;ok\n"
      "3;43,5 W;4,0 GHz;1 230 RPM;ok\n");
  INFO(read.refusal);
  REQUIRE(read.facts.rows == 4);
  CHECK(read.facts.columns[0].column.unitText == "°C");
  CHECK(read.facts.columns[0].column.role == "cpu.temp");
  CHECK(read.facts.columns[0].taken == 2);
  CHECK(read.facts.columns[0].refused == 1);  // a temperature in watts
  const auto column = [&](const char* name) {
    const auto at = std::find(read.kept.names.begin(), read.kept.names.end(), name);
    REQUIRE(at != read.kept.names.end());
    return static_cast<size_t>(at - read.kept.names.begin());
  };
  CHECK(read.kept.rows[0][column("cpu.temp")] == 41.5);
  CHECK(std::isnan(read.kept.rows[2][column("cpu.temp")]));
  CHECK(read.kept.rows[1][column("cpu.clock")] == 3900);
  CHECK(read.kept.rows[2][column("cpu.clock")] == Approx(4100));
  CHECK(read.kept.rows[0][column("fan.cpu")] == 1200);
}

TEST_CASE("namesOfRailsAreNoReadings") {
  const Read read = readText("time,12V,+5 V,3.3V\n0,12.1,5.02,3.31\n1,12.0,5.01,3.30\n2,12.1,5.02,3.31\n");
  INFO(read.refusal);
  CHECK(read.facts.headerLine == 1);
  CHECK(read.facts.rows == 3);
  CHECK(read.kept.names[0] == "12V");
}

TEST_CASE("whatALogCannotTellIsSaid") {
  const auto wanting = [](const char* text) { return whatItCannotTell(readText(text).facts); };
  CHECK(wanting("time,CPU [°C],CPU power [W],Room [°C]\n0,40,9,22\n1,41,9,22\n").empty());
  CHECK(wanting("time,CPU [°C],CPU power [W]\n0,40,9\n1,41,9\n").size() == 1);
  CHECK(wanting("time,CPU [°C]\n0,40\n1,41\n").size() == 2);
  // A column without a single value is none.
  CHECK(wanting("time,CPU [°C],CPU power [W],Room [°C]\n0,40,9,-\n1,41,9,-\n").size() == 1);
  // Of a temperature that means nothing there is nothing to say over a room.
  const auto none = wanting("time,Probe 7 [°C],CPU power [W]\n0,40,9\n1,41,9\n");
  REQUIRE(none.size() == 1);
  CHECK(none[0].find("No temperature") == 0);
}

TEST_CASE("monthsMayBeWords") {
  for (const char* stamp : {"14-Nov-2026 19:04:0%d", "14 November 2026 19:04:0%d", "Sat 14. Nov 2026 19:04:0%d",
                            "14. nov. 2026, 19:04:0%d", "2026-Nov-14 19:04:0%d", "Nov 14 2026 7:04:0%d PM"}) {
    std::string text = "Date;CPU [°C]\n";
    for (int i = 0; i < 5; ++i) {
      char line[80];
      snprintf(line, sizeof line, stamp, i);
      text += std::string(line) + ";41.5\n";
    }
    const Read read = readText(text);
    INFO(stamp << ": " << read.refusal);
    CHECK(read.facts.rows == 5);
    CHECK(read.facts.intervalS == 1);
    CHECK(startText(read.facts) == "2026-11-14T19:04:00");
  }
  CHECK(readText("Date;a\n31-Feb-2026 10:00:00;1\n31-Feb-2026 10:00:01;2\n").facts.rows == 0);
  CHECK(startText(readText("Datum;a\n3. März 2026 10:00:00;1\n3. März 2026 10:00:01;2\n").facts) ==
        "2026-03-03T10:00:00");
}
