// SPDX-License-Identifier: GPL-3.0-or-later
// Work that may never come back.
#include "system/patience.h"

#include <atomic>
#include <catch2/catch.hpp>

#include "system/clock.h"

using namespace ash;

TEST_CASE("workThatIsDoneInTimeGivesItsResult") {
  const auto result = within<std::string>(5, [] { return std::string("done"); });
  REQUIRE(result);
  CHECK(*result == "done");
}

TEST_CASE("workThatHangsIsLeftBehind") {
  auto isOver = std::make_shared<std::atomic<bool>>(false);
  auto hasEnded = std::make_shared<std::atomic<bool>>(false);
  const double startS = monotonicS();
  const auto result = within<int>(0.1, [isOver, hasEnded] {
    while (!*isOver) std::this_thread::sleep_for(std::chrono::milliseconds(5));
    *hasEnded = true;
    return 1;
  });
  CHECK_FALSE(result);
  CHECK(monotonicS() - startS >= 0.1);
  CHECK_FALSE(*hasEnded);  // it went on without us
  *isOver = true;
  for (int i = 0; i < 200 && !*hasEnded; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(5));
  CHECK(*hasEnded);
}
