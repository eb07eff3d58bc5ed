// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/unit.h"

#include <array>
#include <utility>

namespace ash {
namespace {

struct UnitRow {
  std::string_view text;
  UnitMatch match;
};

constexpr double kZeroCelsiusInKelvin = 273.15;

// Trade spellings first, UCUM codes (The Unified Code for Units of Measure, case sensitive) after them.
constexpr std::array kUnits = {
    UnitRow{"°C", {Quantity::Temperature, 1, 0}},
    UnitRow{"C", {Quantity::Temperature, 1, 0}},
    UnitRow{"degC", {Quantity::Temperature, 1, 0}},
    UnitRow{"Cel", {Quantity::Temperature, 1, 0}},
    UnitRow{"℃", {Quantity::Temperature, 1, 0}},
    UnitRow{"K", {Quantity::Temperature, 1, -kZeroCelsiusInKelvin}},
    UnitRow{"°F", {Quantity::Temperature, 5.0 / 9.0, -32.0 * 5.0 / 9.0}},
    UnitRow{"F", {Quantity::Temperature, 5.0 / 9.0, -32.0 * 5.0 / 9.0}},
    UnitRow{"[degF]", {Quantity::Temperature, 5.0 / 9.0, -32.0 * 5.0 / 9.0}},
    UnitRow{"MHz", {Quantity::Clock, 1, 0}},
    UnitRow{"GHz", {Quantity::Clock, 1e3, 0}},
    UnitRow{"kHz", {Quantity::Clock, 1e-3, 0}},
    UnitRow{"Hz", {Quantity::Clock, 1e-6, 0}},
    UnitRow{"W", {Quantity::Power, 1, 0}},
    UnitRow{"mW", {Quantity::Power, 1e-3, 0}},
    UnitRow{"kW", {Quantity::Power, 1e3, 0}},
    UnitRow{"J", {Quantity::Energy, 1, 0}},
    UnitRow{"kJ", {Quantity::Energy, 1e3, 0}},
    UnitRow{"Wh", {Quantity::Energy, 3600, 0}},
    UnitRow{"W.h", {Quantity::Energy, 3600, 0}},
    UnitRow{"kWh", {Quantity::Energy, 3.6e6, 0}},
    UnitRow{"kW.h", {Quantity::Energy, 3.6e6, 0}},
    UnitRow{"V", {Quantity::Voltage, 1, 0}},
    UnitRow{"mV", {Quantity::Voltage, 1e-3, 0}},
    UnitRow{"A", {Quantity::Current, 1, 0}},
    UnitRow{"mA", {Quantity::Current, 1e-3, 0}},
    UnitRow{"RPM", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"rpm", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"{rpm}", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"1/min", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"/min", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"min-1", {Quantity::FanSpeed, 1, 0}},
    UnitRow{"%", {Quantity::Percent, 1, 0}},
    UnitRow{"ratio", {Quantity::Percent, 100, 0}},
    UnitRow{"MB/s", {Quantity::Throughput, 1, 0}},
    UnitRow{"MBy/s", {Quantity::Throughput, 1, 0}},
    UnitRow{"kB/s", {Quantity::Throughput, 1e-3, 0}},
    UnitRow{"GB/s", {Quantity::Throughput, 1e3, 0}},
    UnitRow{"GBy/s", {Quantity::Throughput, 1e3, 0}},
    UnitRow{"dBA", {Quantity::Noise, 1, 0}},
    UnitRow{"dB(A)", {Quantity::Noise, 1, 0}},
    UnitRow{"dB[SPL]", {Quantity::Noise, 1, 0}},
    UnitRow{"dB", {Quantity::Level, 1, 0}},
    UnitRow{"Hz", {Quantity::Pitch, 1, 0}},
    UnitRow{"kHz", {Quantity::Pitch, 1e3, 0}},
    UnitRow{"1/s", {Quantity::Rate, 1, 0}},
    UnitRow{"/s", {Quantity::Rate, 1, 0}},
    UnitRow{"s-1", {Quantity::Rate, 1, 0}},
    UnitRow{"GFLOP/s", {Quantity::Rate, 1, 0}},
    UnitRow{"points", {Quantity::Points, 1, 0}},
    UnitRow{"{points}", {Quantity::Points, 1, 0}},
    UnitRow{"frames/s", {Quantity::FrameRate, 1, 0}},
    UnitRow{"{frames}/s", {Quantity::FrameRate, 1, 0}},
    UnitRow{"fps", {Quantity::FrameRate, 1, 0}},
    UnitRow{"s", {Quantity::Duration, 1, 0}},
    UnitRow{"ms", {Quantity::Duration, 1e-3, 0}},
    UnitRow{"min", {Quantity::Duration, 60, 0}},
    UnitRow{"h", {Quantity::Duration, 3600, 0}},
    UnitRow{"%RH", {Quantity::Humidity, 1, 0}},
    UnitRow{"1", {Quantity::Count, 1, 0}},
};

}  // namespace

std::string_view unitOf(Quantity quantity) {
  switch (quantity) {
    case Quantity::Temperature:
      return "°C";
    case Quantity::Clock:
      return "MHz";
    case Quantity::Power:
      return "W";
    case Quantity::Energy:
      return "J";
    case Quantity::Voltage:
      return "V";
    case Quantity::Current:
      return "A";
    case Quantity::FanSpeed:
      return "RPM";
    case Quantity::Percent:
      return "%";
    case Quantity::Throughput:
      return "MB/s";
    case Quantity::Noise:
      return "dBA";
    case Quantity::Level:
      return "dB";
    case Quantity::Pitch:
      return "Hz";
    case Quantity::Rate:
      return "1/s";
    case Quantity::Points:
      return "points";
    case Quantity::FrameRate:
      return "frames/s";
    case Quantity::Duration:
      return "s";
    case Quantity::Humidity:
      return "%RH";
    case Quantity::Count:
      return "1";
    case Quantity::Other:
      return "";
  }
  return "";
}

std::optional<UnitMatch> matchUnit(std::string_view text) {
  for (const UnitRow& row : kUnits) {
    if (row.text == text) return row.match;
  }
  return std::nullopt;
}

std::optional<UnitMatch> matchUnit(std::string_view text, Quantity wanted) {
  for (const UnitRow& row : kUnits) {
    if (row.text == text && row.match.quantity == wanted) return row.match;
  }
  return matchUnit(text);
}

std::string_view ucumOf(std::string_view unit) {
  constexpr std::array<std::pair<std::string_view, std::string_view>, 18> kCodes = {{{"°C", "Cel"},
                                                                                     {"K", "K"},
                                                                                     {"MHz", "MHz"},
                                                                                     {"Hz", "Hz"},
                                                                                     {"W", "W"},
                                                                                     {"J", "J"},
                                                                                     {"V", "V"},
                                                                                     {"A", "A"},
                                                                                     {"RPM", "/min"},
                                                                                     {"%", "%"},
                                                                                     {"%RH", "%"},
                                                                                     {"MB/s", "MBy/s"},
                                                                                     {"dBA", "dB[SPL]"},
                                                                                     {"1/s", "/s"},
                                                                                     {"points", "{points}"},
                                                                                     {"frames/s", "{frames}/s"},
                                                                                     {"s", "s"},
                                                                                     {"1", "1"}}};
  for (const auto& [sign, code] : kCodes) {
    if (sign == unit) return code;
  }
  return {};
}

std::string differenceUnit(const std::string& unit) {
  return unit == unitOf(Quantity::Temperature) ? std::string(kKelvin) : unit;
}

}  // namespace ash
