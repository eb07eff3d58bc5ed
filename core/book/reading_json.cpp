// SPDX-License-Identifier: GPL-3.0-or-later
#include "book/reading_json.h"

#include "model/json_cursor.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {

Json readingToJson(const Reading& reading) {
  return {{"id", reading.id},
          {"path", reading.path},
          {"device", reading.device},
          {"driver", reading.driver},
          {"kind", reading.kind},
          {"name", reading.name},
          {"limits", reading.limits},
          {"step", reading.step},
          {"accuracy", reading.accuracy},
          {"accuracy_percent", reading.accuracyPercent},
          {"place", reading.place},
          {"origins", reading.origins},
          {"refresh_s", reading.refreshS},
          {"meaning", reading.meaning}};
}

// What a book or a recorder says of a reading is taken as far as it is of the right kind.
Reading readingFromJson(const Json& json, const std::string& role, const std::string& unit) {
  JsonCursor::Mistakes passedOver;
  const JsonCursor about(json, passedOver);
  Reading reading;
  for (const auto& [key, text] :
       {std::pair{"id", &reading.id}, std::pair{"path", &reading.path}, std::pair{"device", &reading.device},
        std::pair{"driver", &reading.driver}, std::pair{"kind", &reading.kind}, std::pair{"name", &reading.name},
        std::pair{"place", &reading.place}, std::pair{"meaning", &reading.meaning}})
    *text = withoutControls(about.text(key));
  about.take("step", reading.step);
  about.take("accuracy", reading.accuracy);
  about.take("accuracy_percent", reading.accuracyPercent);
  about.take("refresh_s", reading.refreshS);
  about.take("limits", reading.limits);
  about.take("origins", reading.origins);
  for (auto& [name, words] : reading.origins) words = withoutControls(words);
  reading.role = role;
  reading.unit = unit;
  const auto match = matchUnit(unit, reading.role.quantity());
  reading.quantity = match ? match->quantity : Quantity::Other;
  if (reading.role.isKnown()) reading.quantity = reading.role.quantity();
  return reading;
}

}  // namespace ash
