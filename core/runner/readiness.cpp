// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/readiness.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "load/activity.h"
#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kOtherLoadPercent = 3;
constexpr double kAboveRestK = 1.5;
constexpr double kLeastSpaceB = 500e6;
constexpr double kDrawnW = 0.05;

ReadinessCheck spaceCheck(const std::string& bookPath) {
  std::error_code error;
  const auto folder = std::filesystem::absolute(bookPath, error).parent_path();
  const auto space = std::filesystem::space(folder, error);
  if (error) return {"Space for the log", "not known", true, ""};
  const auto free = static_cast<double>(space.available);
  ReadinessCheck check{"Space for the log", withUnit(free / 1e9, 0, "GB"), free >= kLeastSpaceB, ""};
  if (!check.isGood) check.remedy = "The drive of the book is nearly full; make room on it.";
  return check;
}

ReadinessCheck temperatureCheck(double processorC, double restC) {
  ReadinessCheck check{"Processor temperature", withUnit(processorC, 1, "°C"), std::isfinite(processorC), ""};
  if (!check.isGood) {
    check.found = "not read";
    check.remedy = "No temperature can be watched: the run goes on, but it cannot tell when it has settled.";
  } else if (std::isfinite(restC) && processorC > restC + kAboveRestK) {
    check.isGood = false;
    check.remedy = fmt::format("Still {} above rest; wait until it has cooled.", withUnit(processorC - restC, 1, "K"));
  }
  return check;
}

ReadinessCheck roomCheck(const StudyPlan& plan, double roomC) {
  const bool isTyped = std::any_of(plan.byHand.begin(), plan.byHand.end(),
                                   [](const OwedReading& owed) { return owed.role == roles::kRoom; });
  const auto held = std::find_if(plan.held.begin(), plan.held.end(),
                                 [](const HeldCondition& condition) { return condition.field == fields::kRoom; });
  ReadinessCheck room{"Room",
                      std::isfinite(roomC) ? withUnit(roomC, 1, "°C")
                      : isTyped            ? "typed by hand"
                                           : "not known",
                      std::isfinite(roomC) || isTyped, ""};
  if (!room.isGood)
    room.remedy = "No room temperature: type it during the run (room 22.4), else nothing is told over room.";
  if (std::isfinite(roomC) && held != plan.held.end() && held->target.is_number() && std::isfinite(held->tolerance) &&
      std::abs(roomC - held->target.get<double>()) > held->tolerance) {
    room.isGood = false;
    room.remedy = fmt::format("The room is to be {}.", withUnit(held->target.get<double>(), 1, "°C"));
  }
  return room;
}

ReadinessCheck loadCheck(double percent) {
  ReadinessCheck check{"Other load", "looking …", true, ""};
  if (!std::isfinite(percent)) return check;
  check.found = withUnit(percent, 0, "%");
  check.isGood = percent < kOtherLoadPercent;
  if (!check.isGood) check.remedy = "Something else is working; close it or wait until it is done.";
  return check;
}

// `runsDown`: the procedure runs the battery down.
ReadinessCheck powerCheck(bool isOnBattery, bool runsDown) {
  ReadinessCheck check{"Power", isOnBattery ? "battery" : "mains", isOnBattery == runsDown, ""};
  if (!check.isGood && runsDown)
    check.remedy = "The procedure runs the battery down; unplug the mains first.";
  else if (!check.isGood)
    check.remedy = "On battery many machines run slower; plug it in, unless the battery is the question.";
  return check;
}

void addMachineChecks(const StudyPlan& plan, double restC, const MachineNow& machine,
                      std::vector<ReadinessCheck>& checks) {
  checks.push_back(
      {"Readings", fmt::format("{}", machine.readings), machine.readings > 0,
       machine.readings > 0 ? "" : "Nothing can be read here; see Readings for what was skipped and why."});
  checks.push_back(temperatureCheck(machine.processorC, restC));
  checks.push_back(roomCheck(plan, machine.roomC));
  checks.push_back(loadCheck(machine.loadPercent));
  const auto procedure = parsePhases(plan.phases);
  if (machine.isOnBattery) checks.push_back(powerCheck(*machine.isOnBattery, procedure && runsBatteryDown(*procedure)));
}

}  // namespace

MachineNow machineNow(const MachineSnapshot& seen) {
  MachineNow now;
  now.readings = seen.readings.size();
  for (const ReadingNow& reading : seen.readings) {
    const Role& role = reading.reading.role;
    if (role == roles::kCpuTemp) now.processorC = reading.value;
    if (role == roles::kRoom) now.roomC = reading.value;
    if (role == roles::kCpuLoad) now.loadPercent = reading.value;
    // Drawn from it is positive; what is fed into it, or rests, is no battery operation.
    if (role == roles::kBatteryPower && std::isfinite(reading.value)) now.isOnBattery = reading.value > kDrawnW;
  }
  return now;
}

std::vector<ReadinessCheck> readinessOf(const StudyPlan& plan, const std::string& bookPath, double restC,
                                        const std::optional<MachineNow>& machine) {
  std::vector<ReadinessCheck> checks;
  if (!plan.bench.empty()) {
    checks.push_back({"Bench", "simulated: " + plan.bench, true, ""});
    checks.push_back({"Readings", "answer", true, ""});
    checks.push_back({"At rest", "starts cool", true, ""});
  } else {
    if (machine)
      addMachineChecks(plan, restC, *machine, checks);
    else
      checks.push_back({"Readings", "looking …", true, ""});
    const auto loads = activeLoads();
    if (!loads.empty())
      checks.push_back(
          {"Loads", fmt::format("{} at work", loads.size()), false, "Another load is on; stop it first (ashg runs)."});
  }
  checks.push_back(spaceCheck(bookPath));
  return checks;
}

}  // namespace ash
