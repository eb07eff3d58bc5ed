// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/json.h"

namespace ash {
namespace {
constexpr int kDeepest = 64;
bool isShallow(int depth, Json::parse_event_t, Json&) { return depth <= kDeepest; }
}  // namespace

std::string jsonText(const Json& value) { return value.dump(-1, ' ', false, Json::error_handler_t::replace); }

Json parseObject(const std::string& text) {
  Json parsed = Json::parse(text, isShallow);
  return parsed.is_object() ? parsed : Json::object();
}

Json parseQuietly(const std::string& text) { return Json::parse(text, isShallow, false); }

}  // namespace ash
