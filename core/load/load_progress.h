// SPDX-License-Identifier: GPL-3.0-or-later
// What a load process tells its recorder, as lines of JSON.
#pragma once

#include "load/load_worker.h"
#include "model/json.h"

namespace ash {

Json progressToJson(const LoadProgress& progress);
/// What is missing or of the wrong shape has its default.
LoadProgress progressFromJson(const Json& told);

}  // namespace ash
