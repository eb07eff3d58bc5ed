// SPDX-License-Identifier: GPL-3.0-or-later
// Logs as other programs write them: what is understood of each, and what is refused.
#include <zlib.h>

#include <catch2/catch.hpp>
#include <cmath>

#include "tests/support/read_log.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("aPreambleUnitsInTheHeaderAndATrailerAreTold") {
  const Read read = readText(
      "Bench log\nVersion;3\n\nDate;Time;CPU [°C];Fan (RPM);Note\n04.05.2026;09:30:00;41,5;900;start\n"
      "04.05.2026;09:30:01;42,25;910;start\n04.05.2026;09:30:02;43;920;hot\nAverage;;42,3;910;\n");
  REQUIRE(read.refusal.empty());
  CHECK(read.facts.separator == ';');
  CHECK(read.facts.decimal == ',');
  CHECK(read.facts.headerLine == 4);
  CHECK(read.facts.firstLine == 5);
  CHECK(read.facts.rows == 3);
  CHECK(read.facts.timeNames == std::vector<std::string>{"Date", "Time"});
  // 2026-05-04T09:30:00 is so many seconds after 1970 (date -u -d).
  CHECK(read.facts.startsS == 1777887000);
  CHECK(read.facts.intervalS == 1);
  CHECK(roleOf(read, "CPU") == "cpu.temp");
  CHECK(columnOf(read, "CPU").column.unitText == "°C");
  CHECK(read.kept.rows[1][0] == 42.25);
  CHECK(read.kept.events == std::vector<std::string>{"0 Note: start", "2 Note: hot"});
  CHECK(hasProblem(read, ProblemKind::BadCell));  // the trailer
}

TEST_CASE("aRowOfUnitsBelongsToTheHeader") {
  const Read read = readText("Elapsed,Package power,Room\ns,W,°F\n0,65.1,71.6\n0.5,65.3,71.6\n1.0,65.2,73.4\n");
  REQUIRE(read.refusal.empty());
  CHECK(read.facts.headerLine == 1);
  CHECK(read.facts.firstLine == 3);
  CHECK(roleOf(read, "Package power") == "cpu.power");
  CHECK(roleOf(read, "Room") == "room.temp");
  // (71.6 − 32) · 5/9 = 22.
  CHECK(read.kept.rows[0][1] == Approx(22));
  CHECK(read.facts.intervalS == 0.5);
}

TEST_CASE("timesOfManyKindsAreRead") {
  const auto startOf = [](const std::string& first, const std::string& second, const ImportWishes& wishes = {}) {
    const Read read = readText("time,load\n" + first + ",1\n" + second + ",2\n", wishes);
    INFO(first << " " << read.refusal);
    REQUIRE(read.refusal.empty());
    return std::pair(read.facts.startsS, read.kept.times[1]);
  };
  constexpr double kMay4 = 1777887000;  // 2026-05-04T09:30:00, date -u
  CHECK(startOf("2026-05-04T09:30:00.5", "2026-05-04T09:30:01.5") == std::pair(std::optional(kMay4 + 0.5), 1.0));
  CHECK(startOf("2026/05/04 09:30:00", "2026/05/04 09:30:02") == std::pair(std::optional(kMay4), 2.0));
  CHECK(startOf("1777887000", "1777887001.25") == std::pair(std::optional(kMay4), 1.25));
  CHECK(startOf("1777887000000", "1777887000500").second == 0.5);
  CHECK(startOf("9:30:00 AM", "9:30:01 AM") == std::pair(std::optional<double>(), 1.0));
  // Past noon and past midnight.
  CHECK(startOf("12:59:59 PM", "1:00:01 PM").second == 2);
  CHECK(startOf("23:59:59", "00:00:01").second == 2);
  ImportWishes american;
  american.time = "MM/DD/YYYY hh:mm:ss AM";
  CHECK(startOf("05/04/2026 09:30:00 AM", "05/04/2026 09:30:03 AM", american) == std::pair(std::optional(kMay4), 3.0));
  // A day that goes on tells which order it is: from 4 May to 5 May, not from 5 April to 5 May.
  CHECK(startOf("05/04/2026 23:59:59", "05/05/2026 00:00:01").second == 2);
}

