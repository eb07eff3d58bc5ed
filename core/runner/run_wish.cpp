// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_wish.h"

#include <algorithm>

#include "model/text.h"

namespace ash {
namespace {
constexpr double kLongestExtensionS = 86400;
}

Result<RunWish> parseWish(const Json& wish) {
  const std::string what = valueIn(wish, "do", "");
  RunWish parsed;
  if (what == "stop") {
    parsed.text = withoutControls(valueIn(wish, "reason", "Stopped by hand."));
    if (parsed.text.empty()) parsed.text = "Stopped by hand.";
  } else if (what == "end phase") {
    parsed.kind = RunWish::Kind::EndPhase;
  } else if (what == "extend") {
    parsed.kind = RunWish::Kind::Extend;
    parsed.seconds = valueIn(wish, "seconds", -1.0);
    if (!(parsed.seconds >= 0 && parsed.seconds <= kLongestExtensionS))
      return Error::badInput("\"extend\" needs \"seconds\" from 0 to 86400.");
  } else if (what == "note") {
    parsed.kind = RunWish::Kind::Note;
    parsed.text = withoutControls(valueIn(wish, "text", ""));
  } else {
    return Error::badInput("\"do\" must be stop, end phase, extend or note.");
  }
  return parsed;
}

}  // namespace ash
