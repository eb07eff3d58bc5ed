// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/study_question.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "model/condition_field.h"
#include "model/text.h"

namespace ash {
namespace {

// In the order of QuestionKind.
constexpr std::array kForms = {
    QuestionForm{QuestionKind::Open, "open", "the figure, no more", "",
                 "The figure of each setup and how it differs from the reference."},
    QuestionForm{
        QuestionKind::WhichIsBest, "best", "which is best", "",
        "Who is first by the figure, how surely, at what price in noise, power and money, and for whom another "
        "choice is right."},
    QuestionForm{
        QuestionKind::HoldsInRoom, "holds_in_room", "holds in a room of", "°C",
        "Whether each setup stays below its limit in a room of that temperature, with the power it takes under "
        "this load."},
    QuestionForm{QuestionKind::HoldsAtPower, "holds_at_power", "holds at", "W",
                 "Whether each setup stays below its limit while its chip draws that many watts."},
    QuestionForm{QuestionKind::HoldsAtNoise, "holds_at_noise", "holds at a noise of", "dBA",
                 "Whether each setup stays below its limit and is no louder than that."},
    QuestionForm{QuestionKind::HowFar, "how_far", "how far it can go", "",
                 "The furthest setting that was run and held; else how warm a room and how many watts more it stands."},
    QuestionForm{QuestionKind::WhatItCosts, "costs", "what it costs", "",
                 "What each setup takes more than the reference, in money, noise, speed and energy, and what for."},
    QuestionForm{QuestionKind::IsClaimTrue, "claim", "is a claim true", "",
                 "What somebody claims of a setup, or was expected of it, against what was measured."}};

constexpr double kHottestTargetC = 150, kColdestTargetC = -60, kMostWatts = 1e5, kLoudestDba = 200;

bool isSensible(QuestionKind kind, double target) {
  if (kind == QuestionKind::HoldsInRoom) return target >= kColdestTargetC && target <= kHottestTargetC;
  return target > 0 && target <= (kind == QuestionKind::HoldsAtPower ? kMostWatts : kLoudestDba);
}

}  // namespace

std::span<const QuestionForm> questionForms() { return kForms; }

const QuestionForm& formOf(QuestionKind kind) { return kForms.at(static_cast<size_t>(kind)); }

std::string questionWords(const StudyQuestion& question) {
  const QuestionForm& form = formOf(question.kind);
  if (!form.hasTarget()) return std::string(form.words);
  if (!question.target) return fmt::format("{} … {}", form.words, form.unit);
  return fmt::format("{} {:g}\u202F{}", form.words, *question.target, form.unit);
}

Result<std::optional<double>> parseQuestionTarget(QuestionKind kind, std::string_view typed) {
  const QuestionForm& form = formOf(kind);
  const std::string plain = plainBlanks(typed);
  std::string_view number = trimmed(plain);
  if (number.empty()) return std::optional<double>();
  if (!form.unit.empty() && number.ends_with(form.unit))
    number = trimmed(number.substr(0, number.size() - form.unit.size()));
  const Json value = parseFieldValue("target", std::string(number));
  if (!value.is_number() || !isSensible(kind, value.get<double>()))
    return Error::badInput(fmt::format("“{}” is no number in {}; write e.g. {}.", withoutControls(plain), form.unit,
                                       kind == QuestionKind::HoldsInRoom    ? "35 °C"
                                       : kind == QuestionKind::HoldsAtPower ? "88 W"
                                                                            : "36 dBA"));
  return std::optional(value.get<double>());
}

StudyQuestion questionFromJson(const JsonCursor& json) {
  StudyQuestion question;
  const std::string code = json.text("kind");
  const auto form =
      std::find_if(kForms.begin(), kForms.end(), [&](const QuestionForm& one) { return one.code == code; });
  if (form != kForms.end()) question.kind = form->kind;
  const double target = json.number("target");
  if (form != kForms.end() && form->hasTarget() && isSensible(question.kind, target)) question.target = target;
  return question;
}

Json questionToJson(const StudyQuestion& question) {
  Json json = {{"kind", formOf(question.kind).code}};
  if (question.target) json["target"] = *question.target;
  return json;
}

}  // namespace ash
