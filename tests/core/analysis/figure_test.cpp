// SPDX-License-Identifier: GPL-3.0-or-later
// The catalogue: names are taken apart and put together again, and each row answers what is asked of it.
#include "analysis/catalogue/figure.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <set>

#include "model/role.h"
#include "tests/support/words.h"

using namespace ash;

TEST_CASE("aFigureIsFoundByItsNameAndNamedAsItWasFound") {
  for (const FigureKind& kind : figureKinds()) {
    const bool isFan = kind.id == FigureId::FanSpeed || kind.id == FigureId::FanWoke;
    for (const char* device : {"cpu", "gpu2", "board.vrm", "storage", "surface.lid", "fan.rear"}) {
      if (kind.isOfDevice && isFan != std::string_view(device).starts_with("fan.")) continue;
      const Figure figure = kind.isOfDevice ? Figure(device, kind.id) : Figure(kind.id);
      INFO(figure.code());
      const Figure again = figure.code();
      CHECK(again.id() == kind.id);
      CHECK(again.device() == (kind.isOfDevice ? device : ""));
      CHECK(again == figure);
    }
  }
}

TEST_CASE("aNameThatIsInNoRowStaysWhatItIs") {
  for (const char* name : {"cpu.load", "fan.rear.duty", "hinge play", "", "."}) {
    INFO(name);
    CHECK(Figure(name).id() == FigureId::Other);
    CHECK(Figure(name).code() == name);
    CHECK(Figure(name).better() == Better::Neither);
  }
}

TEST_CASE("everyRowHasWordsForAPersonAndNoTwoShareAName") {
  std::set<std::string> codes, titles;
  for (const FigureKind& kind : figureKinds()) {
    const char* device = kind.id == FigureId::FanSpeed || kind.id == FigureId::FanWoke ? "fan.cpu" : "cpu";
    const Figure figure = kind.isOfDevice ? Figure(device, kind.id) : Figure(kind.id);
    INFO(figure.code());
    CHECK(codes.insert(figure.code()).second);
    CHECK(titles.insert(figure.title() + figure.unit()).second);
    CHECK(kind.definition.ends_with('.'));
    CHECK(kind.scale > 0);
    CHECK_FALSE(kind.words.verb.empty());
  }
}

// The temperatures of the contract's table of roles.
TEST_CASE("aDevicesTemperatureIsReadWhereTheContractSays") {
  for (const auto& [device, role] :
       {std::pair{"cpu", "cpu.temp"}, std::pair{"gpu2", "gpu2.temp"}, std::pair{"board.vrm", "board.temp.vrm"},
        std::pair{"board2.vrm", "board2.temp.vrm"}, std::pair{"board", "board.temp"},
        std::pair{"surface.lid", "surface.lid"}})
    CHECK(Role(Device(device), Quantity::Temperature) == role);
}

TEST_CASE("headingsNameTheDeviceAndDifferencesAreInKelvin") {
  CHECK(Figure("cpu.over_ambient_k").title() == "CPU over room");
  CHECK(Figure("board.vrm.peak_c").title() == "VRM highest");
  CHECK(Figure("gpu2.clock").title() == "GPU2 clock");
  CHECK(Figure("fan.rear.woke_s").title() == "Fan speed, rear woke after");
  CHECK(Figure("surface.lid.temp").title() == "Surface temperature, lid");
  CHECK(Figure("surface.lid.over_ambient_k").title() == "Surface lid over room");
  CHECK(Figure("cpu.temp").differenceUnit() == "K");
  CHECK(Figure("cpu.power").differenceUnit() == "W");
}

TEST_CASE("aCheckIsNamedByItsKindOrByWhatItIsAbout") {
  CHECK(codeOf({Severity::Warn, {}, CheckKind::Settling, ""}) == "settling");
  CHECK(titleOf({Severity::Warn, {}, CheckKind::Settling, ""}) == "Not settled");
  CHECK(codeOf({Severity::Warn, {}, CheckKind::Clock, "", "gpu.clock"}) == "gpu.clock");
  CHECK(titleOf({Severity::Warn, {}, CheckKind::Clock, "", "gpu.clock"}) == "Unequal clocks");
  CHECK(titleOf({Severity::Info, {}, CheckKind::Field, "", "power_limit_w"}) == "Power limit differs");
}

