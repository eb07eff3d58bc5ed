// SPDX-License-Identifier: GPL-3.0-or-later
// Logs as they really come: dates of every order, midnight, power cuts, long files read in pieces.
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <cmath>

#include "exchange/csv_cells.h"
#include "exchange/csv_read.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

Log readText(const std::string& text) {
  auto log = parseCsvLog(text, "f.csv");
  INFO(text.substr(0, 200));
  if (!log) FAIL(log.error().message);
  return *log;
}

std::vector<std::string> kinds(const Log& log) {
  std::vector<std::string> all;
  for (const Problem& problem : log.problems) all.emplace_back(problem.kind.text());
  return all;
}

std::vector<double> times(const std::string& first, const std::string& second) {
  return readText("timestamp,cpu.temp [°C]\n" + first + ",34\n" + second + ",35\n").timeS;
}

}  // namespace

TEST_CASE("datesWithSlashesAreReadInTheOrderThatFits") {
  using Times = std::vector<double>;
  CHECK(times("25/05/2026 10:00:00", "25/05/2026 10:00:02") == Times{0, 2});
  CHECK(times("05/25/2026 10:00:00", "05/25/2026 10:00:02") == Times{0, 2});
  // Either order will do within a day; over midnight a log goes on after a day and not after a month.
  CHECK(times("03/04/2026 23:59:59", "04/04/2026 00:00:01") == Times{0, 2});
  CHECK(times("03/04/2026 23:59:59", "03/05/2026 00:00:01") == Times{0, 2});
  CHECK(times("4.5.26 7:30", "4.5.26 7:31") == Times{0, 60});
}

TEST_CASE("clocksOfTwelveHoursAndMidnightGoOn") {
  using Times = std::vector<double>;
  CHECK(times("5/4/2026 11:59:58 AM", "5/4/2026 12:00:03 PM") == Times{0, 5});
  CHECK(times("11:59:59 pm", "12:00:01 am") == Times{0, 2});
  const Log log = readText("time,cpu.temp [°C]\n23:59:59,34\n00:00:01,35\n00:00:03,36\n");
  CHECK(log.timeS == Times{0, 2, 4});
  CHECK(kinds(log).empty());
}

TEST_CASE("aDateAndATimeOfDayInColumnsOfTheirOwnAreOneStamp") {
  const Log log = readText("Date,Time,cpu.temp [°C]\n04.05.2026,23:59:58,34\n05.05.2026,00:00:03,35\n");
  CHECK(log.timeS == std::vector<double>{0, 5});
  REQUIRE(log.channels.size() == 1);
  CHECK(log.channels[0].values[1] == 35);
}

TEST_CASE("aStampThatGoesBackCarriesOnFromTheLastGoodOne") {
  const Log log = readText("time [s],cpu.temp [°C]\n100,1\n101,2\n102,3\n50,4\n51,5\n");
  CHECK(log.timeS == std::vector<double>{0, 1, 2, 3, 4});
  REQUIRE(log.problems.size() == 1);
  CHECK(log.problems[0].kind == ProblemKind::BackwardTime);
  CHECK(log.problems[0].startS == 2);
}

TEST_CASE("zerosAfterAPowerCutAreACutLine") {
  std::string text = "time [s],cpu.temp [°C]\n0,34\n1,35\n2,3";
  text.append(3000, '\0');
  const Log log = readText(text);
  CHECK(log.timeS.size() == 2);
  CHECK(kinds(log) == std::vector<std::string>{"truncated"});
}

TEST_CASE("aLastNumberThatLostItsDecimalsIsCut") {
  const std::string rows = "time [s],cpu.temp [°C]\n0,34.25\n1,35.50\n2,35.75\n";
  CHECK(kinds(readText(rows + "3,36.1")) == std::vector<std::string>{"truncated"});
  CHECK(readText(rows + "3,36.1").timeS.size() == 3);
  CHECK(kinds(readText(rows + "3,36.12")).empty());
  CHECK(readText(rows + "3,").problems.empty());
}

