// SPDX-License-Identifier: GPL-3.0-or-later
// The commands as scripts use them: exit statuses, stdout, one line of error.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <iterator>
#include <sstream>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;
using tests::Ran;

namespace {

std::string trimmed(std::string text) {
  while (!text.empty() && text.back() == '\n') text.pop_back();
  return text;
}

size_t lineCount(const std::string& text) { return static_cast<size_t>(std::count(text.begin(), text.end(), '\n')); }

const std::string kRun =
    "run --book b.ashbook --study s --load vector --sim larch12 --speed 100000 --phases 'idle 20s, soak settled "
    "5min..40min, measure 5min, cool 10s' ";

std::string warmUpCsv(double riseK) {
  std::string csv = "time [s],cpu.temp [°C],cpu.power [W],room.temp [°C]\n";
  for (int t = 0; t < 900; ++t) {
    const double celsius = t < 60 ? 34 : 34 + riseK * (1 - std::exp(-(t - 60) / 50.0));
    csv += std::to_string(t) + "," + std::to_string(celsius + 0.05 * (t % 3)) + "," + (t < 60 ? "10" : "80") + ",22\n";
  }
  return csv;
}

}  // namespace

TEST_CASE("helpAndVersionAreOnStdout") {
  const Bench bench;
  CHECK(bench.ashg("--version").out == "ashg 0.1.0\n");
  for (const char* command : {"", "run", "load", "readings", "sample", "analyze", "compare", "report", "runs", "stop",
                              "note", "book", "book info", "stand-in machine"}) {
    const Ran help = bench.ashg(std::string(command) + " --help");
    INFO(command);
    CHECK(help.status == 0);
    CHECK_FALSE(help.out.empty());
  }
}

TEST_CASE("wrongUseIsTwoWithOneLineAndNothingOnStdout") {
  const Bench bench;
  for (const char* wrong : {"",
                            "dance",
                            "run",
                            "run --book b --study s",
                            "load",
                            "load furnace",
                            "load vector --duty 200",
                            "analyze",
                            "analyze nothing.csv --json",
                            "book",
                            "book info none.ashbook",
                            "run --book b --study s --setup x --phases oops",
                            "run --book b --study s --setup x --stop-rule oops",
                            "run --book b --study s --setup x --sim nowhere",
                            "run --book b --study s --setup x --speed 9",
                            "compare a b",
                            "report s --book none --to out",
                            "run --book b --study s --setup x --sim larch12 --stop-rule 'coolant.temp > 60 for 3s'",
                            "run --book b --study s --setup x --sim larch12 --load storage",
                            "stop nobody",
                            "note nobody hello"}) {
    const Ran ran = bench.ashg(wrong);
    INFO(wrong);
    CHECK(ran.status == 2);
    CHECK(ran.out.empty());
    CHECK(lineCount(ran.err) == 1);
  }
  CHECK_FALSE(std::filesystem::exists(bench.path("b")));
}

TEST_CASE("aRunOnTheSimulatedBenchPrintsItsIdAndCanBeWorkedWith") {
  const Bench bench;
  const Ran solid = bench.ashg(kRun + "--setup solid");
  REQUIRE(solid.status == 0);
  const std::string id = trimmed(solid.out);
  CHECK(lineCount(solid.out) == 1);
  CHECK(solid.err.find("over room") != std::string::npos);
  const Ran mesh = bench.ashg(kRun + "--setup mesh --json");
  REQUIRE(mesh.status == 0);
  const Json told = Json::parse(mesh.out);
  CHECK(told["outcome"] == "completed");
  const std::string other = told["run"];

  const Json info = Json::parse(bench.ashg("book info b.ashbook --json").out);
  CHECK(info["studies"][0]["name"] == "s");
  CHECK(info["studies"][0]["setups"] == Json({"solid", "mesh"}));
  CHECK(info["studies"][0]["runs"][0]["id"] == id);
  CHECK(info["studies"][0]["runs"][0]["reason"].is_null());
  CHECK(info["studies"][0]["runs"][1]["outcome"] == "completed");
  CHECK(trimmed(bench.ashg("book check b.ashbook").out) == "sound");

  const Json figures = Json::parse(bench.ashg("analyze " + id + " --book b.ashbook --json").out);
  CHECK(figures["channels"]["cpu.temp"]["settled"]["is_settled"] == true);
  CHECK(Json::parse(bench.ashg("analyze " + other + " --book b.ashbook --json").out) == told["figures"]);

  const Json comparison = Json::parse(bench.ashg("compare " + id + " " + other + " --book b.ashbook --json").out);
  const Json metric = comparison["rows"][1]["metrics"]["cpu.over_ambient_k"];
  CHECK(metric["verdict"] == "better");
  CHECK(metric["difference_high"].get<double>() < -3);

  const Ran report = bench.ashg("report s --book b.ashbook --to out");
  REQUIRE(report.status == 0);
  CHECK(trimmed(report.out) == "out/s.html");
  CHECK(tests::readFile(bench.path("out/s.html")).find("<svg") != std::string::npos);
}

