// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg compare` on logs as somebody else would have them: CSV and sidecar, figures known by formula.
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <fstream>
#include <random>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;

namespace {

/// A log of ten minutes: room 22 °C, 100 W, a resistance, a fan; scatter between runs by the caller.
struct MadeLog {
  std::string name, setup;
  double kelvinPerWatt = 0.5;
  double rpm = 1200;
  Json meta = Json::object();
};

class ForeignLogs : public Bench {
 public:
  void write(MadeLog log) const {
    std::ofstream csv(path(log.name + ".csv"));
    csv << "time [s],cpu.temp [°C],cpu.power [W],cpu.load [%],fan.cpu [RPM],room.temp [°C]\n";
    std::mt19937 random(static_cast<unsigned>(std::hash<std::string>()(log.name)));
    std::normal_distribution<double> normal;
    for (int t = 0; t < 660; t += 2) {
      const bool isUnderLoad = t >= 60;
      const double warm = isUnderLoad ? 6 + (100 * log.kelvinPerWatt - 6) * (1 - std::exp(-(t - 60) / 40.0)) : 6;
      csv << fmt::format("{},{:.2f},{:.2f},{},{:.0f},22.0\n", t, 22 + warm + 0.1 * normal(random),
                         (isUnderLoad ? 100 : 12) + 0.2 * normal(random), isUnderLoad ? 100 : 1, log.rpm);
    }
    log.meta["setup"] = log.setup;
    log.meta["load"] = "all cores";
    std::ofstream(path(log.name + ".meta.json")) << log.meta.dump();
  }
  Json compare(const std::string& arguments) const {
    const auto ran = ashg("compare " + arguments + " --json");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    return Json::parse(ran.out);
  }
};

const Json& rowOf(const Json& comparison, const std::string& setup) {
  for (const Json& row : comparison["rows"]) {
    if (row["setup"] == setup) return row;
  }
  throw std::runtime_error("no row of " + setup);
}

bool hasCheck(const Json& comparison, const std::string& what, const std::string& severity) {
  for (const Json& check : comparison["checks"]) {
    if (check["what"] == what && check["severity"] == severity) return true;
  }
  return false;
}

}  // namespace

TEST_CASE("aStudyOfTwoFactorsTellsWhatEachDoes") {
  const ForeignLogs logs;
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (const char* paste : {"A", "B"}) {
      for (int i = 0; i < 3; ++i) {
        const double resistance = (*cooler == 'T' ? 0.45 : 0.52) - (*paste == 'B' ? 0.02 : 0) + 0.001 * i;
        logs.write({fmt::format("{}{}{}", cooler, paste, i),
                    fmt::format("{} with {}", cooler, paste),
                    resistance,
                    1200,
                    {{"conditions", {{"cooler", cooler}, {"paste", paste}}}, {"under_test", {"cooler", "paste"}}}});
      }
    }
  }
  const Json comparison = logs.compare("*.csv --reference TeaselA0 --metric cpu.over_ambient_k");
  REQUIRE(comparison["factors"].size() == 2);
  for (const Json& factor : comparison["factors"]) {
    const bool isCooler = factor["factor"] == "cooler";
    const double expectedK = isCooler ? 7 : -2;  // 100 W times the difference in K/W
    CHECK(factor["level"] == (isCooler ? "Plover" : "B"));
    CHECK(factor["reference"] == (isCooler ? "Teasel" : "A"));
    REQUIRE(factor["within"].size() == 2);
    for (const Json& within : factor["within"])
      CHECK(within["metrics"]["cpu.over_ambient_k"]["difference"].get<double>() == Approx(expectedK).margin(0.15));
    const Json& mean = factor["mean"]["cpu.over_ambient_k"];
    CHECK(mean["difference"].get<double>() == Approx(expectedK).margin(0.1));
    CHECK(mean["verdict"] == (isCooler ? "worse" : "better"));
    CHECK(factor["depends_on_others"].empty());
  }
  const std::string text = logs.ashg("compare *.csv --reference TeaselA0 --metric cpu.over_ambient_k").out;
  CHECK(text.find("Cooler Plover instead of Teasel") != std::string::npos);
  CHECK(text.find("mean of 2") != std::string::npos);
}

