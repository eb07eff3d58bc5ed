// SPDX-License-Identifier: GPL-3.0-or-later
// What a recording tells over its socket, and what can be asked of it (docs/run-socket.md).
#pragma once

#include <array>

#include "model/json.h"
#include "model/open_word.h"

namespace ash {

struct MessageWords {
  enum Known { Run, Samples, State, Event, Phase, Answer, Outcome, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"run",   "samples", "state",  "event",
                                                                 "phase", "answer",  "outcome"};
};
/// The "type" of a message; one of a later version is passed over.
using MessageType = OpenWord<MessageWords>;
inline MessageType typeOf(const Json& message) { return MessageType::fromText(valueIn(message, "type", "")); }

struct WishWords {
  enum Known { Stop, EndPhase, Extend, Note, Answer, Other };
  static constexpr std::array<std::string_view, Other> kWords = {"stop", "end phase", "extend", "note", "answer"};
};
/// What a line to a recording asks it to "do".
using WishKind = OpenWord<WishWords>;

}  // namespace ash
