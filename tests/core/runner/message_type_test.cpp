// SPDX-License-Identifier: GPL-3.0-or-later
// The words of docs/run-socket.md as types: every message says what it is, every wish is read without trust.
#include "runner/message_type.h"

#include <catch2/catch.hpp>

#include "runner/run_messages.h"
#include "runner/run_wish.h"

using namespace ash;

TEST_CASE("everyMessageIsReadBackAsTheTypeItWasToldAs") {
  CHECK(typeOf(samplesMessage(0, 1, {2})) == MessageType::Samples);
  CHECK(typeOf(eventMessage({})) == MessageType::Event);
  CHECK(typeOf(outcomeMessage({})) == MessageType::Outcome);
  CHECK(typeOf(stateMessage({}, {}, false)) == MessageType::State);
  // One of a later version, and what is no message at all, are passed over.
  for (const Json& other :
       {Json({{"type", "weather"}}), Json({{"type", 3}}), Json(nullptr), Json::array(), Json("run")}) {
    INFO(jsonText(other));
    CHECK(typeOf(other) == MessageType::Other);
  }
}

TEST_CASE("aWishIsOneOfFiveAndIsBounded") {
  CHECK(parseWish({{"do", "stop"}})->kind == WishKind::Stop);
  CHECK(parseWish({{"do", "stop"}})->text == kStoppedByHand);
  CHECK(parseWish({{"do", "stop"}, {"reason", ""}})->text == kStoppedByHand);
  CHECK(parseWish({{"do", "stop"}, {"reason", "smoke\x1b[31m"}})->text.find('\x1b') == std::string::npos);
  CHECK(parseWish({{"do", "end phase"}})->kind == WishKind::EndPhase);
  CHECK(parseWish({{"do", "note"}, {"text", "coil whine"}})->text == "coil whine");
  CHECK(parseWish({{"do", "extend"}, {"seconds", 90}})->seconds == 90);
  for (const Json& seconds : {Json(-1), Json(86401), Json("60"), Json(nullptr)}) {
    INFO(jsonText(seconds));
    CHECK_FALSE(parseWish({{"do", "extend"}, {"seconds", seconds}}));
  }
  for (const Json& what : {Json("halt"), Json(""), Json(1), Json(nullptr), Json::object()}) {
    INFO(jsonText(what));
    const auto wish = parseWish({{"do", what}});
    REQUIRE_FALSE(wish);
    CHECK(wish.error().message == "\"do\" must be stop, end phase, extend, note or answer.");
  }
}
