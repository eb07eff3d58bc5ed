// SPDX-License-Identifier: GPL-3.0-or-later
// Instruments from the command line: taken in, tried, sampled beside the machine, kept with a run, taken out.
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "book/book.h"
#include "exchange/csv_read.h"
#include "model/json.h"
#include "tests/support/free_port.h"
#include "tests/support/program.h"
#include "tests/support/sounds.h"
#include "tests/support/stand_in_meter_process.h"

using namespace ash;
using namespace ash::tests;

namespace {

const char kPower[] =
    " --reading 'wall.power=MEAS:POW? W ±0.5 % + 0.2 W' --reading 'mains=MEAS:VOLT? V' --interval 0.2";

// How many processes stand in that folder.
int processesIn(const std::string& folder) {
  int count = 0;
  std::error_code error;
  for (const auto& process : std::filesystem::directory_iterator("/proc"))
    count += std::filesystem::read_symlink(process.path() / "cwd", error) == folder;
  return count;
}

}  // namespace

TEST_CASE("aMeterIsTakenInTriedAndTakenOut") {
  const Bench bench;
  const Meter meter(bench);
  CHECK(bench.ashg("instruments list").out == "No instruments; `ashg instruments add` takes one in.\n");
  REQUIRE(bench.ashg("instruments add 'wall meter' scpi " + meter.address() + kPower).status == 0);
  CHECK(bench.ashg("instruments add 'wall meter' scpi " + meter.address() + kPower).status == 2);
  const Json before = parseObject(bench.ashg("instruments list --json").out);
  CHECK(before["list"][0]["ok"].is_null());
  CHECK(before["list"][0]["readings"][0]["accuracy"] == "0.5 % + 0.2 W");
  const Ran tried = bench.ashg("instruments test 'wall meter' --seconds 1 --json");
  CHECK(tried.status == 0);
  const Json result = parseObject(tried.out)["instruments"][0];
  CHECK(result["identity"] == "Ash Gauge,Stand-in meter,0,1.0");
  CHECK(result["failures"] == 0);
  CHECK(result["answers"].get<int>() >= 6);  // two readings, five times a second, for a second
  CHECK(result["readings"][0]["unit"] == "W");
  CHECK(result["readings"][1]["value"] == 230.0);
  CHECK(result["readings"][1]["age_s"].get<double>() < 1);
  CHECK(result["error"].is_null());
  CHECK(parseObject(bench.ashg("instruments list --json").out)["list"][0]["ok"] == true);
  CHECK(bench.ashg("instruments test nobody").status == 2);
  REQUIRE(bench.ashg("instruments remove 'wall meter'").status == 0);
  CHECK(bench.ashg("instruments remove 'wall meter'").status == 2);
}

TEST_CASE("anInstrumentThatIsNotThereIsToldAndStopsNothing") {
  const Bench bench;
  REQUIRE(bench.ashg("instruments add gone scpi 127.0.0.1:" + std::to_string(freePort()) + kPower).status == 0);
  const Ran tried = bench.ashg("instruments test --all --seconds 0.3 --json");
  CHECK(tried.status == 1);
  CHECK(parseObject(tried.out)["instruments"][0]["error"] == "nobody listens there");
  CHECK(parseObject(bench.ashg("instruments list --json").out)["list"][0]["ok"] == false);
  REQUIRE(bench.ashg("sample --interval 0.2 --seconds 1 --out s.csv").status == 0);
  const auto log = readCsvLog(bench.path("s.csv"));
  REQUIRE(log);
  for (const double value : log->find("wall.power")->values) CHECK(std::isnan(value));
}

TEST_CASE("aMetersReadingsStandInEveryRowBesideTheMachines") {
  const Bench bench;
  const Meter meter(bench);
  REQUIRE(bench.ashg("instruments add m scpi " + meter.address() + kPower + " --instruments mine.json").status == 0);
  REQUIRE(bench.ashg("sample --interval 0.1 --seconds 2 --out s.csv --instruments mine.json").status == 0);
  const auto log = readCsvLog(bench.path("s.csv"));
  REQUIRE(log);
  CHECK(log->timeS.size() >= 15);
  // Asked five times a second, told ten times: an answer counts until the next one is there.
  for (const char* column : {"wall.power", "mains"}) {
    REQUIRE(log->find(column) != nullptr);
    for (const double value : log->find(column)->values) CHECK(std::isfinite(value));
  }
  CHECK(log->find("wall.power")->values.front() == Approx(50).margin(25));  // larch12 at rest draws 30 to 70 W
  REQUIRE(bench.ashg("sample --interval 0.1 --seconds 0.3 --out n.csv --instruments none").status == 0);
  CHECK(readCsvLog(bench.path("n.csv"))->find("wall.power") == nullptr);
}

