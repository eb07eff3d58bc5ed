// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/verdict.h"

#include <array>

#include "model/condition_field.h"

namespace ash {
namespace {

struct CheckRow {
  CheckKind kind;
  std::string_view code;  // empty: its subject's
  std::string_view title;
};

constexpr std::array kChecks = {
    CheckRow{CheckKind::Load, "load", "Loads differ"},
    CheckRow{CheckKind::Room, "room", "Room moved"},
    CheckRow{CheckKind::Machine, "machine", "Two machines"},
    CheckRow{CheckKind::Bench, "bench", "Two benches"},
    CheckRow{CheckKind::Procedure, "procedure", "Two procedures"},
    CheckRow{CheckKind::Clock, "", "Unequal clocks"},
    CheckRow{CheckKind::Window, "window", "Windows differ"},
    CheckRow{CheckKind::Fan, "", "Unequal fans"},
    CheckRow{CheckKind::Settling, "settling", "Not settled"},
    CheckRow{CheckKind::Duration, "duration", "Unequal length"},
    CheckRow{CheckKind::Instrument, "instrument", "Two instruments"},
    CheckRow{CheckKind::BackgroundLoad, "background_load", "Other work"},
    CheckRow{CheckKind::StartedWarm, "started_warm", "Started warm"},
    CheckRow{CheckKind::RoomMoved, "room_moved", "Room moved"},
    CheckRow{CheckKind::PowerRole, "power_role", "Power of two kinds"},
    CheckRow{CheckKind::SeveralChanges, "several_changes", "More than one change"},
    CheckRow{CheckKind::Void, "void", "Void"},
    CheckRow{CheckKind::Outcome, "outcome", "Did not finish"},
    CheckRow{CheckKind::Repeat, "repeat", "A repeat apart"},
    CheckRow{CheckKind::Remount, "remount", "A remount apart"},
    CheckRow{CheckKind::Resistance, "resistance", "Resistance moved"},
    CheckRow{CheckKind::FirstMount, "first_mount", "First mount"},
    CheckRow{CheckKind::SideEffect, "side_effect", "Side effect"},
    CheckRow{CheckKind::NoiseDistance, "noise_distance", "Noise brought nearer or farther"},
    CheckRow{CheckKind::Equal, "equal", "Not levelled"},
    CheckRow{CheckKind::Field, "", ""},
};
static_assert([] {
  for (size_t i = 0; i < kChecks.size(); ++i)
    if (static_cast<size_t>(kChecks[i].kind) != i) return false;
  return kChecks.size() == static_cast<size_t>(CheckKind::Field) + 1;
}());

const CheckRow& rowOf(CheckKind kind) { return kChecks[static_cast<size_t>(kind)]; }

constexpr std::array<std::string_view, 8> kVerdicts = {"",      "within margin", "too few repeats", "better",
                                                       "worse", "higher",        "lower",           "not comparable"};
constexpr std::array<std::string_view, 3> kBounds = {"", "at least", "at most"};
constexpr std::array<std::string_view, 3> kSeverities = {"block", "warn", "info"};

}  // namespace

std::string_view wordsOf(Verdict verdict) { return kVerdicts.at(static_cast<size_t>(verdict)); }
std::string_view wordsOf(Bound bound) { return kBounds.at(static_cast<size_t>(bound)); }
std::string_view wordsOf(Severity severity) { return kSeverities.at(static_cast<size_t>(severity)); }

bool isShown(Verdict verdict) {
  return verdict == Verdict::Better || verdict == Verdict::Worse || verdict == Verdict::Higher ||
         verdict == Verdict::Lower;
}

std::string codeOf(const ComparisonCheck& check) {
  const CheckRow& row = rowOf(check.kind);
  return row.code.empty() ? check.subject : std::string(row.code);
}

std::string titleOf(const ComparisonCheck& check) {
  const CheckRow& row = rowOf(check.kind);
  return row.title.empty() ? fieldTitle(check.subject) + " differs" : std::string(row.title);
}

}  // namespace ash
