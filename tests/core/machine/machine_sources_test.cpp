// SPDX-License-Identifier: GPL-3.0-or-later
// One machine from one description: kernel, load and simulated bench, what was seen of it, and what befalls it.
#include "machine/machine_sources.h"

#include <catch2/catch.hpp>
#include <set>

#include "model/role.h"
#include "system/clock.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

namespace {

/// A board with a sensor of the processor and one of the room.
struct SmallMachine : FakeRoot {
  SmallMachine() {
    write("proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
    write("proc/sys/kernel/hostname", "bench-one\n");
    chip(1, "pci0000:00/18.3", "k10temp");
    attribute("temp1_input", "45000\n");
    attribute("temp1_label", "Tctl\n");
    chip(2, "usb1/1-2", "meter");
    attribute("temp1_input", "22000\n");
    attribute("temp1_label", "Room\n");
  }
  MachineSources open(const ReadingChoices& choices = {}) const {
    return MachineSources::open({path(), choices, {}, {}});
  }
};

const ReadingNow& readingOf(const MachineSnapshot& snapshot, const Role& role) {
  for (const ReadingNow& now : snapshot.readings) {
    if (now.reading.role == role) return now;
  }
  FAIL("no reading is " << role.text());
  return snapshot.readings.front();
}

std::string idOf(const MachineSources& machine, const std::string& device) {
  for (const SourceInfo& source : machine.infos()) {
    if (source.readings.front().device == device) return source.readings.front().id;
  }
  FAIL("no device " << device);
  return {};
}

SimulatedMachine larch(uint64_t seed) { return {*sim::loadBench("larch12", "mesh"), "larch12", seed}; }

}  // namespace

TEST_CASE("aMachineIsWhatItsDescriptionAsksFor") {
  const SmallMachine root;
  const auto idsOf = [](const MachineSources& machine) {
    std::set<std::string> ids;
    for (const SourceInfo& source : machine.infos()) ids.insert(source.id.substr(0, source.id.find(':')));
    return ids;
  };
  const auto kernel = root.open();
  CHECK(kernel.load() == nullptr);
  CHECK(kernel.simulated() == nullptr);
  CHECK(kernel.facts()["name"] == "bench-one");
  CHECK(kernel.key() == "bench-one");
  CHECK_FALSE(idsOf(kernel).contains("load"));

  LoadOptions drawing;
  drawing.kind = LoadKind::Graphics;
  const auto loaded = MachineSources::open({root.path(), {}, drawing, {}});
  REQUIRE(loaded.load() != nullptr);
  CHECK(loaded.find("load/frame.rate") != nullptr);
  CHECK(kernel.find("load/frame.rate") == nullptr);

  const auto simulated = MachineSources::open({"", {}, {}, larch(1)});
  REQUIRE(simulated.simulated() != nullptr);
  CHECK(idsOf(simulated) == std::set<std::string>{"sim"});
  CHECK(simulated.facts()["simulated"] == true);
  CHECK_FALSE(simulated.settings());
}

TEST_CASE("everyKindOfSourceHasAnEmptyMachineToBeAbsentFrom") {
  std::set<std::string_view> names;
  for (const SourceKind& kind : sourceKinds()) CHECK(names.insert(kind.name).second);
  // What is asked for without a word is this machine as it is.
  int asked = 0;
  for (const SourceKind& kind : sourceKinds()) asked += kind.isAsked({});
  CHECK(asked == 1);
}

TEST_CASE("aSnapshotTellsValueRangeAgeAndHowLongItStoodStill") {
  const SmallMachine root;
  auto machine = root.open();
  const double startS = bootTimeS();
  CHECK(std::isnan(readingOf(machine.snapshot(startS), roles::kCpuTemp).ageS));
  machine.sweepInStep();
  root.write("sys/devices/pci0000:00/18.3/hwmon/hwmon1/temp1_input", "61500\n");
  machine.sweepInStep();
  root.write("sys/devices/pci0000:00/18.3/hwmon/hwmon1/temp1_input", "52000\n");
  machine.sweepInStep();
  const double nowS = bootTimeS() + 10;
  const auto snapshot = machine.snapshot(nowS);
  const ReadingNow& processor = readingOf(snapshot, roles::kCpuTemp);
  CHECK(processor.value == 52);
  CHECK(processor.low == 45);
  CHECK(processor.high == 61.5);
  CHECK(processor.ageS >= 10);
  CHECK(processor.ageS < 10 + (nowS - 10 - startS) + 0.001);
  // The room has stood still since the first look, the processor since the last.
  const ReadingNow& room = readingOf(snapshot, roles::kRoom);
  CHECK(room.stillS > processor.stillS);
  CHECK(room.ageS <= room.stillS);
}

TEST_CASE("aMachineThatIsOpenedAnewKnowsWhatItHadSeen") {
  const SmallMachine root;
  auto machine = root.open();
  const std::string meter = idOf(machine, "meter"), processor = idOf(machine, "k10temp");
  root.write("sys/devices/pci0000:00/18.3/hwmon/hwmon1/temp1_input", "75000\n");
  machine.sweepInStep();
  root.write("sys/devices/pci0000:00/18.3/hwmon/hwmon1/temp1_input", "50000\n");
  ReadingChoice away;
  away.isHidden = true;
  machine.openAnew({{meter, away}});
  CHECK(machine.description().choices.at(meter).isHidden);
  REQUIRE(machine.find(meter) != nullptr);
  CHECK(machine.hidden().size() == 1);
  machine.sweepInStep();
  const auto snapshot = machine.snapshot(bootTimeS());
  CHECK(readingOf(snapshot, roles::kCpuTemp).high == 75);
  CHECK(snapshot.choices.size() == 1);
  // Hidden ones stand at the end, without a value.
  CHECK(snapshot.readings.back().isHidden);
  CHECK(snapshot.readings.back().reading.id == meter);
  CHECK(std::isnan(snapshot.readings.back().value));
  CHECK(machine.find(processor)->role == roles::kCpuTemp);
  CHECK(machine.find("nothing") == nullptr);
}

TEST_CASE("samplingBeginsRestsAndBeginsAgain") {
  const SmallMachine root;
  auto machine = root.open();
  CHECK_FALSE(machine.next(0));
  CHECK_FALSE(machine.isSampling());
  machine.begin(0.05);
  REQUIRE(machine.next(5));
  CHECK(machine.snapshot(bootTimeS()).readings.size() ==
        machine.infos()[0].readings.size() + machine.infos()[1].readings.size() + machine.infos()[2].readings.size());
  machine.rest();
  CHECK_FALSE(machine.next(0));
  machine.begin(0.05);
  CHECK(machine.next(5));
  CHECK(machine.lostTicks() == 0);
}

TEST_CASE("aDeviceThatWentAwayIsFoundOnceAndSaysSoInTheSnapshot") {
  const SmallMachine root;
  auto machine = root.open();
  machine.begin(0.05);
  REQUIRE(machine.next(5));
  CHECK(machine.takeFindings().empty());
  std::filesystem::rename(root.path("sys/devices/usb1/1-2/hwmon/hwmon2"), root.path("sys/devices/usb1/away"));
  std::vector<Event> findings;
  for (const double endS = monotonicS() + 8; findings.empty() && monotonicS() < endS;) {
    machine.next(0.05);
    findings = machine.takeFindings();
  }
  REQUIRE(findings.size() == 1);
  CHECK(findings[0].text == "meter is gone: its reading is missing from now on.");
  CHECK(findings[0].extra["failure"] == "gone");
  CHECK(machine.takeFindings().empty());
  CHECK(readingOf(machine.snapshot(bootTimeS()), roles::kRoom).fault == "the device is gone");
  CHECK(readingOf(machine.snapshot(bootTimeS()), roles::kCpuTemp).fault.empty());
}

TEST_CASE("aSimulatedMachineMovesOnlyWhenItIsTold") {
  auto machine = MachineSources::open({"", {}, {}, larch(4)});
  auto twin = MachineSources::open({"", {}, {}, larch(4)});
  REQUIRE(machine.simulated()->setLoad("vector", 1));
  REQUIRE(twin.simulated()->setLoad("vector", 1));
  const double before = machine.sweepInStep().sweeps.at(0).second.values.at(0);
  CHECK(machine.sweepInStep().sweeps.at(0).second.timeS == 0);
  machine.simulated()->advanceTo(300);
  const Tick after = machine.sweepInStep();
  CHECK(after.sweeps.at(0).second.timeS == Approx(300).margin(1));
  CHECK(after.sweeps.at(0).second.values.at(0) > before + 5);
  // The same seed tells the same, and what was seen is of the bench's own time.
  twin.sweepInStep();
  twin.sweepInStep();
  twin.simulated()->advanceTo(300);
  CHECK(twin.sweepInStep().sweeps.at(0).second.values == after.sweeps.at(0).second.values);
  CHECK(machine.snapshot(310).readings.front().ageS == Approx(310 - machine.simulated()->timeS()));
}

TEST_CASE("instrumentsStandBesideTheMachineAndNoneIsTakenForAnother") {
  const SmallMachine root;
  const auto told = [](const char* role, const char* name, const char* unit) {
    InstrumentReading reading;
    reading.role = role;
    reading.name = name;
    reading.unitText = unit;
    reading.unit = matchUnit(unit).value_or(UnitMatch{});
    reading.pattern = "([0-9]+)";
    return reading;
  };
  const auto program = [&](const char* name) {
    Instrument instrument;
    instrument.name = name;
    instrument.kind = InstrumentKind::Command;
    instrument.command = "echo 20";
    instrument.readings = {told("room.temp", "", "°C"), told("", "mains", "V")};
    return instrument;
  };
  // The board has a room of its own.
  const auto machine = MachineSources::open({root.path(), {}, {}, {}, {program("a"), program("b")}});
  std::vector<std::string> columns;
  for (const auto& instrument : machine.instruments()) {
    for (const Reading& reading : instrument->info().readings) columns.push_back(reading.column());
  }
  CHECK(columns == std::vector<std::string>{"room2.temp", "mains", "room3.temp", "b: mains"});
  CHECK(machine.snapshot(bootTimeS()).instruments.size() == 2);
}

namespace {

// A program that always says 21 °C.
Instrument roomSensor(const char* name) {
  Instrument sensor;
  sensor.name = name;
  sensor.kind = InstrumentKind::Command;
  sensor.command = "echo 21";
  sensor.readings.resize(1);
  sensor.readings[0].role = "room.temp";
  sensor.readings[0].pattern = "([0-9]+)";
  return sensor;
}

}  // namespace

TEST_CASE("aRoomThatAnInstrumentTellsIsNotMissed") {
  FakeRoot bare;
  bare.write("proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  const auto missesRoom = [](const MachineSources& machine) {
    return std::any_of(machine.missing().begin(), machine.missing().end(),
                       [](const std::string& sentence) { return sentence.starts_with("No room temperature"); });
  };
  CHECK(missesRoom(MachineSources::open({bare.path(), {}, {}, {}, {}})));
  CHECK_FALSE(missesRoom(MachineSources::open({bare.path(), {}, {}, {}, {roomSensor("shelf")}})));
}

TEST_CASE("whichOfTwoSourcesIsQuotedIsAPersonsChoice") {
  const SmallMachine root;
  const Instrument sensor = roomSensor("shelf"), second = roomSensor("door");
  const auto rolesOf = [](const MachineSources& machine) {
    std::map<std::string, std::string> roles;  // by id
    for (const ReadingNow& now : machine.snapshot(bootTimeS()).readings) {
      if (now.reading.role.isRoom()) roles[now.reading.id] = now.reading.role.text();
    }
    return roles;
  };
  const std::string shelf = "instrument/shelf/room.temp", door = "instrument/door/room.temp";
  auto byRule = rolesOf(MachineSources::open({root.path(), {}, {}, {}, {sensor, second}}));
  CHECK(byRule[shelf] == "room2.temp");
  CHECK(byRule[door] == "room3.temp");
  byRule.erase(shelf);
  byRule.erase(door);
  REQUIRE(byRule.size() == 1);
  const std::string board = byRule.begin()->first;
  CHECK(byRule[board] == "room.temp");
  // The sensor at the door is the one that is quoted: every other stays, under a number.
  ReadingChoices choices;
  choices[door].role = Role(roles::kRoom);
  auto chosen = rolesOf(MachineSources::open({root.path(), choices, {}, {}, {sensor, second}}));
  CHECK(chosen[door] == "room.temp");
  CHECK(chosen.size() == 3);
  CHECK(std::set<std::string>{chosen[board], chosen[shelf]} == std::set<std::string>{"room2.temp", "room3.temp"});
  // One that is not to count is kept under its name.
  choices[door].role = Role("");
  CHECK_FALSE(rolesOf(MachineSources::open({root.path(), choices, {}, {}, {sensor, second}})).contains(door));
}

TEST_CASE("whatIsUntickedOfAnInstrumentIsNotLoggedAndTheInstrumentStaysWhole") {
  FakeRoot bare;
  bare.write("proc/stat", "cpu  1 0 0 1 0 0 0 0\n");
  Instrument shelf = roomSensor("shelf"), door = roomSensor("door");
  shelf.command = "echo 21 t 45 h";
  shelf.readings.resize(2);
  shelf.readings[1].name = "humidity";
  shelf.readings[1].pattern = "t ([0-9]+)";
  const std::string shelfRoom = "instrument/shelf/room.temp", doorRoom = "instrument/door/room.temp";
  ReadingChoices choices;
  choices[shelfRoom].isHidden = true;
  MachineSources machine = MachineSources::open({bare.path(), choices, {}, {}, {shelf, door}});
  std::map<std::string, std::string> logged;  // column by id
  std::map<std::string, double> values;
  const Tick tick = machine.sweepInStep();
  for (const auto& [source, sweep] : tick.sweeps) {
    const auto& readings = machine.infos()[static_cast<size_t>(source)].readings;
    REQUIRE(sweep.values.size() == readings.size());
    for (size_t i = 0; i < readings.size(); ++i) {
      logged[readings[i].id] = readings[i].column();
      values[readings[i].id] = sweep.values[i];
    }
  }
  CHECK_FALSE(logged.contains(shelfRoom));
  CHECK(values.at("humidity") == 45);
  // The other one is the room now, for the hidden one counts for nobody.
  CHECK(logged.at(doorRoom) == "room.temp");
  CHECK(values.at(doorRoom) == 21);
  REQUIRE(machine.hidden().size() == 1);
  CHECK(machine.hidden().front().id == shelfRoom);
  CHECK(machine.find(shelfRoom) != nullptr);
  // What is asked of it and shown of it is as its file has it.
  const MachineSnapshot now = machine.snapshot(bootTimeS());
  REQUIRE(now.instruments.size() == 2);
  CHECK(now.instruments.front().instrument.readings.size() == 2);
  // What is known by its name alone: the one that is hidden keeps it, so that no other is taken for it.
  door.command = shelf.command;
  door.readings.push_back(shelf.readings[1]);
  choices["humidity"].isHidden = true;
  const MachineSources named = MachineSources::open({bare.path(), choices, {}, {}, {shelf, door}});
  CHECK(named.hidden().size() == 2);
  REQUIRE(named.find("door: humidity") != nullptr);
  CHECK_FALSE(named.find("door: humidity")->isHidden);
  // With the only one of an instrument hidden it has no column at all.
  choices[doorRoom].isHidden = true;
  const MachineSources none = MachineSources::open({bare.path(), choices, {}, {}, {door}});
  CHECK(none.hidden().size() == 2);
  CHECK(none.instruments().size() == 1);
  CHECK(none.find(doorRoom) != nullptr);
}
