// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes to text, cells to numbers and times: each against values written down by hand.
#include <catch2/catch.hpp>

#include "exchange/csv_cells.h"
#include "exchange/csv_records.h"
#include "exchange/text_encoding.h"
#include "exchange/time_cell.h"

using namespace ash;

namespace {

std::string utf8(const std::string& bytes) {
  const auto text = toUtf8(bytes, "f");
  return text ? *text : "refused";
}

double secondsOf(const char* cell, bool hasDecimalComma, DayOrder order = DayOrder::DayFirst) {
  const auto time = readTimeCell(cell, hasDecimalComma, order);
  return time ? time->seconds : -1;
}

}  // namespace

TEST_CASE("windows1252IsToldByBytesThatAreNoUtf8") {
  CHECK(utf8("21 \xB0"
             "C \x80 \x96") == "21 °C € –");
  CHECK(utf8("21 °C") == "21 °C");
  CHECK(utf8("plain") == "plain");
}

TEST_CASE("utf16WithSurrogatesIsDecoded") {
  CHECK(utf8(std::string("\xFF\xFE\x3D\xD8\x25\xDD\x41\x00", 8)) == "\U0001F525A");
  CHECK(utf8(std::string("\xFE\xFF\x00\xB0\x00\x43", 6)) == "°C");
}

TEST_CASE("aUtf8CharacterCutAtTheEndIsNoOtherEncoding") { CHECK(utf8("21 °C, 5 \xC2") == "21 °C, 5 \xC2"); }

TEST_CASE("bytesWithNulsAreNoText") { CHECK(utf8(std::string("ab\0cd\0\0\0zz", 10)) == "refused"); }

TEST_CASE("quotesHoldSeparatorsNewlinesAndQuotes") {
  TextSource source("time [s],\"a \"\"b\"\", c\"\n0,\"1\n2\"\r\n\r\n3,4\n");
  CsvRecords records(source);
  std::string_view record;
  REQUIRE(records.next(record));
  CHECK(splitCells(record, ',')[1] == "a \"b\", c");
  REQUIRE(records.next(record));
  CHECK(splitCells(record, ',')[1] == "1\n2");
  REQUIRE(records.next(record));
  CHECK(splitCells(record, ',')[0] == "3");
  CHECK(records.line() == 5);
  CHECK_FALSE(records.isOpen());
  CHECK_FALSE(records.next(record));
}

TEST_CASE("theSeparatorIsTheOneOfTheHeader") {
  CHECK(detectCsvFormat("time;temp, left;temp, right\n").separator == ';');
  CHECK(detectCsvFormat("time\ttemp\n").separator == '\t');
  CHECK(detectCsvFormat("time,temp\n").separator == ',');
}

TEST_CASE("aDecimalCommaNeedsAnotherSeparator") {
  CHECK(detectCsvFormat("time;t\n0,5;1\n").hasDecimalComma);
  CHECK_FALSE(detectCsvFormat("time,t\n0,5\n").hasDecimalComma);
  CHECK_FALSE(detectCsvFormat("time;t\n0.5;1\n").hasDecimalComma);
  CHECK(readCell("-3,25", true).value == -3.25);
  CHECK_FALSE(readCell("3,25", false).value);
}

TEST_CASE("cellsAreNumbersSignsOfNothingOrWrong") {
  CHECK(readCell("1e3", false).value == 1000.0);
  CHECK(readCell("+4", false).value == 4.0);
  for (const char* nothing : {"", "NaN", "nan", "N/A", "n/a", "-"}) CHECK(readCell(nothing, false).isMissing);
  for (const char* wrong : {"warm", "1 2", "inf", "1e999", "0x10", "12°"}) {
    INFO(wrong);
    CHECK_FALSE(readCell(wrong, false).value);
    CHECK_FALSE(readCell(wrong, false).isMissing);
  }
}

TEST_CASE("timesAreSecondsWhateverTheirLayout") {
  // `date -u -d '2026-05-04T07:30:00Z' +%s` is 1777879800.
  CHECK(secondsOf("2026-05-04T09:30:00+02:00", false) == 1777879800.0);
  CHECK(secondsOf("2026-05-04T09:30:00+0200", false) == 1777879800.0);
  CHECK(secondsOf("2026-05-04 07:30:00Z", false) == 1777879800.0);
  CHECK(secondsOf("2026/05/04 07:30", false) == 1777879800.0);
  CHECK(secondsOf("04.05.2026 07:30:00,500", false) == 1777879800.5);
  CHECK(secondsOf("1970-01-01", false) == 0.0);
  CHECK(secondsOf("2024-02-29T00:00:00Z", false) == 1709164800.0);
  CHECK(secondsOf("01:02:03.5", false) == 3723.5);
  CHECK(secondsOf("12,5", true) == 12.5);
  for (const char* wrong : {"soon", "2026-13-01", "2026-05-04T25", "1:99:00", "2026-05-04T07:30:00+xx"}) {
    INFO(wrong);
    CHECK_FALSE(readTimeCell(wrong, false));
  }
}

TEST_CASE("aDayThatTheCalendarDoesNotHaveIsNoTime") {
  for (const char* wrong : {"2026-02-31", "2026-02-29", "31.04.2026 10:00", "2100-02-29T00:00:00Z", "31/02/2026",
                            "2026-00-10", "2026-06-00"}) {
    INFO(wrong);
    CHECK_FALSE(readTimeCell(wrong, false));
  }
  // `date -u -d 2028-02-29 +%s`, `date -u -d 2000-02-29 +%s`.
  CHECK(secondsOf("2028-02-29", false) == 1835395200.0);
  CHECK(secondsOf("29.02.2000", false) == 951782400.0);
}

TEST_CASE("bytesThatAreNoCharacterOfTheirEncodingAreMarked") {
  // 0x81 and 0x9D are not assigned in Windows-1252; a high surrogate alone is no character.
  CHECK(utf8("a\x81\x9D\xE9z") == "a\uFFFD\uFFFDéz");
  CHECK(utf8(std::string("\xFF\xFE\x41\x00\x3D\xD8\x42\x00", 8)) == "A\uFFFDB");
  // Half a character at the end of a file that was cut.
  CHECK(utf8(std::string("\xFF\xFE\x41\x00\x42", 5)) == "A");
}

TEST_CASE("longTextIsConvertedWhole") {
  std::string bytes, wanted;
  for (int i = 0; i < 9000; ++i) {
    bytes += i % 3 == 0 ? "\xB0" : "C";
    wanted += i % 3 == 0 ? "°" : "C";
  }
  CHECK(fromWindows1252(bytes) == wanted);
}