TEST_CASE("aStopRuleIsExitOneAndTheRunIsKept") {
  const Bench bench;
  const Ran ran = bench.ashg(kRun + "--setup solid --stop-rule 'cpu.temp > 60 for 2s' --json");
  CHECK(ran.status == 1);
  const Json told = Json::parse(ran.out);
  CHECK(told["outcome"] == "stopped by a rule");
  CHECK(told["reason"].get<std::string>().find("the rule is 60 °C for 2 s") != std::string::npos);
}

TEST_CASE("filesAreAnalysedAndComparedWithoutABook") {
  const Bench bench;
  bench.write("a.csv", warmUpCsv(50));
  bench.write("b.csv", warmUpCsv(44));
  bench.write("b.meta.json", R"({"setup":"mesh","limits":{"cpu.temp":{"throttle":95}}})");
  const Json figures = Json::parse(bench.ashg("analyze b.csv --json").out);
  CHECK(figures["samples"] == 900);
  CHECK(figures["window"]["reason"] == "settled");
  CHECK(figures["channels"]["cpu.temp"]["headroom_k"].get<double>() == Approx(95 - 78).margin(0.2));
  const Json comparison = Json::parse(bench.ashg("compare a.csv b --json --margin 1 --reference a").out);
  CHECK(comparison["rows"][1]["setup"] == "mesh");
  CHECK(comparison["rows"][1]["metrics"]["cpu.over_ambient_k"]["difference"].get<double>() == Approx(-6).margin(0.1));
  const Ran bad = bench.ashg("analyze " + bench.write("bad.csv", "time [s],cpu.temp [°C]\n0,1\nx,2,3\n") + " --json");
  CHECK(bench.ashg("analyze b.meta.json --json").status == 2);
  CHECK(bad.status == 0);  // a time cell in the middle that is no time is left out and listed
  CHECK(bench.ashg("compare a.csv b.csv --margin much").status == 2);
  // The same run twice would pose as two repeats.
  CHECK(bench.ashg("compare a.csv ./a b.csv").err ==
        "ashg: ./a is named twice; a run is no repeat of itself, so name it once.\n");
}

TEST_CASE("samplesMayComeEveryFiveMilliseconds") {
  const Bench bench;
  for (const double interval : {0.005, 0.01}) {
    const Ran ran =
        bench.ashg("sample --sim larch12 --seconds 0.8 --out log.csv --interval " + std::to_string(interval));
    INFO(ran.err);
    CHECK(ran.status == 0);
    // On a busy machine moments may be missed; most are there, and each where it should be.
    const Json figures = Json::parse(bench.ashg("analyze log.csv --json").out);
    CHECK(figures["samples"].get<double>() >= 0.4 / interval);
    CHECK(figures["interval_s"].get<double>() == Approx(interval).epsilon(0.3));
  }
  const Ran refused = bench.ashg("sample --sim larch12 --interval 0.004 --seconds 1 --out other.csv");
  CHECK(refused.status == 2);
  CHECK(refused.err.find("--interval") != std::string::npos);
  CHECK_FALSE(std::filesystem::exists(bench.path("other.csv")));
}

TEST_CASE("sampleWritesAFileThatAnalyzeReads") {
  const Bench bench;
  const Ran ran = bench.ashg("sample --sim larch12 --speed 1000 --interval 0.5 --seconds 30 --out log.csv");
  CHECK(ran.status == 0);
  const Json figures = Json::parse(bench.ashg("analyze log.csv --json").out);
  CHECK(figures["samples"] == 60);
  CHECK(figures["channels"].contains("cpu.temp"));
  CHECK(
      bench.ashg("sample --sim larch12 --speed 1000 --interval 0.5 --seconds 3 --out /no/such/folder/log.csv").status ==
      3);
}

