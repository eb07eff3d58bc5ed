// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/planned_run.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>

#include "book/book.h"
#include "model/knob_condition.h"
#include "model/load_way.h"
#include "system/drive.h"

namespace ash {
namespace {

// A phase before those that are written; groups keep theirs.
void putFirst(Procedure& procedure, size_t at, const Phase& phase) {
  procedure.phases.insert(procedure.phases.begin() + static_cast<std::ptrdiff_t>(at), phase);
  for (PhaseGroup& group : procedure.groups) ++group.first;
}

}  // namespace

Result<PlannedPlace> findPlace(const std::string& bookPath, const std::string& study, const std::string& setup,
                               const std::string& load) {
  PlannedPlace place;
  std::error_code error;
  if (!std::filesystem::exists(bookPath, error)) return place;
  const auto book = Book::open(bookPath, BookAccess::ReadOnly);
  if (!book) return book.error();
  const auto studies = book->studies();
  if (!studies) return studies.error();
  for (const Study& known : *studies) {
    if (known.name != study) continue;
    place.hasPlan = known.plan.contains("phases");
    place.plan = planFromJson(known.plan);
    place.active = activeParts(known, setup, load);
    place.study = known;
    for (const Setup& row : known.setups) {
      if (row.name == setup) place.conditions = row.conditions;
    }
    for (const Load& row : known.loads) {
      if (row.name != load) continue;
      auto spec = specOf(known, row, setup);
      if (!spec) return spec.error();
      place.loadSpec = std::move(*spec);
    }
  }
  return place;
}

Status arrangeKnobs(const Json& conditions, RunPlan& plan, RunBench& bench) {
  size_t pauses = 0;
  for (const KnobCondition& one : knobConditions(conditions)) {
    if (!isKnobId(one.setting.knob)) {
      putFirst(plan.procedure, pauses++, {PhaseKind::Pause, EndsByAnswer{turnByHandWords(one.setting), kNoMost}});
      continue;
    }
    Status turnable = bench.canTurn(one.setting.knob);
    if (!turnable && one.isStatedOnly) {
      // Where the machine has it anyway, or has no such limit, nothing is to be said.
      const bool isMissed = turnable.error().kind == ErrorKind::Environment && !bench.notAsAsked().empty();
      if (isMissed)
        plan.remarks.push_back(
            fmt::format("{} was not set to {}: {}", one.setting.knob, one.setting.value, turnable.error().message));
      continue;
    }
    if (!turnable) return turnable;
    bench.expectTurned(one.field);
    plan.settings.push_back(one);
  }
  return {};
}

std::vector<std::string> drivesRemarks(const RunPlan& plan, const PlannedPlace& place) {
  if (plan.load.kind != LoadKind::Storage) return {};
  const std::string folder =
      valueIn(place.loadSpec, "folder", std::filesystem::path(plan.bookPath).parent_path().string());
  const auto ofBook = drivesOf(plan.bookPath);
  const auto underTest = drivesOf(folder);
  for (const std::string& drive : underTest) {
    if (std::find(ofBook.begin(), ofBook.end(), drive) == ofBook.end()) continue;
    return {
        fmt::format("The book lies on the drive under test ({}): its own writes count in the result; keep the book on "
                    "another drive.",
                    drive)};
  }
  return {};
}

Result<std::vector<StopRule>> stopRulesOf(const StudyPlan& plan) {
  std::vector<StopRule> rules;
  for (const std::string& text : plan.stopRules) {
    auto rule = parseStopRule(text);
    if (!rule) return rule.error();
    rules.push_back(*rule);
  }
  return rules;
}

}  // namespace ash