TEST_CASE("whatIsToldLateStandsInTheRowItBelongsTo") {
  const Bench bench;
  const Meter meter(bench);
  REQUIRE(bench.ashg("instruments add m scpi " + meter.address() + kPower + " --delay 0.4").status == 0);
  REQUIRE(bench.ashg("sample --interval 0.2 --seconds 4 --out s.csv").status == 0);
  const auto log = readCsvLog(bench.path("s.csv"));
  REQUIRE(log);
  const auto& power = log->find("wall.power")->values;
  // 0.4 s are two rows: the last two cannot be known yet, and a delay makes no rows of its own.
  CHECK(log->timeS.size() <= 21);
  CHECK(std::isnan(power[power.size() - 1]));
  CHECK(std::isnan(power[power.size() - 2]));
  const auto known = std::count_if(power.begin(), power.end(), [](double v) { return std::isfinite(v); });
  CHECK(static_cast<size_t>(known) + 5 >= power.size());
}

TEST_CASE("twoSourcesOfOneQuantityAreBothKept") {
  const Bench bench;
  const Meter meter(bench);
  REQUIRE(bench.ashg("instruments add a scpi " + meter.address() + kPower).status == 0);
  REQUIRE(bench.ashg("instruments add b scpi " + meter.address() + " --reading 'wall.power=FETC?'").status == 0);
  const Json readings = parseObject(bench.ashg("readings --json").out)["readings"];
  std::vector<std::string> roles;
  for (const Json& reading : readings) roles.push_back(valueIn(reading, "role", ""));
  CHECK(std::count(roles.begin(), roles.end(), "wall.power") == 1);
  CHECK(std::count(roles.begin(), roles.end(), "wall2.power") == 1);
}

TEST_CASE("aRunKeepsWhatItWasMeasuredWith") {
  const Bench bench;
  const Meter meter(bench);
  REQUIRE(
      bench.ashg("instruments add 'wall meter' scpi " + meter.address() + kPower + " --place 'whole machine'").status ==
      0);
  const Ran run = bench.ashg(
      "run --book b.ashbook --study s --setup a --load integer --threads 1 --unwatched 'a test' --interval 0.2 "
      "--phases 'idle 1s, measure 2s' --run-id r1");
  INFO(run.err);
  REQUIRE(run.status == 0);
  const auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadOnly);
  const auto kept = book->readRun("r1");
  REQUIRE(kept);
  const Channel* power = kept->log.find("wall.power");
  REQUIRE(power != nullptr);
  CHECK(std::count_if(power->values.begin(), power->values.end(), [](double v) { return std::isfinite(v); }) >= 10);
  CHECK(kept->facts.accuracies.at("wall.power").percent == 0.5);
  CHECK(kept->facts.accuracies.at("wall.power").plusMinus == 0.2);
  CHECK(kept->facts.accuracies.at("wall.power").instrument == "wall meter");
  CHECK(kept->facts.places.at("wall.power") == "whole machine");
  CHECK(readFile(bench.path("b.ashbook")).find("Ash Gauge,Stand-in meter,0,1.0") != std::string::npos);
}

