// SPDX-License-Identifier: GPL-3.0-or-later
// Readings that a person takes and types: noise, a surface, a score, the meter at the wall, the room.
#pragma once

#include <span>
#include <string>
#include <string_view>

#include "model/role.h"

namespace ash {

/// One reading that can be typed, and what is believable of it.
struct TypedReading {
  std::string_view word;     ///< as it is typed: "wall"
  std::string_view role;     ///< its role; empty for one that has a place of its own (surface)
  std::string_view unit;     ///< it is kept in
  double least, most;        ///< in that unit
  std::string_view example;  ///< of a whole line

  bool hasOwnPlace() const { return role.empty(); }
  bool isNamed() const { return role == roles::kScore; }     ///< several of one kind have names: "score graphics 1490"
  bool canBeAdded() const { return role == roles::kNoise; }  ///< sound levels of several sources
  /// The role with a place where it has one of its own.
  Role roleAt(std::string_view place) const;
};

/// All of them, in the order in which they are offered.
std::span<const TypedReading> typedReadings();
/// By the word that is typed; null for none.
const TypedReading* typedReadingCalled(std::string_view word);
/// Of a role; null for one that is not typed.
const TypedReading* typedReadingOf(const Role& role);

/// A role as it would be typed: "noise", "wall", "surface hinge"; its text where it is not typed.
std::string typedWords(const Role& role);

}  // namespace ash
