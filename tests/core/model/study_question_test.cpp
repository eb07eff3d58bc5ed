// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/study_question.h"

#include <catch2/catch.hpp>

#include "model/study_plan.h"

using namespace ash;

TEST_CASE("aQuestionIsKeptInThePlan") {
  StudyPlan plan;
  plan.asks = {QuestionKind::HoldsInRoom, 35.5};
  const Json json = planToJson(plan);
  CHECK(json["asks"] == Json({{"kind", "holds_in_room"}, {"target", 35.5}}));
  CHECK(planFromJson(json).asks == plan.asks);
  // An open question adds nothing to a plan, so that older versions find it unchanged.
  CHECK_FALSE(planToJson(StudyPlan()).contains("asks"));
}

TEST_CASE("everyKindOfQuestionComesBack") {
  for (const QuestionForm& form : questionForms()) {
    StudyPlan plan;
    plan.asks.kind = form.kind;
    INFO(form.code);
    CHECK(planFromJson(planToJson(plan)).asks == plan.asks);
    CHECK(plan.asks.isWhole() == !form.hasTarget());
    CHECK_FALSE(form.means.empty());
  }
}

TEST_CASE("aQuestionOfAStrangersPlanIsTakenAsFarAsItCanBe") {
  const auto asks = [](const Json& json) { return planFromJson({{"asks", json}}).asks; };
  CHECK(asks({{"kind", "holds_in_room"}, {"target", 1e9}}) == StudyQuestion{QuestionKind::HoldsInRoom, {}});
  CHECK(asks({{"kind", "holds_in_room"}, {"target", "35"}}) == StudyQuestion{QuestionKind::HoldsInRoom, {}});
  CHECK(asks({{"kind", "of a later version"}}) == StudyQuestion());
  CHECK(asks({{"kind", "best"}, {"target", 3}}) == StudyQuestion{QuestionKind::WhichIsBest, {}});
  CHECK(asks("best") == StudyQuestion());
  CHECK(asks(nullptr) == StudyQuestion());
}

TEST_CASE("aTargetIsReadAsPeopleTypeIt") {
  const auto read = [](QuestionKind kind, const char* typed) { return parseQuestionTarget(kind, typed); };
  CHECK(*read(QuestionKind::HoldsInRoom, "35") == 35);
  CHECK(*read(QuestionKind::HoldsInRoom, "35 °C") == 35);
  CHECK(*read(QuestionKind::HoldsInRoom, "35\u202F°C") == 35);
  CHECK(*read(QuestionKind::HoldsInRoom, "-5") == -5);
  CHECK(*read(QuestionKind::HoldsAtPower, "65,5 W") == 65.5);
  CHECK(*read(QuestionKind::HoldsAtNoise, "36 dBA") == 36);
  CHECK_FALSE(read(QuestionKind::HoldsAtPower, " ")->has_value());
  for (const char* typed : {"warm", "0", "-3 W", "36 dBA", "1e9", "\x1b[31m"}) {
    const auto refused = read(QuestionKind::HoldsAtPower, typed);
    INFO(typed);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().message.find("write e.g. 88 W") != std::string::npos);
    CHECK(refused.error().message.find('\x1b') == std::string::npos);
  }
}

TEST_CASE("aQuestionIsWrittenWithItsTarget") {
  CHECK(questionWords({QuestionKind::HoldsInRoom, 35}) == "holds in a room of 35\u202F°C");
  CHECK(questionWords({QuestionKind::HoldsAtNoise, {}}) == "holds at a noise of … dBA");
  CHECK(questionWords({QuestionKind::WhichIsBest, {}}) == "which is best");
}
