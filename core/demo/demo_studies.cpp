// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/demo_studies.h"

#include <fmt/format.h>

#include "model/load_way.h"

namespace ash {
namespace {

using When = OwedReading::When;

Setup panel(const char* name, const char* material, const char* byHand, double price, double massKg,
            double openPercent) {
  Setup setup;
  setup.name = name;
  setup.parts = {{"cooler", "Teasel"}, {"paste", "0.12 g"}, {"by_hand", byHand}};
  setup.conditions = {{"fan_mode", "fixed"},
                      {"fan_duty", 60},
                      {"power_limit_w", 88},
                      {"panel", material},
                      {"open_area_percent", openPercent},
                      {"panel_mass_g", 1000 * massKg},
                      {"place", "desk, left"},
                      {"price", price},
                      {"currency", "EUR"}};
  return setup;
}

DemoStudy sidePanels() {
  DemoStudy demo;
  demo.idPrefix = "panel";
  demo.firstStart = "2026-09-24T10:00:00+02:00";
  demo.study.name = "Which side panel?";
  demo.study.question =
      "Does a mesh side panel keep the Larch 12 cooler at the same fan duty, and how much of it does the dust filter "
      "take back?";
  demo.study.setups = {
      panel("Solid", "solid", "fit the solid panel", 0, 1.24, 0),
      panel("Mesh", "mesh", "fit the mesh panel, without its filter", 19, 0.58, 41),
      panel("Mesh + dust filter", "mesh with dust filter", "fit the mesh panel with its filter", 27, 0.61, 26)};
  demo.study.loads = {{"All cores", {{"kind", "vector"}, {"threads", 0}, {"duty", 100}}},
                      {"Cores + graphics",
                       {{"kind", "vector"},
                        {"threads", 0},
                        {"duty", 100},
                        {"also", {{{"kind", "graphics"}, {"threads", 0}, {"duty", 100}}}}}}};
  StudyPlan& plan = demo.plan;
  plan.held = {{"room_c", 22.0, 1.0},
               {"fan_mode", "fixed", kMissing},
               {"fan_duty", 60, 1},
               {"power_limit_w", 88, kMissing},
               {"cooler", "Teasel", kMissing},
               {"paste", "0.12 g", kMissing},
               {"place", "desk, left", kMissing}};
  plan.underTest = {"panel", "open_area_percent", "panel_mass_g"};
  plan.figure = "cpu.over_ambient_k";
  plan.asks = {QuestionKind::WhichIsBest, {}};
  plan.marginK = 0.5;
  plan.reference = "Solid";
  plan.byHand = {{"noise", "50 cm", When::Settled}, {"surface.panel", "", When::Settled}};
  plan.phases = "idle 5min, soak settled 8min..40min, measure 15min, cool below 45";
  plan.stopRules = {"cpu.temp > 100 for 5s"};
  plan.bench = "larch12";
  demo.incidents = {
      {"Mesh", "All cores", 1, {}, "left a cable in the fan", ""},
      {"Solid", "Cores + graphics", 2,
       ScriptedEnd{300 + 1270, Outcome::MachineWentDown, "The machine was started anew while the run was going on."},
       "", ""}};
  demo.typed = {{180, "note window shut"}, {1500, "noise ? 50cm"}, {1560, "surface panel ?"}};
  return demo;
}

DemoStudy powerLimits() {
  DemoStudy demo;
  demo.idPrefix = "limit";
  demo.firstStart = "2026-10-02T10:00:00+02:00";
  demo.study.name = "Power limit for mixing";
  demo.study.question =
      "Which power limit gives the most work per joule in mixing sessions, and what does it cost in speed?";
  for (const int watts : {45, 65, 88, 105}) {
    Setup setup;
    setup.name = fmt::format("{} W", watts);
    setup.parts = {{"cooler", "Teasel"}, {"by_hand", fmt::format("set the power limit to {} W", watts)}};
    setup.conditions = {{"fan_mode", "fixed"}, {"fan_duty", 60}, {"power_limit_w", watts}, {"panel", "mesh"}};
    demo.study.setups.push_back(setup);
  }
  // One mixdown: about half an hour of work, that ends the measuring by itself.
  demo.study.loads = {{"Mixdown", {{"kind", "integer"}, {"threads", 0}, {"duty", 100}, {"work", 900'000}}}};
  demo.plan.held = {{"room_c", 22.0, 1.0}, {"fan_duty", 60, 1}, {"panel", "mesh", kMissing}};
  demo.plan.underTest = {"power_limit_w"};
  demo.plan.figure = "work_per_joule";
  demo.plan.asks = {QuestionKind::WhatItCosts, {}};
  demo.plan.reference = "88 W";
  demo.plan.repeats = 2;
  demo.plan.marginK = 0.5;
  demo.plan.phases = "idle 3min, soak settled 15min..25min, measure 60min, cool 3min";
  demo.plan.bench = "larch12";
  return demo;
}

DemoStudy fanLadder() {
  DemoStudy demo;
  demo.idPrefix = "duty";
  demo.firstStart = "2026-09-29T10:00:00+02:00";
  demo.study.name = "How far down can the fans go?";
  demo.study.question = "How warm do the tall Teasel and the flat Plover keep the Sorrel 8 at equal noise?";
  for (const char* cooler : {"Teasel", "Plover"}) {
    for (const int duty : {30, 45, 70, 100}) {
      Setup setup;
      setup.name = fmt::format("{}, {} %", cooler, duty);
      setup.parts = {{"by_hand", fmt::format("fit the {} and set the fans to {} %", cooler, duty)}};
      setup.conditions = {
          {"cooler", cooler}, {"fan_mode", "fixed"}, {"fan_duty", duty}, {"power_limit_w", 65}, {"panel", "mesh"}};
      demo.study.setups.push_back(setup);
    }
  }
  demo.study.loads = {{"All cores", {{"kind", "vector"}, {"threads", 0}, {"duty", 100}}}};
  demo.plan.held = {{"room_c", 22.0, 1.0}, {"power_limit_w", 65, kMissing}, {"panel", "mesh", kMissing}};
  demo.plan.underTest = {"cooler", "fan_duty"};
  demo.plan.figure = "cpu.over_ambient_k";
  demo.plan.asks = {QuestionKind::WhichIsBest, {}};
  demo.plan.marginK = 0.5;
  demo.plan.repeatabilityK = 0.3;
  demo.plan.reference = "Teasel, 30 %";
  demo.plan.equal = "noise";
  demo.plan.repeats = 1;
  demo.plan.phases = "idle 3min, soak settled 15min..40min, measure 8min, cool 3min";
  demo.plan.bench = "larch12";
  return demo;
}

DemoStudy summerStageBox() {
  DemoStudy demo;
  demo.idPrefix = "wren";
  demo.firstStart = "2026-10-09T09:30:00+02:00";
  demo.study.name = "Wren in summer";
  demo.study.question = "Does the fanless Wren stage box still hold its clock in a room of 35 °C?";
  Setup setup;
  setup.name = "Stage box";
  setup.parts = {{"by_hand", "set the box on its feet, free on all sides"}};
  setup.conditions = {{"fan_mode", "none"}, {"power_limit_w", 15}, {"place", "stage floor"}};
  demo.study.setups = {setup};
  demo.study.loads = {{"All cores", {{"kind", "vector"}, {"threads", 0}, {"duty", 100}}}};
  demo.plan.held = {{"room_c", 24.0, 1.0}, {"place", "stage floor", kMissing}};
  demo.plan.figure = "cpu.hottest_room_c";
  demo.plan.asks = {QuestionKind::HoldsInRoom, 35};
  demo.plan.byHand = {{"surface.top", "", When::Settled}};
  demo.plan.phases = "idle 5min, soak settled 20min..180min, measure 15min, cool 10min";
  demo.plan.bench = "wren";
  demo.incidents = {{"Stage box", "All cores", 2, {}, "", "idle 5min, soak 9min, measure 5min, cool 5min"}};
  return demo;
}

// One task that is done in two ways: the mixdown by the processor, or by the graphics.
DemoStudy mixdownOnGraphics() {
  DemoStudy demo;
  demo.idPrefix = "mix";
  demo.firstStart = "2026-10-14T10:00:00+02:00";
  demo.study.name = "The mixdown on processor or graphics?";
  demo.study.question = "Is the same mixdown done sooner, and with less energy, by the graphics?";
  for (const auto& [name, by] : {std::pair("On the processor", "processor"), {"On the graphics", "graphics"}}) {
    Setup setup;
    setup.name = name;
    setup.parts = {{"cooler", "Teasel"}, {"by_hand", fmt::format("mix on the {}", by)}};
    setup.conditions = {
        {"mixed_by", by}, {"fan_mode", "fixed"}, {"fan_duty", 60}, {"power_limit_w", 88}, {"panel", "mesh"}};
    demo.study.setups.push_back(setup);
  }
  Load mixdown{"Mixdown", {{"kind", "integer"}, {"threads", 0}, {"duty", 100}, {"work", 900'000}}};
  setWay(mixdown, "On the graphics", {{"kind", "graphics"}, {"threads", 0}, {"duty", 100}, {"work", 900'000}});
  demo.study.loads = {mixdown};
  demo.plan.held = {{"room_c", 22.0, 1.0}, {"fan_duty", 60, 1}, {"panel", "mesh", kMissing}};
  demo.plan.underTest = {"mixed_by"};
  demo.plan.figure = "task_s";
  demo.plan.asks = {QuestionKind::WhichIsBest, {}};
  demo.plan.reference = "On the processor";
  demo.plan.repeats = 2;
  demo.plan.phases = "idle 3min, measure 60min, cool 3min";
  demo.plan.bench = "larch12";
  return demo;
}

}  // namespace

std::vector<DemoStudy> demoStudies() {
  return {sidePanels(), fanLadder(), powerLimits(), summerStageBox(), mixdownOnGraphics()};
}

}  // namespace ash
