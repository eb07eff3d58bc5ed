// SPDX-License-Identifier: GPL-3.0-or-later
// Roles and devices as values, against the table of docs/analysis-contract.md.
#include "model/role.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <map>
#include <sstream>

using namespace ash;

namespace {

// The roles as the contract lists them, between its two headings.
std::vector<std::string> rolesOfTheContract() {
  std::ifstream file(std::string(PROJECT_FOLDER) + "/docs/analysis-contract.md");
  std::stringstream whole;
  whole << file.rdbuf();
  const std::string text = whole.str();
  const size_t from = text.find("`room.temp`"), to = text.find("\n\n", from);
  std::vector<std::string> roles;
  for (size_t at = from; at < to && at != std::string::npos;) {
    const size_t end = text.find('`', at + 1);
    roles.push_back(text.substr(at + 1, end - at - 1));
    at = text.find('`', end + 1);
  }
  return roles;
}

std::string filled(std::string role) {
  for (const auto& [what, by] : {std::pair<std::string, std::string>{"<N>", "3"}, {"<place>", "left_2"}}) {
    if (const size_t at = role.find(what); at != std::string::npos) role.replace(at, what.size(), by);
  }
  return role;
}

}  // namespace

TEST_CASE("everyRoleOfTheContractIsKnownAndComesBackAsItWasWritten") {
  const auto listed = rolesOfTheContract();
  REQUIRE(listed.size() > 35);
  for (const std::string& one : listed) {
    const std::string code = filled(one);
    INFO(code);
    const Role role(code);
    CHECK(role.isKnown());
    CHECK(role.text() == code);
    CHECK(role.quantity() != Quantity::Other);
    CHECK(role.title() != code);
    // A role is what its device, quantity and part say, wherever those are enough.
    if (one.find("<N>") == std::string::npos) CHECK(Role(role.device(), role.quantity(), role.part()) == role);
    // The second device of a kind has all of the first one's roles.
    const Role second = role.ofNumber(2);
    CHECK(second.isKnown());
    CHECK(second.device().number() == 2);
    CHECK(second.ofNumber(1) == role.ofNumber(1));
  }
}

TEST_CASE("aRoleIsTakenApartIntoDeviceQuantityAndPart") {
  struct Row {
    const char* code;
    const char* device;
    DeviceKind kind;
    Quantity quantity;
    Part part;
  };
  const Row rows[] = {
      {"cpu.temp", "cpu", DeviceKind::Cpu, Quantity::Temperature, Part::Main},
      {"cpu.temp.core11", "cpu", DeviceKind::Cpu, Quantity::Temperature, Part::Core},
      {"gpu2.temp.hotspot", "gpu2", DeviceKind::Gpu, Quantity::Temperature, Part::Hotspot},
      {"cpu2.clock.cluster0", "cpu2", DeviceKind::Cpu, Quantity::Clock, Part::Cluster},
      {"board.temp.vrm", "board.vrm", DeviceKind::Board, Quantity::Temperature, Part::Main},
      {"board2.temp.vrm", "board2.vrm", DeviceKind::Board, Quantity::Temperature, Part::Main},
      {"board.temp", "board", DeviceKind::Board, Quantity::Temperature, Part::Main},
      {"fan.rear.duty", "fan.rear", DeviceKind::Fan, Quantity::Percent, Part::Duty},
      {"fan.rear", "fan.rear", DeviceKind::Fan, Quantity::FanSpeed, Part::Main},
      {"surface.lid", "surface.lid", DeviceKind::Surface, Quantity::Temperature, Part::Main},
      {"room2.temp", "room2", DeviceKind::Room, Quantity::Temperature, Part::Main},
      {"noise", "noise", DeviceKind::Noise, Quantity::Noise, Part::Main},
  };
  for (const Row& row : rows) {
    INFO(row.code);
    const Role role(row.code);
    CHECK(role.device().text() == row.device);
    CHECK(role.device().kind() == row.kind);
    CHECK(role.quantity() == row.quantity);
    CHECK(role.part() == row.part);
    CHECK(Device(row.device) == role.device());
  }
}

TEST_CASE("whatIsNoRoleKeepsItsTextAndIsOfNoDevice") {
  for (const char* code : {"cpu.temp.core", "cpu", "", "fan.", "Cpu.temp", "cpu02.temp", "gpu.temp.hotspot.x",
                           "surface.a b", "cpu99999.temp", "T1", "..", "score"}) {
    INFO(code);
    const Role role(code);
    CHECK_FALSE(role.isKnown());
    CHECK(role.text() == code);
    CHECK(role.title() == code);
    CHECK(role.quantity() == Quantity::Other);
    CHECK(role.device().empty());
    CHECK_FALSE(role.isMain());
    CHECK(role.ofNumber(2) == role);
  }
}

TEST_CASE("aDeviceTellsWhichOfItsReadingsIsWhich") {
  const Device second(DeviceKind::Gpu, {}, 2), regulators(DeviceKind::Board, Device::kRegulators);
  CHECK(Role(second, Quantity::Power).text() == "gpu2.power");
  CHECK(Role(second, Quantity::Power, Part::Chip).text() == "gpu2.power.chip");
  CHECK(Role(regulators, Quantity::Temperature).text() == "board.temp.vrm");
  CHECK(Role(Device("fan.rear"), Quantity::Percent, Part::Duty).text() == "fan.rear.duty");
  CHECK(Role(Device("surface.lid"), Quantity::Temperature).text() == "surface.lid");
  // What no device of that kind has: there is nothing to look for.
  CHECK(Role(regulators, Quantity::Power).empty());
  CHECK(Role(Device("cpu.cluster1"), Quantity::Temperature).empty());
  CHECK(Role(Device(), Quantity::Power).empty());
  CHECK(Role(Device("fan"), Quantity::FanSpeed).empty());
}

TEST_CASE("rolesHaveWordsForThePerson") {
  CHECK(Role("cpu.temp").title() == "Processor temperature");
  CHECK(Role("fan.rear").title() == "Fan speed, rear");
  CHECK(Role("gpu2.temp").title() == "Graphics temperature 2");
  CHECK(Role("cpu.temp.core7").title() == "Processor core temperature 7");
}

TEST_CASE("devicesHaveShortNamesForHeadings") {
  const std::map<std::string, std::string> names = {{"cpu", "CPU"},
                                                    {"gpu2", "GPU2"},
                                                    {"board.vrm", "VRM"},
                                                    {"board", "Board"},
                                                    {"fan.rear", "rear"},
                                                    {"storage", "SSD"},
                                                    {"surface.lid", "lid"},
                                                    {"cpu.cluster1", "CPU cluster 1"},
                                                    {"nothing.we", "nothing.we"}};
  for (const auto& [text, name] : names) CHECK(Device(text).shortName() == name);
}

TEST_CASE("theRoomNeverCountsAsSomethingThatIsLoaded") {
  CHECK(Role("room2.temp").isRoom());
  CHECK_FALSE(Role("room2.temp").isLoadedTemperature());
  CHECK_FALSE(Role("room.temp").isLoadedTemperature());
  CHECK(Role("surface.lid").isLoadedTemperature());
  CHECK(Role("surface.lid").isSurface());
  CHECK_FALSE(Role("cpu.power").isLoadedTemperature());
  CHECK_FALSE(Role("room").isRoom());
}
