// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/readiness.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "load/activity.h"
#include "model/number_text.h"
#include "model/role.h"
#include "readings/kernel/cpu_times.h"
#include "readings/linux_machine.h"
#include "readings/sysfs_file.h"
#include "readings/watch/machine_watch.h"

namespace ash {
namespace {

constexpr double kOtherLoadPercent = 3;
constexpr double kAboveRestK = 1.5;
constexpr double kLeastSpaceB = 500e6;

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

std::optional<ReadinessCheck> powerCheck(const std::string& root) {
  const SupplyState supply = readSupply(root);
  if (!supply.hasBattery) return std::nullopt;
  ReadinessCheck check{"Power", supply.isDischarging ? "battery" : "mains", !supply.isDischarging, ""};
  if (supply.isDischarging)
    check.remedy = "On battery many machines run slower; plug it in, unless the battery is the question.";
  return check;
}

}  // namespace

Readiness::Readiness(std::string root) : m_root(std::move(root)) {}

Readiness::CpuTimes Readiness::cpuTimes() const {
  const auto ticks = parseCpuTicks(readSmallFile(m_root + "/proc/stat").value_or(""));
  if (ticks.empty()) return {};
  return {static_cast<double>(ticks.front().busy), static_cast<double>(ticks.front().total)};
}

ReadinessCheck Readiness::backgroundLoad() {
  const CpuTimes now = cpuTimes();
  ReadinessCheck check{"Other load", "looking …", true, ""};
  if (m_before && now.all > m_before->all) {
    const double percent = 100 * (now.busy - m_before->busy) / (now.all - m_before->all);
    check.found = withUnit(percent, 0, "%");
    check.isGood = percent < kOtherLoadPercent;
    if (!check.isGood) check.remedy = "Something else is working; close it or wait until it is done.";
  }
  m_before = now;
  return check;
}

void Readiness::addMachineChecks(const StudyPlan& plan, double restC, std::vector<ReadinessCheck>& checks) {
  LinuxMachine machine = openLinuxMachine(m_root, m_choices);
  size_t readings = 0;
  double hottestC = kMissing, roomC = kMissing;
  for (const auto& source : machine.sources) {
    const Sweep sweep = sweepPatiently(source);
    const auto& about = source->info().readings;
    readings += about.size();
    for (size_t i = 0; i < about.size() && i < sweep.values.size(); ++i) {
      if (about[i].role == "cpu.temp") hottestC = sweep.values[i];
      if (about[i].role == "room.temp") roomC = sweep.values[i];
    }
  }
  checks.push_back({"Readings", fmt::format("{}", readings), readings > 0,
                    readings > 0 ? "" : "Nothing can be read here; see Readings for what was skipped and why."});
  ReadinessCheck watched{"Processor temperature", withUnit(hottestC, 1, "°C"), std::isfinite(hottestC), ""};
  if (!watched.isGood) {
    watched.found = "not read";
    watched.remedy = "No temperature can be watched: the run goes on, but it cannot tell when it has settled.";
  } else if (std::isfinite(restC) && hottestC > restC + kAboveRestK) {
    watched.isGood = false;
    watched.remedy = fmt::format("Still {} above rest; wait until it has cooled.", withUnit(hottestC - restC, 1, "K"));
  }
  checks.push_back(watched);
  const bool isTyped = std::any_of(plan.byHand.begin(), plan.byHand.end(),
                                   [](const OwedReading& owed) { return owed.role == "room.temp"; });
  const auto held = std::find_if(plan.held.begin(), plan.held.end(),
                                 [](const HeldCondition& condition) { return condition.field == "room_c"; });
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
  checks.push_back(room);
  checks.push_back(backgroundLoad());
  if (const auto power = powerCheck(m_root)) checks.push_back(*power);
}

std::vector<ReadinessCheck> Readiness::look(const StudyPlan& plan, const std::string& bookPath, double restC) {
  std::vector<ReadinessCheck> checks;
  if (plan.bench.empty()) {
    addMachineChecks(plan, restC, checks);
    const auto loads = activeLoads();
    if (!loads.empty())
      checks.push_back(
          {"Loads", fmt::format("{} at work", loads.size()), false, "Another load is on; stop it first (ashg runs)."});
  } else {
    checks.push_back({"Bench", "simulated: " + plan.bench, true, ""});
    checks.push_back({"Readings", "answer", true, ""});
    checks.push_back({"At rest", "starts cool", true, ""});
  }
  checks.push_back(spaceCheck(bookPath));
  return checks;
}

}  // namespace ash
