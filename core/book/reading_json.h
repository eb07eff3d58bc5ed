// SPDX-License-Identifier: GPL-3.0-or-later
// A reading's description as JSON, as the book keeps it.
#pragma once

#include "model/json.h"
#include "model/reading.h"

namespace ash {

Json readingToJson(const Reading& reading);
/// Fields that are missing keep their defaults; `role` and `unit` come from columns of their own.
Reading readingFromJson(const Json& about, const std::string& role, const std::string& unit);

}  // namespace ash
