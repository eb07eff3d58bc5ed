// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_wish.h"

#include <algorithm>

#include "model/text.h"

namespace ash {
namespace {
constexpr double kLongestExtensionS = 86400;
}

Result<RunWish> parseWish(const Json& wish) {
  RunWish parsed;
  parsed.kind = WishKind::fromText(valueIn(wish, "do", ""));
  switch (parsed.kind) {
    case WishKind::Stop:
      parsed.text = withoutControls(valueIn(wish, "reason", kStoppedByHand));
      if (parsed.text.empty()) parsed.text = kStoppedByHand;
      return parsed;
    case WishKind::EndPhase:
      return parsed;
    case WishKind::Extend:
      parsed.seconds = valueIn(wish, "seconds", -1.0);
      if (parsed.seconds >= 0 && parsed.seconds <= kLongestExtensionS) return parsed;
      return Error::badInput("\"extend\" needs \"seconds\" from 0 to 86400.");
    case WishKind::Note:
    case WishKind::Answer:
      parsed.text = withoutControls(valueIn(wish, "text", ""));
      return parsed;
    case WishKind::Other:
      break;
  }
  return Error::badInput("\"do\" must be stop, end phase, extend, note or answer.");
}

}  // namespace ash
