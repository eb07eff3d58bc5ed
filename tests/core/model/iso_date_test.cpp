// SPDX-License-Identifier: GPL-3.0-or-later
// Calendar and lists of processors, against what `date` and the kernel's documents say.
#include "model/iso_date.h"

#include <catch2/catch.hpp>
#include <ctime>

#include "model/cpu_list.h"

using namespace ash;

TEST_CASE("everyDayOfFourCenturiesIsTheOneOfTheSystemsCalendar") {
  int known = 0;
  for (int year = 1970; year < 2371; ++year) {
    for (int month = 1; month <= 12; ++month) {
      for (int day = 1; day <= 31; ++day) {
        std::tm time{};
        time.tm_year = year - 1900;
        time.tm_mon = month - 1;
        time.tm_mday = day;
        const std::time_t seconds = timegm(&time);
        const auto ours = daySeconds(year, month, day);
        // timegm() carries a day that is too late into the next month.
        const bool isThere = time.tm_mday == day;
        if (ours.has_value() != isThere || (ours && *ours != static_cast<double>(seconds))) {
          CAPTURE(year, month, day);
          CHECK(ours.has_value() == isThere);
          FAIL("another day than the system's");
        }
        known += isThere;
      }
    }
  }
  CHECK(known == 146097 + 365);  // 400 Gregorian years, and 2370
}

TEST_CASE("momentsAreReadWithTheirZone") {
  // `date -u -d '2026-05-04T07:30:00Z' +%s` is 1777879800.
  for (const char* same : {"2026-05-04T09:30:00+02:00", "2026-05-04T07:30:00Z", "2026-05-04T07:30:00",
                           "2026-05-04T02:00:00-0530", "2026-05-04T07:30:00.250Z", "2026-05-04T09:30:00,9+02"}) {
    INFO(same);
    CHECK(isoSeconds(same) == 1777879800.0);
  }
  for (const char* wrong : {"", "yesterday", "2026-02-31T10:00:00", "2026-05-04T24:00:00", "2026-05-04T10:60:00",
                            "2026-05-04", "2026-05-04T07:30:00 somewhere", "-1-01-01T00:00:0"}) {
    INFO(wrong);
    CHECK_FALSE(isoSeconds(wrong));
  }
}

TEST_CASE("processorsAreListedAsTheKernelListsThem") {
  CHECK(parseCpuRange("6", 8191) == std::pair(6, 6));
  CHECK(parseCpuRange(" 0-3 ", 8191) == std::pair(0, 3));
  for (const char* wrong : {"", "-", "-1", "3-1", "0-8192", "1-", "x", "1-2-3", "0x3", "99999999999", "1.5"}) {
    INFO(wrong);
    CHECK_FALSE(parseCpuRange(wrong, 8191));
  }
  CHECK(cpuListText({6, 0, 1, 2, 9, 8}) == "0-2,6,8-9");
  CHECK(cpuListText({}) == "");
}
