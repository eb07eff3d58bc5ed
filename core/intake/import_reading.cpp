// SPDX-License-Identifier: GPL-3.0-or-later
#include "intake/import_reading.h"

namespace ash {

Reading readingOf(const PlannedColumn& column) {
  Reading reading;
  reading.id = column.name;
  reading.name = column.name;
  reading.role = column.role;
  reading.quantity = column.unit.quantity;
  reading.unit = column.storedUnit();
  reading.kind = "import";
  return reading;
}

}  // namespace ash
