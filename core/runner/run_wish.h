// SPDX-License-Identifier: GPL-3.0-or-later
// What may be asked of a recording over its socket, read from a JSON object without trust (docs/run-socket.md).
#pragma once

#include <string>

#include "model/json.h"
#include "model/result.h"
#include "runner/message_type.h"

namespace ash {

/// The reason of a stop that gives none.
inline constexpr char kStoppedByHand[] = "Stopped by hand.";

struct RunWish {
  WishKind kind = WishKind::Stop;
  std::string text;    ///< reason of a stop, line of a note, answer to a pause; without control characters
  double seconds = 0;  ///< of an extension, 0 to 86400
};

Result<RunWish> parseWish(const Json& wish);

}  // namespace ash