TEST_CASE("aDayThatMayBeTwoIsAskedFor") {
  const Read read = readText("time,CPU [°C]\n05/04/2026 09:30:00,40\n05/04/2026 09:30:01,41\n");
  CHECK(read.refusal.find("--time") != std::string::npos);
  CHECK(readText("time,CPU [°C]\n05/14/2026 09:30:00,40\n05/14/2026 09:30:01,41\n").refusal.empty());
}

TEST_CASE("milliesAndMinutesInTheHeaderAreHonoured") {
  CHECK(readText("time [ms],a\n0,1\n500,2\n1000,3\n").facts.intervalS == 0.5);
  CHECK(readText("time [min],a\n0,1\n0.5,2\n1,3\n").facts.intervalS == 30);
}

TEST_CASE("stampsCoarserThanRowsAreSpreadEvenly") {
  const Read read = readText("time,a\n10:00:00,1\n10:00:00,2\n10:00:01,3\n10:00:01,4\n10:00:02,5\n10:00:02,6\n");
  CHECK(read.facts.rows == 6);
  CHECK(read.kept.times == std::vector<double>{0, 0.5, 1, 1.5, 2, 2.5});
  CHECK(hasProblem(read, ProblemKind::RepeatedTime));
}

TEST_CASE("numbersOfAllKindsAreRead") {
  const Read read = readText(
      "time;a\n0;1.234.567,5\n1;+3,5\n2;1 234,5\n3;-1,5e-3\n4;\"7,25\"\n5;NaN\n6;n/a\n7;∞\n8;--\n9;abc\n10;2,5\n");
  REQUIRE(read.refusal.empty());
  std::vector<double> all;
  for (const auto& row : read.kept.rows) all.push_back(row[0]);
  CHECK(std::vector<double>(all.begin(), all.begin() + 5) ==
        std::vector<double>{1234567.5, 3.5, 1234.5, -0.0015, 7.25});
  for (size_t i = 5; i < 10; ++i) CHECK(std::isnan(all[i]));
  const ColumnFacts& facts = columnOf(read, "a");
  CHECK(facts.taken == 6);
  CHECK(facts.refused == 1);
  CHECK(facts.firstRefused->line == 11);
  CHECK(facts.firstRefused->column == 2);
  CHECK(facts.firstRefused->text == "abc");
}

TEST_CASE("wordsOfAStateAreOnesAndZeros") {
  const Read read = readText("time,Fan on,Mode\n0,Yes,Silent\n1,No,Silent\n2,Yes,Loud\n");
  CHECK(columnOf(read, "Fan on").column.storedUnit() == "state");
  CHECK(read.kept.rows[0][0] == 1);
  CHECK(read.kept.rows[1][0] == 0);
  CHECK(read.kept.events == std::vector<std::string>{"0 Mode: Silent", "2 Mode: Loud"});
}

TEST_CASE("otherSeparatorsAndFixedWidthAreFound") {
  CHECK(readText("time\tCPU °C\n0\t40,5\n1\t41,5\n").kept.rows[1][0] == 41.5);
  CHECK(readText("time|CPU [°C]\n0|40.5\n1|41.5\n").facts.separator == '|');
  const Read fixed = readText(
      "   time  CPU temp  fan rpm\n    0.0      41.5      900\n    1.0      42.5      910\n    2.0     101.5     "
      "1020\n");
  REQUIRE(fixed.refusal.empty());
  CHECK(fixed.facts.separator == 0);
  CHECK(factsToJson(fixed.facts)["separator"].is_null());
  REQUIRE(fixed.kept.rows.size() == 3);
  CHECK(fixed.kept.rows[2] == std::vector<double>{101.5, 1020});
}

TEST_CASE("aHeaderInTheMiddleAndDoubleNamesAreLivedWith") {
  const Read read = readText("time,a,a\n0,1,2\n1,3,4\ntime,a,a\n2,5,6\n");
  CHECK(read.facts.rows == 3);
  CHECK(read.facts.columns[0].column.name == "a");
  CHECK(read.facts.columns[1].column.name == "a (2)");
  CHECK(read.kept.rows[2] == std::vector<double>{5, 6});
}

