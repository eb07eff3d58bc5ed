// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/setup_name.h"

#include <fmt/format.h>

#include "model/pattern.h"
#include "model/text.h"

namespace ash {

std::string familyName(const std::string& setup) {
  static const Pattern kRung =
      Pattern::own("^(.*?[^\\s,@-])[\\s,@-]+[0-9]+(?:\\.[0-9]+)?[^0-9A-Za-z%]*(?:%|W|V|mV|RPM|rpm|dBA|MHz)?$");
  const std::string name(trimmed(setup));
  const auto parts = kRung.matchWhole(name);
  return parts ? std::string((*parts)[1]) : name;
}

std::string rungName(const std::string& family, double value, const std::string& unit) {
  return fmt::format("{}, {}{}{}", family, value, unit.empty() ? "" : " ", unit);
}

}  // namespace ash
