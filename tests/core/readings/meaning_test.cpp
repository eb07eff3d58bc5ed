// SPDX-License-Identifier: GPL-3.0-or-later
// What readings mean: by rule, by what a person says, in words.
#include <catch2/catch.hpp>

#include "readings/meaning/role_rules.h"
#include "readings/meaning/roles.h"
#include "readings/meaning/words.h"
#include "readings/rights.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

Reading make(const std::string& driver, const std::string& kind, const std::string& name,
             Quantity quantity = Quantity::Temperature) {
  Reading reading;
  reading.driver = driver;
  reading.kind = kind;
  reading.name = name;
  reading.quantity = quantity;
  reading.id = reading.deviceKey = driver + "/" + name;
  reading.path = driver + "/" + name;
  return reading;
}

}  // namespace

TEST_CASE("rulesGiveRolesByDriverKindAndLabel") {
  const struct {
    const char *driver, *kind, *label, *role;
  } rows[] = {{"k10temp", "temp", "Tdie", "cpu.temp"},
              {"coretemp", "temp", "Core 17", "cpu.temp.core17"},
              {"coretemp", "temp", "Core x", ""},
              {"amdgpu", "temp", "junction", "gpu.temp.hotspot"},
              {"nvme", "temp", "Composite", "storage.temp"},
              {"nvme", "temp", "Sensor 1", ""},
              {"nct6798", "temp", "SYSTIN", "board.temp"},
              {"nct6798", "temp", "VRM MOS", "board.temp.vrm"},
              {"nct6798", "temp", "AUXTIN0", ""},
              {"lumen_ec", "fan", "CPU Fan", "fan.cpu"},
              {"nct6798", "fan", "fan3", "fan.board3"},
              {"nct6798", "fan", "Pump Fan", "pump"},
              {"thermal", "temp", "x86_pkg_temp", "cpu.temp"},
              {"thermal", "temp", "bigcore0-thermal", "cpu.temp"},
              {"thermal", "temp", "gpu-thermal", "gpu.temp"},
              {"thermal", "temp", "acpitz", ""},
              {"power_meter", "power", "power1", "wall.power"}};
  for (const auto& row : rows) {
    INFO(row.driver << " " << row.label);
    CHECK(wishFor(make(row.driver, row.kind, row.label)).role == row.role);
  }
}

TEST_CASE("ofSeveralProcessorTemperaturesTheBestIsTheOne") {
  Reading zone = make("thermal", "temp", "x86_pkg_temp"), tctl = make("k10temp", "temp", "Tctl"),
          tdie = make("k10temp", "temp", "Tdie"), board = make("ec", "temp", "CPU");
  tctl.deviceKey = tdie.deviceKey = "k10temp";
  assignRoles({&zone, &tctl, &board, &tdie});
  CHECK(tdie.role == "cpu.temp");
  CHECK(tctl.role == "cpu.temp.package");
  CHECK(zone.role.empty());
  CHECK(board.role.empty());
}

TEST_CASE("readingsOfOneDeviceHaveOneNumber") {
  Reading aTemp = make("nvme", "temp", "Composite"), bTemp = aTemp;
  Reading bWrite = make("block", "throughput", "nvme1n1 write", Quantity::Throughput), aWrite = bWrite;
  aTemp.deviceKey = aWrite.deviceKey = "a";
  bTemp.deviceKey = bWrite.deviceKey = "b";
  aWrite.role = bWrite.role = "storage.write";
  assignRoles({&aTemp, &bTemp, &bWrite, &aWrite});
  CHECK(aTemp.role == "storage.temp");
  CHECK(bTemp.role == "storage2.temp");
  CHECK(bWrite.role == "storage2.write");
  CHECK(aWrite.role == "storage.write");
}