TEST_CASE("oneMachineReadsAnother") {
  const Bench bench;
  const int port = freePort();
  const std::string address = "127.0.0.1:" + std::to_string(port);
  const pid_t serving = bench.start({"serve", "--sim", "wren", "--listen", address});
  REQUIRE(Bench::waitUntil([&] { return isListening(port); }, 10));
  REQUIRE(bench
              .ashg("instruments add box openmetrics http://" + address +
                    "/metrics --interval 0.2 --reading 'cpu.temp=ash_temperature_celsius{role=\"cpu.temp\"}'"
                    " --reading 'cpu.clock=ash_frequency_hertz{role=\"cpu.clock\"}'")
              .status == 0);
  const Ran tried = bench.ashg("instruments test box --seconds 1 --json");
  CHECK(tried.status == 0);
  const Json readings = parseObject(tried.out)["instruments"][0]["readings"];
  // wren begins 5.7 K over a room of 24 °C, at its lowest clock of 800 MHz.
  CHECK(readings[0]["value"].get<double>() == Approx(29.7).margin(3));
  CHECK(readings[1]["value"].get<double>() == Approx(800).margin(30));
  kill(serving, SIGTERM);
  CHECK(Bench::wait(serving, 10) == 0);
  CHECK(bench.ashg("instruments test box --seconds 0.3").status == 1);
}

TEST_CASE("whatAnInstrumentTellsIsNotOwedByHand") {
  const Bench bench;
  const Meter meter(bench);
  REQUIRE(bench.ashg("instruments add m scpi " + meter.address() + " --interval 0.2 --reading wall.power=MEAS:POW?")
              .status == 0);
  const auto runWith = [&](const std::string& id, const std::string& instruments) {
    return bench.ashg(
        "run --book b.ashbook --study s --setup a --load integer --threads 1 --unwatched 'a test' --interval 0.2 "
        "--phases 'idle 1s, measure 1s' --run-id " +
        id + instruments);
  };
  REQUIRE(runWith("r1", "").status == 0);
  {
    auto book = Book::open(bench.path("b.ashbook"), BookAccess::ReadWrite);
    REQUIRE(book);
    auto studies = book->studies();
    Study after = studies->front();
    after.plan["by_hand"] =
        Json::array({{{"role", "wall.power"}, {"when", "settled"}}, {{"role", "noise"}, {"when", "settled"}}});
    REQUIRE(book->putStudy(studies->front(), after));
  }
  REQUIRE(runWith("r2", " --instruments none").status == 0);
  const Ran told = bench.ashg("book info b.ashbook --json");
  INFO(told.out + told.err);
  const Json info = parseObject(told.out);
  REQUIRE(info.contains("studies"));
  std::map<std::string, int> owed;
  for (const Json& run : info["studies"][0]["runs"]) owed[valueIn(run, "id", "")] = valueIn(run, "still_to_take", 0);
  CHECK(owed["r1"] == 1);  // the noise; the meter told the rest
  CHECK(owed["r2"] == 2);
}

TEST_CASE("aMicrophoneIsTakenInCalibratedAndSampled") {
  const Bench bench;
  const FileMicrophone file(toneOf(2000, -60, 40) + noiseOf(-90, 40));
  REQUIRE(bench.ashg("instruments add mic sound bench --interval 0.5 --place '50 cm'").status == 0);
  const Json before = parseObject(bench.ashg("instruments test mic --seconds 2 --json").out)["instruments"][0];
  CHECK(before["readings"][0]["role"] == "noise.relative");
  // A-weighting at 2 kHz is 1.2 dB (IEC 61672-1, table 3).
  CHECK(before["readings"][0]["value"].get<double>() == Approx(-60 + 1.2).margin(0.15));
  const Ran calibrated = bench.ashg("instruments calibrate mic 41.2 --seconds 1");
  INFO(calibrated.out << calibrated.err);
  REQUIRE(calibrated.status == 0);
  CHECK(calibrated.out.starts_with("mic: full scale is 100.0 dB"));
  REQUIRE(bench.ashg("sample --interval 0.5 --seconds 4 --out s.csv").status == 0);
  const auto log = readCsvLog(bench.path("s.csv"));
  REQUIRE(log);
  REQUIRE(log->find("noise") != nullptr);
  CHECK(log->find("noise")->unit == "dBA");
  CHECK(log->find("noise.relative") == nullptr);
  CHECK(log->find("noise")->values.back() == Approx(41.2).margin(0.15));
  REQUIRE(log->find("noise.tone1") != nullptr);
  CHECK(log->find("noise.tone1")->unit == "Hz");
  CHECK(log->find("noise.tone1")->values.back() == Approx(2000).margin(1));
  CHECK(log->find("noise.band2000")->values.back() == Approx(41.2).margin(0.2));
  CHECK(bench.ashg("instruments calibrate nobody 40").status == 2);
}

