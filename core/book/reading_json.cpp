// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/reading_json.h"

#include "model/role.h"

namespace ash {

Json readingToJson(const Reading& reading) {
  return {{"id", reading.id},         {"path", reading.path}, {"device", reading.device},
          {"driver", reading.driver}, {"kind", reading.kind}, {"name", reading.name},
          {"limits", reading.limits}, {"step", reading.step}, {"accuracy", reading.accuracy},
          {"place", reading.place}};
}

Reading readingFromJson(const Json& about, const std::string& role, const std::string& unit) {
  Reading reading;
  reading.id = about.value("id", "");
  reading.path = about.value("path", "");
  reading.device = about.value("device", "");
  reading.driver = about.value("driver", "");
  reading.kind = about.value("kind", "");
  reading.name = about.value("name", "");
  reading.step = about.value("step", 0.0);
  reading.accuracy = about.value("accuracy", 0.0);
  reading.place = about.value("place", "");
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
  if (const auto known = findRole(role)) reading.quantity = known->quantity;
  return reading;
}

}  // namespace ash
