// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/held_ladder.h"

#include <algorithm>
#include <cmath>

#include "model/condition_field.h"
#include "report/answer/holds_answer.h"

namespace ash {
namespace {

const Setup* setupOf(const StudyReport& report, const ComparisonRow& row) {
  const int index = setupIndexOf(report, row);
  return index < 0 ? nullptr : &report.study.setups[static_cast<size_t>(index)];
}

// "Teasel" of "Teasel, 30 %"; empty where the number is not in the name, or begins it.
std::string nameBefore(const std::string& setup, double setting) {
  const size_t at = setup.rfind(bareText(setting));
  if (at == std::string::npos) return "";
  std::string name = setup.substr(0, at);
  while (name.ends_with(' ') || name.ends_with(',')) name.pop_back();
  return name;
}

double leastHeadroomK(const ComparisonRow& row) {
  double least = kMissing;
  for (const auto& [figure, value] : row.metrics) {
    if (figure.id() == FigureId::HeadroomK && std::isfinite(value.value) && !(value.value >= least))
      least = value.value;
  }
  return least;
}

// Furthest last: the way in which the headroom falls.
void sortByDemand(std::vector<HeldRung>& rungs) {
  std::sort(rungs.begin(), rungs.end(), [](const HeldRung& a, const HeldRung& b) { return a.setting < b.setting; });
  // One that was cut short may know no headroom.
  const auto knows = [](const HeldRung& rung) { return std::isfinite(rung.headroomK); };
  const auto first = std::find_if(rungs.begin(), rungs.end(), knows);
  const auto last = std::find_if(rungs.rbegin(), rungs.rend(), knows);
  if (first != rungs.end() && first->headroomK < last->headroomK) std::reverse(rungs.begin(), rungs.end());
}

}  // namespace

std::vector<HeldLadder> heldLadders(const StudyReport& report, const LoadStanding& load, const std::string& field) {
  std::vector<HeldLadder> ladders;
  for (const ComparisonRow& row : load.comparison.rows) {
    const Setup* setup = setupOf(report, row);
    if (setup == nullptr) continue;
    const auto setting = setup->conditions.find(field);
    if (setting == setup->conditions.end() || !setting->is_number()) continue;
    HeldRung rung{&row, setting->get<double>(), leastHeadroomK(row), kMissing, {}};
    rung.chance = chanceBelowLimit(report, row, rung.words);
    if (std::string why = whyNotWhole(report, row); !why.empty()) {
      rung.chance = kMissing;
      rung.words = {{" " + why}};
    } else if (std::isnan(rung.chance)) {
      continue;
    }
    Json others = setup->conditions;
    others.erase(field);
    const std::string name = nameBefore(setup->name, rung.setting);
    auto own = std::find_if(ladders.begin(), ladders.end(),
                            [&](const HeldLadder& one) { return one.others == others && one.name == name; });
    if (own == ladders.end()) own = ladders.insert(ladders.end(), HeldLadder{name, others, {}});
    own->all.push_back(std::move(rung));
  }
  std::erase_if(ladders, [](const HeldLadder& one) { return one.all.size() < 2; });
  for (HeldLadder& ladder : ladders) sortByDemand(ladder.all);
  return ladders;
}

}  // namespace ash
