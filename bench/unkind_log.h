// SPDX-License-Identifier: GPL-3.0-or-later
// A log as others write it: a day at 2 Hz, 40 columns, empty cells, several loads, decimals of all lengths.
#pragma once

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <cstdio>
#include <random>
#include <stdexcept>
#include <string>
#include <vector>

namespace ash {

class UnkindLog {
 public:
  explicit UnkindLog(unsigned seed = 1) : m_random(seed) {}

  /// Six loads of 2.4 h with rests of 1.6 h between; one cell in a thousand is empty.
  void write(const std::string& path, double hours = 24) {
    std::FILE* file = std::fopen(path.c_str(), "w");
    if (file == nullptr) throw std::runtime_error(fmt::format("Cannot write {}.", path));
    std::string text = "time [s]";
    for (const Column& column : columns()) text += "," + column.header;
    text += "\n";
    for (long row = 0; row < std::lround(hours * 7200); ++row) {
      const double t = 0.5 * static_cast<double>(row) + 0.004 * m_normal(m_random);
      text += fmt::format("{:.3f}", std::max(t, 0.0));
      addCells(0.5 * static_cast<double>(row), text);
      text += "\n";
      if (text.size() < 1 << 20) continue;
      std::fputs(text.c_str(), file);
      text.clear();
    }
    std::fputs(text.c_str(), file);
    std::fclose(file);
  }

 private:
  enum class Shape { Temperature, Clock, Power, Load, Fan, Room, Rate, Slow };
  struct Column {
    std::string header;
    Shape shape;
    double low, high, noise;
    int decimals;
  };

  static const std::vector<Column>& columns() {
    static const std::vector<Column> all = [] {
      std::vector<Column> made = {{"cpu.temp [°C]", Shape::Temperature, 31, 74, 0.25, 3},
                                  {"cpu.power [W]", Shape::Power, 11, 88, 0.6, 6},
                                  {"cpu.clock [MHz]", Shape::Clock, 1200, 4400, 11, 1},
                                  {"cpu.load [%]", Shape::Load, 2, 99, 0.4, 2},
                                  {"cpu.load.other [%]", Shape::Load, 0.4, 0.9, 0.1, 3},
                                  {"cpu.volt [V]", Shape::Power, 0.7, 1.21, 0.004, 4},
                                  {"gpu.temp [°C]", Shape::Temperature, 33, 41, 0.2, 0},
                                  {"gpu.power [W]", Shape::Power, 9, 12, 0.3, 2},
                                  {"gpu.clock [MHz]", Shape::Slow, 300, 320, 3, 0},
                                  {"coolant.temp [°C]", Shape::Temperature, 27, 41, 0.08, 2},
                                  {"case.temp [°C]", Shape::Temperature, 25, 33, 0.1, 9},
                                  {"room.temp [°C]", Shape::Room, 22, 23, 0.03, 4},
                                  {"drive.temp [°C]", Shape::Temperature, 34, 44, 0.3, 0},
                                  {"memory.temp [°C]", Shape::Temperature, 35, 46, 0.2, 2},
                                  {"board.vrm [°C]", Shape::Temperature, 36, 61, 0.4, 1},
                                  {"fan.cpu [RPM]", Shape::Fan, 700, 1240, 7, 0},
                                  {"fan.rear [RPM]", Shape::Fan, 600, 900, 6, 0},
                                  {"fan.pump [RPM]", Shape::Slow, 2400, 2405, 8, 1},
                                  {"wall.power [W]", Shape::Power, 52, 148, 0.9, 12},
                                  {"work.rate [1/s]", Shape::Rate, 0, 411, 2, 5},
                                  {"cpu.energy [J]", Shape::Slow, 1e6, 5e6, 0, 3},
                                  {"wall.volt [V]", Shape::Slow, 229, 231, 0.3, 2}};
      for (int core = 0; core < 8; ++core) {
        made.push_back({fmt::format("cpu.temp.core{} [°C]", core), Shape::Temperature, 30, 71.0 + core, 0.4, core % 4});
        made.push_back({fmt::format("cpu.clock.core{} [MHz]", core), Shape::Clock, 1200, 4400, 25, core % 3});
      }
      made.push_back({"hub voltage [V]", Shape::Slow, 4.9, 5.1, 0.01, 7});
      made.push_back({"humidity", Shape::Slow, 38, 47, 0.4, 1});
      return made;
    }();
    return all;
  }

  void addCells(double t, std::string& text) {
    constexpr double kRoundS = 4 * 3600, kLoadS = 2.4 * 3600, kRestS = 300;
    const double inRound = std::fmod(t, kRoundS) - kRestS;
    const bool isWorking = inRound >= 0 && inRound < kLoadS;
    const double since = isWorking ? inRound : inRound < 0 ? inRound + kRoundS - kLoadS : inRound - kLoadS;
    const double share = isWorking ? 1 - 0.7 * std::exp(-since / 90) - 0.3 * std::exp(-since / 900)
                                   : 0.7 * std::exp(-since / 90) + 0.3 * std::exp(-since / 900);
    for (const Column& column : columns()) {
      text += ',';
      if (m_uniform(m_random) < 0.001) continue;
      const double span = column.high - column.low;
      double value = column.low;
      if (column.shape == Shape::Temperature || column.shape == Shape::Fan) value += span * share;
      if (column.shape == Shape::Clock || column.shape == Shape::Power || column.shape == Shape::Load ||
          column.shape == Shape::Rate)
        value += isWorking ? span : 0;
      if (column.shape == Shape::Room || column.shape == Shape::Slow) value += span * t / 86400;
      value += column.noise * m_normal(m_random);
      fmt::format_to(std::back_inserter(text), "{:.{}f}", value, column.decimals);
    }
  }

  std::mt19937 m_random;
  std::normal_distribution<double> m_normal;
  std::uniform_real_distribution<double> m_uniform;
};

}  // namespace ash
