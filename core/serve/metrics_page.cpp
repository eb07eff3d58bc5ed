// SPDX-License-Identifier: GPL-3.0-or-later
#include "serve/metrics_page.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "model/text.h"

namespace ash {
namespace {

/// How a quantity is told: its family, the base unit at its name's end, and that unit per stored one.
struct Family {
  Quantity quantity;
  std::string_view name, unit, help;
  double factor;
};
constexpr std::array kFamilies = {
    Family{Quantity::Temperature, "ash_temperature_celsius", "celsius", "Temperatures.", 1},
    Family{Quantity::Clock, "ash_frequency_hertz", "hertz", "Clocks.", 1e6},
    Family{Quantity::Power, "ash_power_watts", "watts", "Power drawn now.", 1},
    Family{Quantity::Energy, "ash_energy_joules", "joules", "Energy drawn since some beginning.", 1},
    Family{Quantity::Voltage, "ash_voltage_volts", "volts", "Voltages.", 1},
    Family{Quantity::Current, "ash_current_amperes", "amperes", "Currents.", 1},
    Family{Quantity::FanSpeed, "ash_fan_rpm", "rpm", "Fan speeds, turns a minute.", 1},
    Family{Quantity::Percent, "ash_ratio", "ratio", "Loads, duties, charges: parts of one.", 0.01},
    Family{Quantity::Throughput, "ash_throughput_bytes_per_second", "bytes_per_second", "Bytes moved a second.", 1e6},
    Family{Quantity::Noise, "ash_noise_decibels", "decibels", "Sound levels, A-weighted.", 1},
    Family{Quantity::Level, "ash_sound_level_decibels", "decibels", "Levels over one that is told apart.", 1},
    Family{Quantity::Pitch, "ash_tone_hertz", "hertz", "Tones that stand out.", 1},
    Family{Quantity::Rate, "ash_work_per_second", "per_second", "Work done a second, in units of its own.", 1},
    Family{Quantity::Points, "ash_score_points", "points", "Scores.", 1},
    Family{Quantity::FrameRate, "ash_frames_per_second", "per_second", "Frames drawn a second.", 1},
    Family{Quantity::Duration, "ash_duration_seconds", "seconds", "Times that something took.", 1},
    Family{Quantity::Humidity, "ash_humidity_ratio", "ratio", "Relative humidity, a part of one.", 0.01},
    Family{Quantity::Count, "ash_number_count", "count", "Numbers of things.", 1},
    Family{Quantity::Other, "ash_value_own", "own", "Readings in a unit of their own.", 1},
};

const Family& familyOf(Quantity quantity) {
  const auto row =
      std::find_if(kFamilies.begin(), kFamilies.end(), [&](const Family& one) { return one.quantity == quantity; });
  return row == kFamilies.end() ? kFamilies.back() : *row;
}

// A label's value as the standard escapes it.
std::string escaped(const std::string& text) {
  std::string value;
  for (const char c : asUtf8(text)) {
    if (c == '\n')
      value += "\\n";
    else if (c == '\\' || c == '"')
      value += {'\\', c};
    else
      value += c;
  }
  return value;
}

std::string sampleLine(const Family& family, const ServedReading& served) {
  const Reading& reading = served.reading;
  const std::string suffix = family.quantity == Quantity::Energy ? "_total" : "";
  std::string line =
      fmt::format("{}{}{{role=\"{}\",device=\"{}\",name=\"{}\",id=\"{}\"", family.name, suffix,
                  escaped(reading.role.text()), escaped(reading.device), escaped(reading.name), escaped(reading.id));
  if (family.quantity == Quantity::Other) line += fmt::format(",unit=\"{}\"", escaped(reading.unit));
  line += fmt::format("}} {}", served.value * family.factor);
  if (std::isfinite(served.stampS)) line += fmt::format(" {:.3f}", served.stampS);
  return line + "\n";
}

}  // namespace

std::string metricsPage(const std::vector<ServedReading>& readings, double clockS) {
  std::map<std::string_view, std::string> lines;  // by family
  for (const ServedReading& served : readings) {
    if (!std::isfinite(served.value)) continue;
    const Family& family = familyOf(served.reading.quantity);
    // A counter never falls below zero.
    if (family.quantity == Quantity::Energy && served.value < 0) continue;
    lines[family.name] += sampleLine(family, served);
  }
  std::string page;
  if (std::isfinite(clockS))
    page = fmt::format(
        "# TYPE ash_clock_seconds gauge\n# UNIT ash_clock_seconds seconds\n"
        "# HELP ash_clock_seconds This machine's clock, seconds since 1970.\nash_clock_seconds {:.6f}\n",
        clockS);
  for (const Family& family : kFamilies) {
    const auto found = lines.find(family.name);
    if (found == lines.end()) continue;
    page += fmt::format("# TYPE {} {}\n# UNIT {} {}\n# HELP {} {}\n", family.name,
                        family.quantity == Quantity::Energy ? "counter" : "gauge", family.name, family.unit,
                        family.name, family.help);
    page += found->second;
  }
  return page + "# EOF\n";
}

}  // namespace ash
