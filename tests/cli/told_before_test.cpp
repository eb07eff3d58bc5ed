// SPDX-License-Identifier: GPL-3.0-or-later
// `--beside OLD.json`: what was told earlier, held against what is told today; the difference is put into the log.
#include <fmt/format.h>

#include <catch2/catch.hpp>
#include <fstream>
#include <optional>

#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using tests::Bench;

namespace {

/// Ten minutes at rest and twenty under load whose plateau is at once there: every figure of it is known.
class PlateauLog : public Bench {
 public:
  void write(const std::string& name, double plateauC, bool hasPower = true) const {
    std::ofstream csv(path(name + ".csv"));
    csv << "time [s],cpu.temp [°C],cpu.load [%],room.temp [°C]" << (hasPower ? ",cpu.power [W]\n" : "\n");
    for (int t = 0; t < 1800; t += 2) {
      const bool isUnderLoad = t >= 600;
      csv << fmt::format("{},{:.3f},{},22.0", t, isUnderLoad ? plateauC : 30.0, isUnderLoad ? 100 : 1);
      if (hasPower) csv << (isUnderLoad ? ",80" : ",10");
      csv << "\n";
    }
    std::ofstream(path(name + ".meta.json")) << Json{{"setup", name}, {"load", "all cores"}}.dump();
  }

  void keep(const std::string& command, const std::string& file) const {
    const auto ran = ashg(command + " --json");
    REQUIRE(ran.status == 0);
    std::ofstream(path(file)) << ran.out;
  }

  Json besideOf(const std::string& command) const {
    const auto ran = ashg(command + " --json");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    return Json::parse(ran.out)["beside"];
  }
};

std::optional<Json> movedAt(const Json& beside, const Json& place) {
  for (const Json& one : beside["moved"]) {
    if (one["place"] == place) return one;
  }
  return std::nullopt;
}

}  // namespace

TEST_CASE("whatWasToldEarlierStandsBesideWhatIsToldNow") {
  const PlateauLog log;
  log.write("mesh", 70);
  log.keep("analyze mesh.csv", "old.json");
  Json old = Json::parse(tests::readFile(log.path("old.json")));
  old["figures_method"] = "3";
  std::ofstream(log.path("old.json")) << old.dump();

  const Json equal = log.besideOf("analyze mesh.csv --beside old.json");
  CHECK(equal["figures_method"] == "3");
  CHECK(equal["moved"].empty());
  CHECK(equal["gained"].empty());
  CHECK(equal["lost"].empty());
  CHECK(equal["same"].get<int>() > 40);

  log.write("mesh", 72);
  const Json beside = log.besideOf("analyze mesh.csv --beside old.json");
  const auto mean = movedAt(beside, {"channels", "cpu.temp", "window", "mean"});
  REQUIRE(mean);
  CHECK((*mean)["was"].get<double>() == Approx(70));
  CHECK((*mean)["now"].get<double>() == Approx(72));
  const auto overRoom = movedAt(beside, {"channels", "cpu.temp", "over_ambient_k"});
  REQUIRE(overRoom);
  CHECK((*overRoom)["now"].get<double>() - (*overRoom)["was"].get<double>() == Approx(2));
  // Two kelvin at 80 W.
  const auto resistance = movedAt(beside, {"heat", "cpu", "resistance_k_per_w"});
  REQUIRE(resistance);
  CHECK((*resistance)["now"].get<double>() - (*resistance)["was"].get<double>() == Approx(2.0 / 80));
  // What it was heated with did not move.
  CHECK_FALSE(movedAt(beside, {"channels", "cpu.power", "window", "mean"}));
  CHECK_FALSE(movedAt(beside, {"heat", "cpu", "power_w"}));

  const std::string text = log.ashg("analyze mesh.csv --beside old.json").out;
  CHECK(text.find("Told earlier by method 3") != std::string::npos);
  CHECK(text.find("channels cpu.temp over_ambient_k") != std::string::npos);
  CHECK(text.find("(+2.0") != std::string::npos);
}

TEST_CASE("whatIsNotToldAnyMoreIsListedAndNotTakenForMoved") {
  const PlateauLog log;
  log.write("mesh", 70);
  log.keep("analyze mesh.csv", "old.json");
  log.write("mesh", 70, false);
  const Json beside = log.besideOf("analyze mesh.csv --beside old.json");
  // The reading has gone as a whole; of the temperature, which is there, nothing changed but what takes power.
  for (const Json& one : beside["moved"]) CHECK(one["place"][1] != "cpu.power");
  const Json back = [&] {
    log.keep("analyze mesh.csv", "new.json");
    log.write("mesh", 70);
    return log.besideOf("analyze mesh.csv --beside new.json");
  }();
  bool isPowerGained = false;
  for (const Json& place : back["gained"]) isPowerGained |= place == Json({"channels", "cpu.power", "window", "mean"});
  CHECK(isPowerGained);
}

TEST_CASE("aComparisonIsHeldAgainstAnEarlierOneAndAgainstAPage") {
  const PlateauLog logs;
  logs.write("mesh", 70);
  logs.write("solid", 75);
  logs.keep("compare mesh.csv solid.csv", "old.json");
  logs.write("solid", 78);
  const Json moved = {"rows", "solid under all cores", "metrics", "cpu.over_ambient_k", "difference"};
  const Json beside = logs.besideOf("compare mesh.csv solid.csv --beside old.json");
  const auto difference = movedAt(beside, moved);
  REQUIRE(difference);
  CHECK((*difference)["was"].get<double>() == Approx(5));
  CHECK((*difference)["now"].get<double>() == Approx(8));
  CHECK_FALSE(movedAt(beside, {"rows", "mesh under all cores", "metrics", "cpu.over_ambient_k", "value"}));

  // A page's figures hold a comparison for each load.
  const Json old = Json::parse(tests::readFile(logs.path("old.json")));
  std::ofstream(logs.path("page.json")) << Json{
      {"figures_method", "7"},
      {"loads", {{{"load", "all cores"}, {"comparison", old}}}},
      {"runs", Json::array()}}.dump();
  const Json page = logs.besideOf("compare mesh.csv solid.csv --beside page.json");
  REQUIRE(movedAt(page, moved));
  CHECK(page["figures_method"] == "7");

  // Left out on request is not lost.
  CHECK(logs.besideOf("compare mesh.csv solid.csv --metric cpu.temp --beside old.json")["lost"].empty());
}

TEST_CASE("aFileThatTellsNothingOfThisIsRefusedInOneSentence") {
  const PlateauLog log;
  log.write("mesh", 70);
  log.write("solid", 75);
  log.keep("compare mesh.csv solid.csv", "comparison.json");
  std::ofstream(log.path("words.json")) << "not json";
  std::ofstream(log.path("list.json")) << "[1, 2]";
  std::ofstream(log.path("deep.json")) << R"({"figures_method": "3", "a": )" << std::string(200000, '[');
  for (const auto& [file, said] : std::vector<std::pair<std::string, std::string>>{
           {"none.json", "Cannot read none.json"},
           {"words.json", "words.json is no JSON"},
           {"list.json", "list.json tells no figures"},
           {"deep.json", "deep.json is no JSON"},
           {"comparison.json", "comparison.json holds figures of something else"}}) {
    const auto ran = log.ashg("analyze mesh.csv --json --beside " + file);
    INFO(file << ": " << ran.err);
    CHECK(ran.status == 2);
    CHECK(ran.out.empty());
    CHECK(ran.err.find(said) != std::string::npos);
    CHECK(std::count(ran.err.begin(), ran.err.end(), '\n') == 1);
  }
}