TEST_CASE("timesAndEnergiesHaveTheirRatio") {
  const ForeignLogs logs;
  for (int i = 0; i < 3; ++i) {
    logs.write({fmt::format("old{}", i),
                "old",
                0.5,
                1200,
                {{"work", {{"units", 1}, {"unit", "mixdown"}, {"done_s", 400 + i}}}}});
    logs.write({fmt::format("new{}", i),
                "new",
                0.5,
                1200,
                {{"work", {{"units", 1}, {"unit", "mixdown"}, {"done_s", 200 + i}}}}});
  }
  const Json comparison = logs.compare("old*.csv new*.csv");
  const Json& task = rowOf(comparison, "new")["metrics"]["task_s"];
  CHECK(task["ratio"].get<double>() == Approx(201.0 / 401.0).epsilon(1e-9));
  CHECK(task["ratio_low"].get<double>() < task["ratio"].get<double>());
  CHECK(task["ratio_high"].get<double>() > task["ratio"].get<double>());
  CHECK(task["verdict"] == "better");
  CHECK(rowOf(comparison, "new")["metrics"]["cpu.temp"]["ratio"].is_null());
  CHECK(rowOf(comparison, "old")["metrics"]["task_s"]["ratio"].is_null());
}

TEST_CASE("noiseAndInstrumentsOfASidecarAreTakenAsStated") {
  const ForeignLogs logs;
  const auto noise = [](double dba, const std::string& place) {
    return Json::array(
        {{{"at_s", 500}, {"kind", "reading"}, {"text", "noise"}, {"role", "noise"}, {"value", dba}, {"place", place}}});
  };
  logs.write({"a", "a", 0.5, 1200, {{"events", noise(40, "50 cm")}, {"accuracy", {{"noise", 1.5}}}}});
  logs.write({"b", "b", 0.5, 1200, {{"events", noise(34, "1 m")}, {"accuracy", {{"noise", 1.5}}}}});
  const Json comparison = logs.compare("a.csv b.csv --metric noise");
  const Json& b = rowOf(comparison, "b")["metrics"]["noise"];
  CHECK(b["value"].get<double>() == Approx(34 + 20 * std::log10(2.0)).epsilon(1e-9));
  CHECK(b["estimate"] == true);
  CHECK(rowOf(comparison, "a")["metrics"]["noise"]["estimate"] == false);
  CHECK(hasCheck(comparison, "noise_distance", "warn"));
  const Json& a = rowOf(comparison, "a")["metrics"]["noise"];
  CHECK((a["ci_high"].get<double>() - a["ci_low"].get<double>()) / 2 ==
        Approx(1.959964 * std::hypot(1.5 / std::sqrt(3.0), 1 / (1.96 * std::sqrt(2.0)))).epsilon(1e-4));
  // One reading each: repeats are taken to agree within 1 dBA.
  CHECK(b["assumed"] == true);
  CHECK(b["reason"].get<std::string>().find("repeats agree within 1 dBA") != std::string::npos);
}

TEST_CASE("anIntervalBesideZeroIsNotRoundedToIt") {
  const ForeignLogs logs;
  const auto noise = [](double dba) {
    return Json{{"events", {{{"at_s", 500}, {"kind", "reading"}, {"role", "noise"}, {"value", dba}}}}};
  };
  // Repeats are taken to agree within 1 dBA, so that 1.02 dBA apart is more by 0.02 to 2.02.
  logs.write({"a", "a", 0.5, 1200, noise(35)});
  logs.write({"b", "b", 0.5, 1200, noise(36.02)});
  const std::string told = logs.ashg("compare a.csv b.csv --metric noise").out;
  INFO(told);
  CHECK(told.find("+1.02 [+0.02, +2.02]  worse *\n") != std::string::npos);
  CHECK(told.find("\n* One run each, assuming that repeats agree within 1 dBA.\n") != std::string::npos);
}

TEST_CASE("anAccuracyThatIsNoneIsRefusedInOneLine") {
  const ForeignLogs logs;
  for (const auto& [accuracy, says] :
       {std::pair{R"({"noise": -1})", "must not be below zero"},
        std::pair{R"({"noise": "good"})", "number or an object"}, std::pair{R"([1])", "must be an object"},
        std::pair{R"({"noise": {"plus_minus": "much"}})", "must be a number"}}) {
    logs.write({"a", "a", 0.5, 1200, {{"accuracy", Json::parse(accuracy)}}});
    const auto ran = logs.ashg("analyze a.csv --json");
    INFO(accuracy);
    CHECK(ran.status == 2);
    CHECK(ran.out.empty());
    CHECK(ran.err.find(says) != std::string::npos);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  }
}