TEST_CASE("readingsOfATreeAsJson") {
  const Bench bench;
  bench.write("root/sys/devices/platform/cpu.0/hwmon/hwmon0/name", "k10temp\n");
  bench.write("root/sys/devices/platform/cpu.0/hwmon/hwmon0/temp1_input", "61125\n");
  bench.write("root/sys/devices/platform/cpu.0/hwmon/hwmon0/temp2_input", "oops\n");
  std::filesystem::create_directories(bench.path("root/sys/class/hwmon"));
  std::filesystem::create_directory_symlink("../../devices/platform/cpu.0/hwmon/hwmon0",
                                            bench.path("root/sys/class/hwmon/hwmon0"));
  const Json json = Json::parse(bench.ashg("readings --root root --json").out);
  REQUIRE(json["readings"].size() == 1);
  CHECK(json["readings"][0]["path"] == "sys/devices/platform/cpu.0/hwmon/hwmon0/temp1_input");
  CHECK(json["readings"][0]["value"] == 61.125);
  CHECK(json["readings"][0]["unit"] == "°C");
  CHECK(json["skipped"][0]["why"] == "holds no number");
}

TEST_CASE("booksAreMadeOnceAndRefusedTwice") {
  const Bench bench;
  CHECK(bench.ashg("book new n.ashbook").status == 0);
  CHECK(bench.ashg("book new n.ashbook").status == 2);
  CHECK(bench.ashg("book recover n.ashbook --json").status == 0);
  CHECK(bench.ashg("book new /no/such/folder/n.ashbook").status == 3);
  CHECK(bench.ashg("book check " + bench.write("junk", "junk")).status == 2);
}

TEST_CASE("ofALogWithSeveralLoadsOneIsTakenByItsNumber") {
  const Bench bench;
  {
    std::ofstream log(bench.path("two.csv"));
    log << "time [s],cpu.temp [°C],cpu.power [W],room.temp [°C]\n";
    for (int t = 0; t < 2400; ++t) {
      const bool isBusy = (t >= 100 && t < 900) || (t >= 1500 && t < 2300);
      log << t << ',' << (isBusy ? 60 : 35) << ',' << (isBusy ? 80 : 10) << ",22\n";
    }
  }
  const Json last = Json::parse(bench.ashg("analyze two.csv --json").out);
  CHECK(last["phases"].size() == 5);
  CHECK(last["window"]["end_s"] == 2300);
  const Json first = Json::parse(bench.ashg("analyze two.csv --json --load-number 1").out);
  CHECK(first["window"]["end_s"] == 900);
  const Ran third = bench.ashg("analyze two.csv --json --load-number 3");
  CHECK(third.status == 2);
  CHECK(third.out.empty());
  CHECK(third.err.find("two.csv holds 2 loads") != std::string::npos);
  CHECK(bench.ashg("analyze two.csv --load-number 0").status == 2);
}

TEST_CASE("aCertifiedCurveOfWhichLittleWasSeenIsForecastWithTheTruthInItsInterval") {
  // Misra1a of the NIST Statistical Reference Datasets, y = b1 (1 − exp(−b2 x)) with b1 = 238.94212918 certified, over
  // a room of 20 °C, behind two dozen readings at rest: 0.4 time constants, at times that are not even.
  const Bench bench;
  std::string log = "time [s],cpu.temp [°C],room.temp [°C],cpu.load [%]\n";
  for (int i = 0; i < 24; ++i) log += std::to_string(30 * (i - 23)) + ",20,20,0\n";
  const double seenS[] = {77.6,  114.9, 141.1, 190.8, 239.9, 289.0, 332.8,
                          378.4, 434.8, 477.3, 536.8, 593.1, 689.1, 760};
  const double roseK[] = {10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02,
                          44.82, 50.76, 55.05, 61.01, 66.4,  75.47, 81.78};
  for (size_t i = 0; i < std::size(seenS); ++i) {
    std::ostringstream row;
    row << seenS[i] << ',' << 20 + roseK[i] << ",20,100\n";
    log += row.str();
  }
  bench.write("log.csv", log);
  const Ran ran = bench.ashg("analyze log.csv --json");
  INFO(ran.out << ran.err);
  REQUIRE(ran.status == 0);
  const Json settled = parseObject(ran.out)["channels"]["cpu.temp"]["settled"];
  const double endC = 20 + 238.94212918;
  CHECK_FALSE(settled["is_settled"].get<bool>());
  CHECK(settled["forecast_low"].get<double>() < endC);
  CHECK(settled["forecast_high"].get<double>() > endC);
  // With the start free the least squares lie at 269 °C.
  CHECK(settled["forecast"].get<double>() == Approx(269).margin(12));
}