TEST_CASE("encodingsPackedFilesAndPowerCutsAreRead") {
  const std::string text = "time;Room [°C]\n0;21,5\n1;22,5\n2;23,5\n";
  std::string wide;
  for (const char c : std::string("time;Room [C]\n0;21,5\n1;22,5\n")) wide += {c, '\0'};
  CHECK(readText("\xFF\xFE" + wide).facts.encoding == "utf-16");
  const Read windows = readText(
      "time;Room [\xB0"
      "C]\n0;21,5\n1;22,5\n");
  CHECK(windows.facts.encoding == "windows-1252");
  CHECK(roleOf(windows, "Room") == "room.temp");
  const Read cut = readText(text + std::string(3000, '\0') + "3;24,5\n4;2");
  CHECK(cut.facts.rows >= 4);
  CHECK(cut.kept.rows[3][0] == 24.5);
  const TempFolder folder;
  const std::string path = folder.path("log.csv.gz");
  gzFile packed = gzopen(path.c_str(), "wb");
  gzwrite(packed, text.data(), static_cast<unsigned>(text.size()));
  gzclose(packed);
  const auto facts = readForeignLog(path, {}, nullptr);
  REQUIRE(facts);
  CHECK(facts->rows == 3);
}

TEST_CASE("rolesAreSaidRememberedOrByRuleAndNeverGuessed") {
  const std::string text =
      "time,CPU Core #1 [°C],CPU Core #2 [°C],GPU Hot Spot [°C],Pump [RPM],Case Fan #1 [RPM],GPU Power [W],Sensor 7 "
      "[°C],"
      "CPU temperature [W],T1\n0,1,2,3,4,5,6,7,8,9\n1,1,2,3,4,5,6,7,8,9\n";
  const Read read = readText(text);
  CHECK(roleOf(read, "CPU Core #1") == "cpu.temp.core1");
  CHECK(roleOf(read, "CPU Core #2") == "cpu.temp.core2");
  CHECK(roleOf(read, "GPU Hot Spot") == "gpu.temp.hotspot");
  CHECK(roleOf(read, "Pump") == "pump");
  CHECK(roleOf(read, "Case Fan #1") == "fan.1");
  CHECK(roleOf(read, "GPU Power") == "gpu.power");
  CHECK(roleOf(read, "Sensor 7").empty());
  CHECK(columnOf(read, "Sensor 7").column.why == RoleReason::None);
  // A name and a unit that contradict each other.
  CHECK(roleOf(read, "CPU temperature").empty());
  CHECK_FALSE(columnOf(read, "CPU temperature").column.doubt.empty());
  ImportWishes wishes;
  wishes.map["Sensor 7"] = {"coolant.temp", ""};
  wishes.earlier["T1"] = {"room.temp", "°F"};
  wishes.skip = {"Pump"};
  const Read said = readText(text, wishes);
  CHECK(roleOf(said, "Sensor 7") == "coolant.temp");
  CHECK(columnOf(said, "Sensor 7").column.why == RoleReason::Map);
  CHECK(columnOf(said, "T1").column.why == RoleReason::Earlier);
  CHECK(said.kept.rows[0].back() == Approx((9 - 32) * 5.0 / 9));
  CHECK(said.kept.rows[0].size() == read.kept.rows[0].size() - 1);
  wishes.map["nowhere"] = {"cpu.temp", ""};
  CHECK(readText(text, wishes).refusal.find("there is no column \"nowhere\"") != std::string::npos);
}

TEST_CASE("twoColumnsThatARuleTakesForTheSameHaveNoRole") {
  const Read read = readText("time,CPU [°C],CPU Temp [°C],GPU [°C]\n0,1,2,3\n1,1,2,3\n");
  CHECK(roleOf(read, "CPU").empty());
  CHECK(roleOf(read, "CPU Temp").empty());
  CHECK(roleOf(read, "GPU") == "gpu.temp");
  CHECK(columnOf(read, "CPU").column.doubt.find("--map") != std::string::npos);
}