TEST_CASE("recordsAreTheSameWhereverAPieceOfTheFileEnds") {
  // 256 KiB is what is read at once: quotes, CR LF and cells fall on every side of that edge.
  for (const size_t shift : {0u, 1u, 2u, 3u, 7u, 40u}) {
    std::string text = "time [s],\"cpu.temp [°C]\",note\r\n";
    text += std::string(shift, '0') + "0,34,\r\n";
    for (int i = 1; i < 30'000; ++i)
      text += fmt::format("{},{}.5,{}\r\n", i, i % 100, i % 5000 == 7 ? "\"a\r\nb\"" : "");
    const Log log = readText(text);
    REQUIRE(log.timeS.size() == 30'000);
    CHECK(log.timeS[29'999] == 29'999);
    bool isRight = true;
    for (size_t i = 1; i < 30'000; ++i) isRight &= log.channels[0].values[i] == static_cast<double>(i % 100) + 0.5;
    CHECK(isRight);
    CHECK(kinds(log).size() == 6);                       // the notes are no numbers
    CHECK(log.problems[1].text.find("Line 5010") == 0);  // after one record of two lines
  }
}

TEST_CASE("aQuoteThatIsNeverClosedDoesNotSwallowTheTimeOrTheMemory") {
  std::string text = "time [s],cpu.temp [°C]\n0,34\n1,\"35\n";
  for (int i = 2; i < 400'000; ++i) text += fmt::format("{},36.25\n", i);
  const Log log = readText(text);
  CHECK(log.timeS.size() == 400'000);
  CHECK(log.problems.empty());
  CHECK(kinds(readText("time [s],cpu.temp [°C]\n0,34\n1,\"35")) == std::vector<std::string>{"truncated"});
}

TEST_CASE("oldLineEndsAndBlankLinesAreReadToo") {
  CHECK(readText("time [s],cpu.temp [°C]\r0,34\r1,35\r").timeS.size() == 2);
  CHECK(readText("\n\ntime [s],cpu.temp [°C]\n\n0,34\n \n1,35\n").timeS.size() == 2);
}

TEST_CASE("plainNumbersAreRoundedCorrectly") {
  const auto plain = [](const std::string& cell, char mark = '.') {
    double value = kMissing;
    return readPlainNumber(cell.data(), cell.data() + cell.size(), mark, value) ? value : kMissing;
  };
  // Against the compiler's own correctly rounded literals.
  CHECK(plain("34.123456789012") == 34.123456789012);
  CHECK(plain("0.1") == 0.1);
  CHECK(plain("-273.15") == -273.15);
  CHECK(plain("+8") == 8);
  CHECK(plain("9007199254740991") == 9007199254740991.0);
  CHECK(plain("1,5", ',') == 1.5);
  CHECK(plain(".5") == 0.5);
  for (const char* other : {"", "-", ".", "1e3", "12a", "1.2.3", "9007199254740993", "0x1", " 1"}) {
    INFO(other);
    CHECK(std::isnan(plain(other)));
  }
}

TEST_CASE("aFileIsReadLikeItsText") {
  const tests::TempFolder folder;
  const std::string rows =
      "time [s];cpu.temp [\xB0"
      "C];cpu.power [W]\n0;34,5;80\n1;35,25;81\n";
  const auto log = readCsvLog(folder.write("latin.csv", rows));
  REQUIRE(log);
  CHECK(log->channels[0].unit == "°C");
  CHECK(log->channels[0].values[1] == 35.25);
  const auto marked = readCsvLog(folder.write("marked.csv", "\xEF\xBB\xBFtime [s],cpu.temp [°C]\n0,34\n"));
  REQUIRE(marked);
  CHECK(marked->channels[0].name == "cpu.temp");
  CHECK_FALSE(readCsvLog(folder.write("empty.csv", "")));
  CHECK(readCsvLog(folder.write("binary.csv", std::string("\x7F"
                                                          "ELF\0\0\1\2\0rest",
                                                          12)))
            .error()
            .message.find("binary") != std::string::npos);
}