TEST_CASE("theServiceThatShipsServesAsItIsWritten") {
  const Bench bench;
  const std::string unit = readFile(std::string(PROJECT_FOLDER) + "/packaging/ash-gauge-serve.service");
  const auto valueOf = [&](const std::string& key) {
    const size_t at = unit.find("\n" + key);
    REQUIRE(at != std::string::npos);
    const size_t from = at + 1 + key.size();
    return unit.substr(from, unit.find('\n', from) - from);
  };
  CHECK(valueOf("ExecStart=") == "/usr/bin/ashg serve $ASHG_SERVE");
  // What it listens on when nobody has said anything: this machine only.
  const std::string standard = valueOf("Environment=\"ASHG_SERVE=");
  CHECK(standard == "--listen 127.0.0.1:9410\"");
  const std::string address = "127.0.0.1:" + std::to_string(freePort());
  const pid_t serving = bench.start({"serve", "--listen", address});
  CHECK(Bench::waitUntil([&] { return isListening(std::stoi(address.substr(address.find(':') + 1))); }, 20));
  kill(serving, SIGTERM);
  CHECK(Bench::wait(serving, 10) == 0);
  // Off until somebody enables it: no other unit wants it by itself.
  CHECK(valueOf("WantedBy=") == "default.target");
  CHECK(unit.find("\nAlias=") == std::string::npos);
}

TEST_CASE("fourKindsOfStandInsAreShownWithoutAnyHardware") {
  const Bench bench;
  const std::string show = std::string(PROJECT_FOLDER) + "/docs/show-instruments";
  const std::string programs = std::filesystem::path(ASHG_PROGRAM).parent_path().string();
  const int status = std::system(
      (show + " " + programs + " " + bench.path("show") + " 6 >" + bench.path("out.txt") + " 2>&1").c_str());
  INFO(readFile(bench.path("out.txt")));
  REQUIRE(status == 0);
  const auto book = Book::open(bench.path("show/instruments.ashbook"), BookAccess::ReadOnly);
  REQUIRE(book);
  const auto run = book->readRun("outside");
  REQUIRE(run);
  CHECK(run->facts.outcome == Outcome::Completed);
  const auto last = [&](const char* column) {  // the last row may be another source's
    double value = kMissing;
    if (const Channel* channel = run->log.find(column); channel != nullptr) {
      for (const double one : channel->values) value = std::isfinite(one) ? one : value;
    }
    return value;
  };
  // The meter and the sensor stand beside the machine: they tell what it has of its own, within their rounding and age.
  CHECK(last("wall2.power") == Approx(last("wall.power")).epsilon(0.1));
  CHECK(last("room2.temp") == Approx(last("room.temp")).margin(0.3));
  // wren at rest and in a load is warmer than its room and below its limit.
  CHECK(last("cpu2.temp") > 22);
  CHECK(last("cpu2.temp") < 95);
  CHECK(last("load average") >= 0);
  // A folder that holds something else is left alone.
  bench.write("mine/thesis.txt", "years of work");
  CHECK(std::system((show + " " + programs + " " + bench.path("mine") + " 2>" + bench.path("err.txt")).c_str()) != 0);
  CHECK(readFile(bench.path("err.txt")).find("mine holds something else") != std::string::npos);
  CHECK(readFile(bench.path("mine/thesis.txt")) == "years of work");
  // Nothing of it is left running.
  CHECK(processesIn(bench.path("show")) == 0);
}

TEST_CASE("aStandInSensorSaysWhatItCannotDo") {
  const Bench bench;
  const std::string nobody = "127.0.0.1:" + std::to_string(freePort());
  CHECK(bench.ashg("stand-in sensor --broker " + nobody).err ==
        "ashg: No broker listens at " + nobody + "; start one there, or name another with --broker.\n");
  CHECK(bench.ashg("stand-in sensor --broker ''").err.find("is no broker's address") != std::string::npos);
  CHECK(bench.ashg("stand-in sensor --topic 'bench/#'").err.find("is no topic to tell something under") !=
        std::string::npos);
  CHECK(bench.ashg("stand-in sensor --follow nowhere").err.find("no folder of a stand-in machine") !=
        std::string::npos);
}
