// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/answer/accepted_check.h"

#include <catch2/catch.hpp>

using namespace ash;

namespace {

ComparisonCheck clocks(std::vector<std::string> between) {
  return {Severity::Warn, std::move(between), CheckKind::Clock, "Clocks differ.", "cpu.clock"};
}

}  // namespace

TEST_CASE("aCheckIsAcceptedForItsRunsAlone") {
  StudyPlan plan;
  acceptCheck(plan, clocks({"b", "a"}), "meant to", "2026-12-01T10:00:00Z");
  const AcceptedCheck* one = acceptanceOf(plan, clocks({"a", "b"}));
  REQUIRE(one != nullptr);
  CHECK(acceptedWords(*one) == "accepted by the tester on 2026-12-01: meant to");
  // Of other runs, or of another channel, it is another check.
  CHECK(acceptanceOf(plan, clocks({"a", "c"})) == nullptr);
  CHECK(acceptanceOf(plan, clocks({"a", "b", "c"})) == nullptr);
  ComparisonCheck graphics = clocks({"a", "b"});
  graphics.subject = "gpu.clock";
  CHECK(acceptanceOf(plan, graphics) == nullptr);
  acceptCheck(plan, clocks({"a", "b"}), "looked at again", "2026-12-02T10:00:00Z");
  REQUIRE(plan.accepted.size() == 1);
  CHECK(plan.accepted[0].reason == "looked at again");
  acceptCheck(plan, clocks({"a", "b"}), "", "");
  CHECK(plan.accepted.empty());
}

TEST_CASE("acceptedChecksAreKeptInThePlan") {
  StudyPlan plan;
  acceptCheck(plan, clocks({"b", "a"}), "meant to", "2026-12-01T10:00:00Z");
  CHECK(planFromJson(planToJson(plan)).accepted == plan.accepted);
  CHECK_FALSE(planToJson(StudyPlan()).contains("accepted"));
  // A stranger's without a reason is none.
  CHECK(planFromJson({{"accepted", {{{"what", "room"}, {"between", {"a"}}}, "room", 3}}}).accepted.empty());
}
