// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/open_word.h"

#include <catch2/catch.hpp>

#include "model/event_kind.h"

using namespace ash;

TEST_CASE("aKnownWordIsItsValueAndAnotherIsKeptAsItCame") {
  for (size_t i = 0; i < EventKind::kWords.size(); ++i) {
    const EventKind kind = EventKind::fromText(std::string(EventKind::kWords[i]));
    CHECK(kind == static_cast<EventKind::Known>(i));
    CHECK(kind.text() == EventKind::kWords[i]);
  }
  const EventKind later = EventKind::fromText("of a later version");
  CHECK(later == EventKind::Other);
  CHECK(later.text() == "of a later version");
  CHECK(EventKind::fromText("").text().empty());
  CHECK(EventKind::fromText("Note") == EventKind::Other);  // case counts: it is a code
}