TEST_CASE("whatAPersonSaysCountsBeforeTheRules") {
  Reading board = make("nct6798", "temp", "AUXTIN0"), room = make("ec", "temp", "Ambient");
  ReadingChoices choices;
  choices[board.id].role = "room.temp";
  choices[board.id].limits["throttle"] = 60;
  assignRoles({&board, &room}, choices);
  CHECK(board.role == "room.temp");
  CHECK(room.role.empty());  // a role belongs to one reading
  CHECK(board.limits.at("throttle") == 60);
  CHECK(board.origins.at("throttle") == "typed");
  choices[board.id].role = "";
  assignRoles({&board, &room}, choices);
  CHECK(board.role.empty());
}

TEST_CASE("aLimitOfDangerCanBeLoweredButNotRaised") {
  Reading cpu = make("k10temp", "temp", "Tdie");
  cpu.limits["critical"] = 105;
  ReadingChoice choice;
  choice.limits["critical"] = 500;
  applyChoice(choice, cpu);
  CHECK(cpu.limits.at("critical") == 105);
  choice.limits["critical"] = 98;
  applyChoice(choice, cpu);
  CHECK(cpu.limits.at("critical") == 98);
}

TEST_CASE("choicesAreKeptAsTheyWereSaid") {
  ReadingChoices choices;
  choices["a"].role = "";
  choices["b"].limits["critical"] = 99.5;
  choices["c"].isHidden = true;
  choices["d"] = {};
  const ReadingChoices again = choicesFromJson(choicesToJson(choices));
  CHECK(again.size() == 3);
  CHECK(again.at("a").role == "");
  CHECK(again.at("b").limits.at("critical") == 99.5);
  CHECK(again.at("c").isHidden);
  CHECK(
      choicesFromJson(Json::parse(R"({"x": {"role": "no.such.role"}, "y": 3, "z": {"limits": {"a": "b"}}})")).empty());
  CHECK(choicesFromJson(Json::parse("[1]")).empty());
}

TEST_CASE("aHiddenReadingIsFoundButNotRead") {
  FakeRoot root;
  root.chip(0, "platform/board.0", "board");
  root.attribute("temp1_input", "30000\n");
  root.attribute("temp2_input", "31000\n");
  const std::string id = "sys/devices/platform/board.0/hwmon/hwmon*/temp1_input";
  ReadingChoices choices;
  choices[id].isHidden = true;
  const LinuxMachine machine = openLinuxMachine(root.path(), choices);
  REQUIRE(machine.sources.size() == 1);
  CHECK(machine.sources[0]->info().readings.size() == 1);
  CHECK(machine.sources[0]->sweep().values == std::vector<double>{31});
  REQUIRE(machine.hidden.size() == 1);
  CHECK(machine.hidden[0].id == id);
}

TEST_CASE("wordsLeadAndFollowTheHeat") {
  Reading core = make("coretemp", "temp", "hottest of 8 cores and their package");
  core.role = "cpu.temp";
  core.meaning = "hottest of 8 cores and their package, computed";
  CHECK(meaningWords(core) == core.meaning);
  CHECK(heatPlaceOf(core) == HeatPlace::Processor);
  Reading vrm = make("board", "temp", "VRM");
  vrm.role = "board.temp.vrm";
  CHECK(meaningWords(vrm) == "Power delivery (VRM) temperature");
  CHECK(heatPlaceOf(vrm) == HeatPlace::PowerDelivery);
  CHECK(heatPlaceOf(make("nvme", "temp", "Sensor 2")) == HeatPlace::MemoryAndDrives);
  CHECK(meaningWords(make("nct6798", "temp", "AUXTIN0")) == "AUXTIN0");
  Reading cardFan = make("amdgpu", "fan", "fan1");
  cardFan.role = "fan.gpu";
  CHECK(heatPlaceOf(cardFan) == HeatPlace::Graphics);
}

TEST_CASE("theRuleForRightsGrantsAGroup") {
  const std::string rule(rightsRule());
  CHECK(rule.find("SUBSYSTEM==\"powercap\"") != std::string::npos);
  CHECK(rule.find("chgrp ash-gauge /sys%p/energy_uj") != std::string::npos);
  CHECK(rule.find("o+r") == std::string::npos);  // to a group, not to everybody
}
