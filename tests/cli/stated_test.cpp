// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg stated`: written down, held beside the result, and not changed in silence once there is one.
#include <catch2/catch.hpp>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("anExpectationIsWrittenBeforeTheRunAndShowsWhenItIsChangedAfter") {
  const Bench bench;
  const std::string run =
      "run --book b.ashbook --study s --setup x --sim larch12 --speed 100000 --seed 1 --phases 'idle 1min, soak 8min, "
      "measure 4min' --load vector";
  REQUIRE(bench.ashg(run).status == 0);
  // Of another setup nothing is measured yet.
  REQUIRE(bench.ashg("book info b.ashbook --json").status == 0);
  const Ran refused = bench.ashg("stated 's / y' 'CPU over room 40 to 45 K' --book b.ashbook");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("s / x") != std::string::npos);
  REQUIRE(bench.ashg("stated 's / x' 'CPU over room 1 to 2 K' --book b.ashbook").status == 0);
  REQUIRE(bench.ashg("stated s/x 'CPU over room 3 to 200 K' --book b.ashbook").status == 0);
  REQUIRE(bench.ashg("stated s/x 'claimed by the maker: CPU over room 1 K' --book b.ashbook").status == 0);
  const Json listed = parseObject(bench.ashg("stated --study s --book b.ashbook --json").out);
  REQUIRE(listed["stated"].size() == 2);
  CHECK(listed["stated"][0]["low"] == 3);
  REQUIRE(listed["stated"][0]["before"].size() == 1);
  CHECK(listed["stated"][0]["before"][0]["low"] == 1);
  const std::string history = listed["stated"][0]["history"];
  CHECK(history.find("after the first run of it had begun") != std::string::npos);
  REQUIRE(listed["outcomes"].size() == 2);
  CHECK(listed["outcomes"][0]["outcome"] == "as expected");
  CHECK(std::string(listed["outcomes"][1]["outcome"]).find("higher") != std::string::npos);
  // Taken back, with a result there: it stays and says so.
  REQUIRE(bench.ashg("stated --study s --take-back 1 --book b.ashbook").status == 0);
  CHECK(bench.ashg("stated --study s --take-back 3 --book b.ashbook").status == 2);
  const Json after = parseObject(bench.ashg("stated --study s --book b.ashbook --json").out);
  REQUIRE(after["stated"].size() == 2);
  CHECK(after["stated"][0].contains("taken_back"));
  CHECK(bench.ashg("stated 's / x' --book b.ashbook").status == 2);
  CHECK(bench.ashg("stated 's / x' 'nothing at all' --book b.ashbook").err.find("names no figure") !=
        std::string::npos);
  // The page shows it.
  REQUIRE(bench.ashg("report s --book b.ashbook --to out").status == 0);
}
