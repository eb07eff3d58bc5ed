// SPDX-License-Identifier: GPL-3.0-or-later
// A load written as a line and read again is the same load.
#include <catch2/catch.hpp>
#include <random>

#include "load/load_text.h"

using namespace ash;

TEST_CASE("aLoadAsALineIsReadAsItself") {
  for (const char* line : {"vector", "vector threads=6 duty=50", "integer work=900000", "vector work=0.25",
                           "memory pattern=triad", "graphics size=640x360", "vector cores=0-3,6", "vector + graphics",
                           "integer passes=3 pass_work=0.5 + storage", "vector steps=\"25% 60s, 50%..100% 120s, 80%\"",
                           "command command=\"sh ./render --on gpu\" repeats=2 score.fps=\"fps ([0-9]+)\""}) {
    INFO(line);
    const auto load = parseLoadText(line);
    REQUIRE(load);
    const std::string written = loadText(*load);
    INFO(written);
    const auto again = parseLoadText(written);
    REQUIRE(again);
    CHECK(loadToJson(*again) == loadToJson(*load));
  }
  CHECK(loadText(*parseLoadText("integer   work=900000  duty=100")) == "integer work=900000");
}

TEST_CASE("aCommandOfAnyCharactersIsReadAsItself") {
  std::mt19937 random(7);
  const std::string letters = "ab \t\"'\\$={}+;|é";
  for (int round = 0; round < 500; ++round) {
    LoadOptions load;
    load.kind = LoadKind::Command;
    const size_t length = 1 + random() % 12;
    for (size_t i = 0; i < length; ++i) load.command += letters[random() % letters.size()];
    load.environment["NAME"] = load.command;
    INFO(load.command);
    const auto again = parseLoadText(loadText(load));
    if (!again) FAIL(again.error().message);
    CHECK(again->command == load.command);
    CHECK(again->environment == load.environment);
  }
}
