// SPDX-License-Identifier: GPL-3.0-or-later
// What kind of question a study asks, and of what: "holds in a room of 35 °C". The answer begins accordingly.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>

#include "model/json_cursor.h"
#include "model/result.h"

namespace ash {

enum class QuestionKind {
  Open,          ///< the figure and its differences, no more
  WhichIsBest,   ///< of several setups
  HoldsInRoom,   ///< at a room temperature, °C
  HoldsAtPower,  ///< under that many watts, in the room it was measured in
  HoldsAtNoise,  ///< within that many dBA
  HowFar,        ///< the furthest that still holds
  WhatItCosts,   ///< in money, noise, speed and energy, against the reference
  IsClaimTrue,   ///< what somebody claims of it
};

/// A row of the table of kinds.
struct QuestionForm {
  QuestionKind kind;
  std::string_view code;   ///< as the book keeps it
  std::string_view words;  ///< as a person chooses it; the target follows
  std::string_view unit;   ///< of its target; empty for one that has none
  std::string_view means;  ///< one sentence for a tooltip
  bool hasTarget() const { return !unit.empty(); }
};
std::span<const QuestionForm> questionForms();
const QuestionForm& formOf(QuestionKind kind);

struct StudyQuestion {
  QuestionKind kind = QuestionKind::Open;
  std::optional<double> target;  ///< in the unit of its form

  /// Something is asked that the answer begins with.
  bool isAsked() const { return kind != QuestionKind::Open && isWhole(); }
  /// One whose target is still to be said asks nothing yet.
  bool isWhole() const { return !formOf(kind).hasTarget() || target.has_value(); }
  bool operator==(const StudyQuestion&) const = default;
};

/// "holds in a room of 35 °C", "which is best".
std::string questionWords(const StudyQuestion& question);

/// A target as a person types it, with or without its unit; empty takes it away. The error says what it may be.
Result<std::optional<double>> parseQuestionTarget(QuestionKind kind, std::string_view typed);

/// Anything that is none is an open question.
StudyQuestion questionFromJson(const JsonCursor& json);
Json questionToJson(const StudyQuestion& question);

}  // namespace ash
