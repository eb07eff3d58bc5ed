// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

#include "model/role.h"
#include "model/unit.h"

using namespace ash;

TEST_CASE("everyWrittenUnitIsConvertedToTheStoredOne") {
  const struct {
    const char* unit;
    double written, stored;
    Quantity quantity;
  } rows[] = {{"°F", 212, 100, Quantity::Temperature},   {"[degF]", 32, 0, Quantity::Temperature},
              {"K", 273.15, 0, Quantity::Temperature},   {"Cel", 41.5, 41.5, Quantity::Temperature},
              {"GHz", 4.6, 4600, Quantity::Clock},       {"Hz", 1.8e9, 1800, Quantity::Clock},
              {"mW", 1500, 1.5, Quantity::Power},        {"kW", 0.25, 250, Quantity::Power},
              {"Wh", 2, 7200, Quantity::Energy},         {"mV", 918, 0.918, Quantity::Voltage},
              {"{rpm}", 1200, 1200, Quantity::FanSpeed}, {"1/min", 900, 900, Quantity::FanSpeed},
              {"ratio", 0.42, 42, Quantity::Percent},    {"dB(A)", 36.5, 36.5, Quantity::Noise}};
  for (const auto& row : rows) {
    INFO(row.unit);
    const auto match = matchUnit(row.unit);
    REQUIRE(match);
    CHECK(match->quantity == row.quantity);
    CHECK(match->toStored(row.written) == Approx(row.stored).margin(1e-9));
  }
  CHECK_FALSE(matchUnit("furlong"));
}

TEST_CASE("rolesAreFoundByPatternAndKnowTheirDevice") {
  CHECK(findRole("cpu.temp")->device == "cpu");
  CHECK(findRole("gpu2.temp.hotspot")->device == "gpu2");
  CHECK(findRole("board.temp.vrm")->device == "board.vrm");
  CHECK(findRole("cpu.temp.core11")->quantity == Quantity::Temperature);
  CHECK(findRole("fan.rear.duty")->quantity == Quantity::Percent);
  CHECK(findRole("fan.rear")->quantity == Quantity::FanSpeed);
  CHECK(findRole("surface.hinge")->quantity == Quantity::Temperature);
  CHECK_FALSE(findRole("cpu.temp.core"));
  CHECK_FALSE(findRole("cpu"));
  CHECK_FALSE(findRole(""));
  CHECK_FALSE(findRole("fan."));
  CHECK_FALSE(findRole("Cpu.temp"));
}

TEST_CASE("aRoomIsNeverTheTemperatureUnderLoad") {
  CHECK(isLoadedTemperature("cpu.temp"));
  CHECK_FALSE(isLoadedTemperature("room.temp"));
  CHECK_FALSE(isLoadedTemperature("room2.temp"));
  CHECK(isRoomRole("room2.temp"));
  CHECK_FALSE(isLoadedTemperature("cpu.power"));
}

TEST_CASE("rolesHaveWordsForThePerson") {
  CHECK(plainRoleName("cpu.temp") == "Processor temperature");
  CHECK(plainRoleName("fan.rear") == "Fan speed, rear");
  CHECK(shortDeviceName("board.temp.vrm") == "VRM");
  CHECK(shortDeviceName("gpu2.temp") == "GPU2");
  CHECK(plainRoleName("no.such.role") == "no.such.role");
}
