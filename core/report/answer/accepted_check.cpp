// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/accepted_check.h"

#include <algorithm>

namespace ash {
namespace {

std::vector<std::string> sorted(std::vector<std::string> names) {
  std::sort(names.begin(), names.end());
  return names;
}

}  // namespace

const AcceptedCheck* acceptanceOf(const StudyPlan& plan, const ComparisonCheck& check) {
  const std::vector<std::string> between = sorted(check.between);
  const auto found = std::find_if(plan.accepted.begin(), plan.accepted.end(), [&](const AcceptedCheck& one) {
    return one.what == codeOf(check) && one.between == between;
  });
  return found == plan.accepted.end() ? nullptr : &*found;
}

void acceptCheck(StudyPlan& plan, const ComparisonCheck& check, const std::string& reason, const std::string& when) {
  const AcceptedCheck now{codeOf(check), sorted(check.between), reason, when};
  std::erase_if(plan.accepted,
                [&](const AcceptedCheck& one) { return one.what == now.what && one.between == now.between; });
  if (!reason.empty()) plan.accepted.push_back(now);
}

std::string acceptedWords(const AcceptedCheck& accepted) {
  constexpr size_t kDay = 10;
  const std::string day = accepted.when.substr(0, kDay);
  return "accepted by the tester" + (day.empty() ? "" : " on " + day) + ": " + accepted.reason;
}

}  // namespace ash