namespace {

std::vector<std::string> codesOf(const std::vector<Figure>& figures) {
  std::vector<std::string> codes;
  for (const Figure& figure : figures) codes.push_back(figure.code());
  return codes;
}

}  // namespace

TEST_CASE("figuresAreListedByGroupThenByDeviceThenAsInTheCatalogue") {
  std::vector<Figure> figures = {"price",
                                 "fan.rear",
                                 "noise",
                                 "wall.power",
                                 "gpu.power",
                                 "cpu.power",
                                 "work.rate",
                                 "cpu.clock",
                                 "surface.lid.temp",
                                 "storage.over_ambient_k",
                                 "board.vrm.over_ambient_k",
                                 "gpu2.over_ambient_k",
                                 "gpu.peak_c",
                                 "gpu.over_ambient_k",
                                 "cpu.headroom_w",
                                 "cpu.over_ambient_k",
                                 "fan.rear.woke_s",
                                 "fan.cpu",
                                 "runtime_s"};
  std::sort(figures.begin(), figures.end(), isListedBefore);
  const std::vector<std::string> wanted = {"cpu.over_ambient_k",
                                           "cpu.headroom_w",
                                           "gpu.over_ambient_k",
                                           "gpu.peak_c",
                                           "gpu2.over_ambient_k",
                                           "board.vrm.over_ambient_k",
                                           "storage.over_ambient_k",
                                           "surface.lid.temp",
                                           "cpu.clock",
                                           "work.rate",
                                           "runtime_s",
                                           "cpu.power",
                                           "gpu.power",
                                           "wall.power",
                                           "noise",
                                           "fan.cpu",
                                           "fan.rear",
                                           "fan.rear.woke_s",
                                           "price"};
  CHECK(codesOf(figures) == wanted);
}

TEST_CASE("everyFigureOfTheCatalogueStandsUnderAHeading") {
  for (const FigureKind& kind : figureKinds()) {
    INFO(kind.title);
    CHECK_FALSE(titleOf(kind.group).empty());
  }
  CHECK(Figure("surface.lid.temp").group() == FigureGroup::Surfaces);
  CHECK(Figure("nobody knows").group() == FigureGroup::None);
}

TEST_CASE("aStudyMayAskForWhatHasABetterWayAndForThePowerAtTheWall") {
  const auto asked = codesOf(figuresToAskFor());
  CHECK(asked.front() == "cpu.over_ambient_k");
  const std::set<std::string> all(asked.begin(), asked.end());
  CHECK(all.size() == asked.size());
  for (const char* wanted : {"gpu.temp", "board.vrm.over_ambient_k", "storage.over_ambient_k", "noise", "runtime_s",
                             "wall.power", "score_per_watt", "gpu.hottest_room_c"}) {
    INFO(wanted);
    CHECK(all.contains(wanted));
  }
  for (const Figure& figure : figuresToAskFor())
    CHECK((figure.better() != Better::Neither || figure.id() == FigureId::WallPower));
}

TEST_CASE("aPumpIsAMoverAsAFanIs") {
  CHECK(Figure("pump").id() == FigureId::FanSpeed);
  CHECK(Figure("pump").title() == "Pump speed");
  CHECK(Figure("pump.woke_s").id() == FigureId::FanWoke);
  CHECK(Figure("pump.woke_s").device() == Device(DeviceKind::Pump));
}

TEST_CASE("planesSetWhatItCostsAgainstWhatItBuys") {
  std::vector<std::string> pairs;
  for (const auto& [cost, bought] : tradeOffPairs()) pairs.push_back(cost.code() + " x " + bought.code());
  // Noise leads: it is what most studies buy kelvin with. The processor comes before the graphics.
  CHECK(pairs == std::vector<std::string>{"noise x cpu.over_ambient_k", "noise x cpu.temp",
                                          "work.rate x work_per_joule", "cpu.power x score", "cpu.power x work.rate",
                                          "wall.power x work.rate", "price x cpu.over_ambient_k", "price x work.rate",
                                          "noise x gpu.over_ambient_k", "noise x gpu.temp", "gpu.power x score",
                                          "gpu.power x work.rate", "price x gpu.over_ambient_k"});
}