TEST_CASE("aLevelledFieldSaysWhatCouldBeAsked") {
  const ForeignLogs logs;
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (const int duty : {30, 60, 100}) {
      const double dba = (*cooler == 'T' ? 25 : 27) + 0.2 * duty;
      logs.write(
          {fmt::format("{}{}", cooler, duty),
           fmt::format("{}, {} %", cooler, duty),
           (*cooler == 'T' ? 0.5 : 0.6) - 0.001 * duty,
           600.0 + 10 * duty,
           {{"conditions", {{"cooler", cooler}, {"fan_duty", duty}}},
            {"under_test", {"cooler", "fan_duty"}},
            {"events", Json::array({{{"at_s", 500}, {"kind", "reading"}, {"role", "noise"}, {"value", dba}}})}}});
    }
  }
  const Json comparison = logs.compare("*.csv --reference Teasel30 --equal noise=35 --repeatability 0.2");
  CHECK(comparison["equal"]["by"] == "noise");
  CHECK(comparison["equal"]["at"] == 35);
  CHECK(comparison["equal"]["from"].get<double>() == Approx(33));
  CHECK(comparison["equal"]["to"].get<double>() == Approx(45));
  CHECK(comparison["factors"].empty());
  // Levels are straight lines: 35 dBA is 50 % on the one and 40 % on the other.
  CHECK(rowOf(comparison, "Teasel")["setting"]["value"].get<double>() == Approx(50).margin(0.5));
  CHECK(rowOf(comparison, "Plover")["setting"]["value"].get<double>() == Approx(40).margin(0.5));
  CHECK(rowOf(comparison, "Plover")["metrics"]["cpu.over_ambient_k"]["difference"].get<double>() ==
        Approx(56.0 - 45.0).margin(0.4));
}

TEST_CASE("aFigureThatNobodyHasIsRefusedByItsName") {
  const ForeignLogs bench;
  bench.write({"a", "old"});
  bench.write({"b", "new", 0.4});
  for (const char* slip : {"--metric cpu.tmp", "--metric cpuu.temp", "--margin noize=1", "--repeatability noize=1"}) {
    INFO(slip);
    const auto ran = bench.ashg(std::string("compare a.csv b.csv ") + slip);
    CHECK(ran.status == 2);
    CHECK(ran.out.empty());
    CHECK(ran.err.starts_with("ashg: There is no figure \""));
    CHECK(ran.err.find("these runs have: cpu.headroom_k") == std::string::npos);  // no limit is known
    CHECK(ran.err.find("cpu.over_ambient_k") != std::string::npos);
  }
  // One that is known and was not measured is no slip: its row says so.
  const Json noise = bench.compare("a.csv b.csv --metric noise");
  CHECK(rowOf(noise, "new")["metrics"]["noise"]["verdict"] == "not comparable");
}

TEST_CASE("runsOfOtherStudiesAndBooksAreComparedUnderNamesOfTheirOwn") {
  const Bench bench;
  const auto add = [&](const char* book, const char* study, int overRoom) {
    std::string log = "time,CPU [°C],CPU power [W],Room [°C]\n";
    for (int i = 0; i < 1200; ++i)
      log +=
          std::to_string(i) + "," + std::to_string(22 + (i < 120 ? 0 : overRoom)) + (i < 120 ? ",9,22\n" : ",88,22\n");
    bench.write("log.csv", log);
    const Ran ran = bench.ashg(std::string("import log.csv --setup Mesh --load vector --json --book ") + book +
                               " --study " + study);
    REQUIRE(ran.status == 0);
    return parseObject(ran.out)["run"].get<std::string>();
  };
  const std::string first = add("b.ashbook", "panels", 40);
  add("b.ashbook", "coolers", 30);
  add("b.ashbook", "coolers", 31);  // not the same samples: those would count once
  add("b.ashbook", "coolers", 31);  // not the same samples: those would count once
  const std::string old = add("old.ashbook", "panels", 50);
  const Ran compared =
      bench.ashg("compare " + first + " coolers/Mesh 'old.ashbook#" + old + "' --book b.ashbook --json");
  INFO(compared.err);
  REQUIRE(compared.status == 0);
  const Json rows = parseObject(compared.out)["rows"];
  REQUIRE(rows.size() == 3);
  CHECK(rows[0]["setup"] == "Mesh of panels, b");
  CHECK(rows[1]["setup"] == "Mesh of coolers, b");
  CHECK(rows[1]["repeats"] == 2);
  CHECK(rows[2]["setup"] == "Mesh of panels, old");
  CHECK(rows[2]["metrics"]["cpu.over_ambient_k"]["difference"].get<double>() == Approx(10).margin(0.1));
  CHECK(bench.ashg("analyze 'old.ashbook#" + old + "'").status == 0);
  CHECK(bench.ashg("analyze coolers/Mesh --book b.ashbook").status == 2);  // two runs
  CHECK(bench.ashg("compare " + first + " 'old.ashbook#panels/Solid' --book b.ashbook").status == 2);
  CHECK(bench.ashg("compare panels/Mesh " + first + " --book b.ashbook").status == 2);  // the same run twice
}
