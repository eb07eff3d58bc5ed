// SPDX-License-Identifier: GPL-3.0-or-later
#include <catch2/catch.hpp>

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
