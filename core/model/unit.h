// SPDX-License-Identifier: GPL-3.0-or-later
// Quantities, the one unit each is kept in, and the conversion from every unit a header may name.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ash {

/// What is measured. Each quantity is stored in one unit only (see unitOf()).
enum class Quantity {
  Temperature,  // °C
  Clock,        // MHz
  Power,        // W
  Energy,       // J
  Voltage,      // V
  Current,      // A
  FanSpeed,     // RPM
  Percent,      // %
  Throughput,   // MB/s
  Noise,        // dBA
  Level,        // dB
  Pitch,        // Hz
  Rate,         // 1/s
  Points,       // points
  FrameRate,    // frames/s
  Duration,     // s
  Humidity,     // %RH
  Count,        // 1
  Other,        // whatever the header said
};

/// value [stored unit] = value [written unit] · factor + offset.
struct UnitMatch {
  Quantity quantity = Quantity::Other;
  double factor = 1.0;
  double offset = 0.0;
  double toStored(double written) const { return written * factor + offset; }
};

/// The unit a quantity is stored and printed in, e.g. "°C". Empty for Quantity::Other.
std::string_view unitOf(Quantity quantity);

/// Recognises a unit as written in a CSV header: trade spelling or UCUM code. Empty when unknown.
std::optional<UnitMatch> matchUnit(std::string_view text);
/// The same where the quantity is known: a unit that two quantities share (Hz) is taken as that one's.
std::optional<UnitMatch> matchUnit(std::string_view text, Quantity wanted);

/// The UCUM code (The Unified Code for Units of Measure) of a stored unit: "Cel" of "°C"; empty where there is none.
std::string_view ucumOf(std::string_view unit);

constexpr std::string_view kKelvin = "K";

/// The unit of a difference: kelvin for °C, otherwise the unit itself.
std::string differenceUnit(const std::string& unit);

}  // namespace ash
