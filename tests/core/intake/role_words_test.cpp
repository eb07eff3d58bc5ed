// SPDX-License-Identifier: GPL-3.0-or-later
// Words of the trade to roles.
#include <catch2/catch.hpp>
#include <fstream>
#include <sstream>

#include "intake/role_words.h"

using namespace ash;

TEST_CASE("aNameIsTakenApartIntoWordsAndNumbers") {
  CHECK(wordsOfName("CPU Core #3 (Die)") == std::vector<std::string>{"cpu", "core", "3", "die"});
  CHECK(wordsOfName("GPU0HotSpot") == std::vector<std::string>{"gpu", "0", "hotspot"});
  CHECK(wordsOfName("fan_2-speed") == std::vector<std::string>{"fan", "2", "speed"});
  CHECK(wordsOfName("Lüfter") == std::vector<std::string>{"lüfter"});
  CHECK(wordsOfName("Gehäuselüfter 2") == std::vector<std::string>{"gehäuse", "lüfter", "2"});
  CHECK(wordsOfName("Umgebungstemperatur") == std::vector<std::string>{"umgebung", "temperatur"});
  CHECK(wordsOfName("CPU-Lüfterdrehzahl") == std::vector<std::string>{"cpu", "lüfter", "drehzahl"});
  // No such words: whole.
  CHECK(wordsOfName("Kontakt Bleistiftspannung") == std::vector<std::string>{"kontakt", "bleistiftspannung"});
  CHECK(wordsOfName("  ").empty());
}

TEST_CASE("tradeWordsHaveTheirRoles") {
  struct Case {
    const char* name;
    Quantity quantity;
    const char* role;
  };
  for (const Case& one :
       {Case{"CPU Package", Quantity::Temperature, "cpu.temp.package"},
        Case{"CPU Package", Quantity::Power, "cpu.power"}, Case{"Processor", Quantity::Temperature, "cpu.temp"},
        Case{"Core 11", Quantity::Temperature, "cpu.temp.core11"},
        Case{"Core average", Quantity::Temperature, "cpu.temp.mean"},
        Case{"Core 11", Quantity::Clock, "cpu.clock.core11"},
        Case{"GPU hot spot", Quantity::Temperature, "gpu.temp.hotspot"},
        Case{"VRAM of the GPU", Quantity::Temperature, "gpu.temp.memory"},
        Case{"VRM", Quantity::Temperature, "board.temp.vrm"}, Case{"Ambient", Quantity::Temperature, "room.temp"},
        Case{"Pump", Quantity::FanSpeed, "pump"}, Case{"Fan 2", Quantity::FanSpeed, "fan.2"},
        Case{"CPU fan", Quantity::FanSpeed, "fan.cpu"}, Case{"Total CPU usage", Quantity::Percent, "cpu.load"},
        Case{"GPU usage", Quantity::Percent, "gpu.load"}, Case{"Wall", Quantity::Power, "wall.power"},
        Case{"Leistung Steckdose", Quantity::Power, "wall.power"},
        Case{"Battery level", Quantity::Percent, "battery.charge"},
        Case{"Water out", Quantity::Temperature, "coolant.temp"}, Case{"Gehäuselüfter", Quantity::FanSpeed, "fan.case"},
        Case{"Gehäuselüfter 2", Quantity::FanSpeed, "fan.2"}, Case{"Lüfterdrehzahl CPU", Quantity::FanSpeed, "fan.cpu"},
        Case{"Kerntakt", Quantity::Clock, "cpu.clock"}, Case{"Grafiktakt", Quantity::Clock, "gpu.clock"},
        Case{"Raumtemperatur", Quantity::Temperature, "room.temp"},
        Case{"Umgebungstemperatur", Quantity::Temperature, "room.temp"},
        Case{"Prozessorleistung", Quantity::Power, "cpu.power"}, Case{"Takt", Quantity::Clock, ""},
        // What leaves a doubt has none.
        Case{"CPU limit", Quantity::Temperature, ""}, Case{"Core max", Quantity::Temperature, ""},
        Case{"Sensor 4", Quantity::Temperature, ""}, Case{"GPU memory usage", Quantity::Percent, ""},
        Case{"CPU cores", Quantity::Power, ""}, Case{"Board 2", Quantity::Temperature, ""},
        Case{"Distance of core 3 to its limit", Quantity::Temperature, ""}}) {
    INFO(one.name);
    CHECK(roleByWords(wordsOfName(one.name), one.quantity).text() == one.role);
  }
}

TEST_CASE("everyRoleOfTheTableIsARoleAndTheTableIsTheDocuments") {
  const std::string table = roleWordsTable();
  std::istringstream lines(table);
  size_t rows = 0;
  for (std::string line; std::getline(lines, line);) {
    const size_t from = line.find('`');
    if (from == std::string::npos) continue;
    std::string role = line.substr(from + 1, line.find('`', from + 1) - from - 1);
    if (const size_t at = role.find("<N>"); at != std::string::npos) role.replace(at, 3, "1");
    INFO(line);
    CHECK(Role(role).isKnown());
    ++rows;
  }
  CHECK(rows > 30);
  std::ifstream file(std::string(PROJECT_FOLDER) + "/docs/import.md");
  std::ostringstream document;
  document << file.rdbuf();
  CHECK(document.str().find(table) != std::string::npos);
}
