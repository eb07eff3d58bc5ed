// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/reading_json.h"

#include "model/role.h"
#include "model/text.h"

namespace ash {

Json readingToJson(const Reading& reading) {
  return {{"id", reading.id},          {"path", reading.path},       {"device", reading.device},
          {"driver", reading.driver},  {"kind", reading.kind},       {"name", reading.name},
          {"limits", reading.limits},  {"step", reading.step},       {"accuracy", reading.accuracy},
          {"place", reading.place},    {"origins", reading.origins}, {"refresh_s", reading.refreshS},
          {"meaning", reading.meaning}};
}

Reading readingFromJson(const Json& about, const std::string& role, const std::string& unit) {
  Reading reading;
  reading.id = withoutControls(valueIn(about, "id", ""));
  reading.path = withoutControls(valueIn(about, "path", ""));
  reading.device = withoutControls(valueIn(about, "device", ""));
  reading.driver = withoutControls(valueIn(about, "driver", ""));
  reading.kind = withoutControls(valueIn(about, "kind", ""));
  reading.name = withoutControls(valueIn(about, "name", ""));
  reading.step = valueIn(about, "step", 0.0);
  reading.accuracy = valueIn(about, "accuracy", 0.0);
  reading.place = withoutControls(valueIn(about, "place", ""));
  reading.refreshS = valueIn(about, "refresh_s", 0.0);
  reading.meaning = withoutControls(valueIn(about, "meaning", ""));
  const auto origins = about.find("origins");
  if (origins != about.end() && origins->is_object()) {
    for (const auto& [name, value] : origins->items()) {
      if (value.is_string()) reading.origins[name] = withoutControls(value.get<std::string>());
    }
  }
  const auto limits = about.find("limits");
  if (limits != about.end() && limits->is_object()) {
    for (const auto& [name, value] : limits->items()) {
      if (value.is_number()) reading.limits[name] = value.get<double>();
    }
  }
  reading.role = role;
  reading.unit = unit;
  const auto match = matchUnit(unit);
  reading.quantity = match ? match->quantity : Quantity::Other;
  if (reading.role.isKnown()) reading.quantity = reading.role.quantity();
  return reading;
}

}  // namespace ash