TEST_CASE("whatIsNoLogIsRefusedInOneSentence") {
  CHECK(readText("").refusal.find("is empty") != std::string::npos);
  CHECK(readText("Dear reader,\nthis is a letter.\n").refusal.starts_with("There is no log in "));
  CHECK(readText(std::string("\x89PNG\r\n\x1A\n\0\0\0\rIHDR\0\1\2\3\4\5\6", 24)).refusal.find("binary") !=
        std::string::npos);
  CHECK(readText(std::string("PK\3\4\x14\0\0\0", 8)).refusal.find("is a zip file: unpack it") != std::string::npos);
  CHECK(readText("time,a\n0,1\n").refusal.starts_with("There is no log in "));
  CHECK(readText("name,value\nalpha,1\nbeta,2\n").refusal.find("--time") != std::string::npos);
  const TempFolder folder;
  CHECK(readForeignLog(folder.path(), {}, nullptr).error().message.find("is a folder") != std::string::npos);
  CHECK_FALSE(readForeignLog(folder.path("gone.csv"), {}, nullptr));
}

TEST_CASE("readingEndsWhenItIsGivenUp") {
  std::string text = "time,a\n";
  for (int i = 0; i < 20'000; ++i) text += std::to_string(i) + ",1\n";
  const TempFolder folder;
  const std::string path = folder.write("log.csv", text);
  int told = 0;
  const auto facts = readForeignLog(path, {}, nullptr, [&](double) { return ++told < 2; });
  REQUIRE_FALSE(facts);
  CHECK(facts.error().message == "It was given up: nothing of the log was kept.");
  CHECK(told == 2);
}

TEST_CASE("aPatternOfTimeIsCheckedBeforeItIsUsed") {
  CHECK_FALSE(TimePattern::parse("DD/MM hh:mm"));
  CHECK_FALSE(TimePattern::parse("DD/MM/YYYY"));
  CHECK_FALSE(TimePattern::parse("hh:mm:ss hh"));
  CHECK_FALSE(TimePattern::parse("hello"));
  const auto pattern = TimePattern::parse("DD.MM.YY hh:mm:ss.f");
  REQUIRE(pattern);
  CHECK(pattern->read("04.05.26 09:30:00.25") == 1777887000.25);
  CHECK(pattern->read("04.05.26 09:30:00") == 1777887000.0);
  CHECK_FALSE(pattern->read("04.13.26 09:30:00"));
  CHECK_FALSE(pattern->read("04.05.26 25:30:00"));
}

TEST_CASE("oneReadingALineBecomesOneRowAMoment") {
  std::string text = "time;sensor;value;unit\n";
  for (int i = 0; i < 5; ++i) {
    const std::string at = "29.11.2026 19:04:0" + std::to_string(i) + ";";
    text += at + "CPU temperature;4" + std::to_string(i) + ",5;°C\n" + at + "CPU fan;90" + std::to_string(i) + ";RPM\n";
    if (i > 2) text += at + "Room;22,5;°C\n";  // it comes later
  }
  const Read read = readText(text);
  REQUIRE(read.refusal.empty());
  CHECK(read.kept.names == std::vector<std::string>{"cpu.temp", "fan.cpu", "room.temp"});
  CHECK(read.facts.rows == 5);
  CHECK(read.kept.rows[4] == std::vector<double>{44.5, 904, 22.5});
  CHECK(std::isnan(read.kept.rows[0][2]));
  CHECK(columnOf(read, "Room").taken == 2);
  ImportWishes wishes;
  wishes.map["Room"] = {"case.temp", ""};
  wishes.skip = {"CPU fan"};
  const Read said = readText(text, wishes);
  CHECK(said.kept.names == std::vector<std::string>{"cpu.temp", "case.temp"});
  // Without a unit, and with the stamp of each line its own.
  const Read bare = readText("t,name,reading\n0,a [W],1\n0.1,b,2\n1,a [W],3\n1.1,b,4\n2,a [W],5\n2.1,b,x\n");
  REQUIRE(bare.refusal.empty());
  CHECK(bare.kept.names == std::vector<std::string>{"a", "b"});
  CHECK(bare.facts.rows == 6);
  CHECK(columnOf(bare, "b").firstRefused->line == 7);
  CHECK(columnOf(bare, "b").firstRefused->column == 3);
}

TEST_CASE("aModeThatLastsIsNoNameOfAReading") {
  const Read read = readText("time,Power [W],Mode\n0,1,quiet\n1,2,quiet\n2,3,quiet\n3,4,loud\n4,5,loud\n5,6,loud\n");
  CHECK(read.kept.names == std::vector<std::string>{"Power"});
  CHECK(read.kept.events.size() == 2);
}
