// SPDX-License-Identifier: GPL-3.0-or-later
// The catalogue: names are taken apart and put together again, and each row answers what is asked of it.
#include "analysis/figure.h"

#include <catch2/catch.hpp>
#include <set>

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
  for (const char* name : {"pump", "cpu.load", "hinge play", "", "."}) {
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
    CHECK(temperatureRoleOf(device) == role);
}

TEST_CASE("headingsNameTheDeviceAndDifferencesAreInKelvin") {
  CHECK(Figure("cpu.over_ambient_k").title() == "CPU over room");
  CHECK(Figure("board.vrm.peak_c").title() == "VRM highest");
  CHECK(Figure("gpu2.clock").title() == "GPU2 clock");
  CHECK(Figure("fan.rear.woke_s").title() == "Fan speed, rear woke after");
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
