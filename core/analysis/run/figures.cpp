// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/figures.h"

namespace ash {

std::string_view causeText(Cause cause) {
  switch (cause) {
    case Cause::Thermal:
      return "thermal";
    case Cause::Power:
      return "power";
    case Cause::Other:
      return "other";
    case Cause::Unknown:
      return "unknown";
  }
  return "unknown";
}

const ChannelFigures* Figures::channel(const std::string& name) const {
  for (const ChannelFigures& figures : channels) {
    if (figures.name == name) return &figures;
  }
  return nullptr;
}

}  // namespace ash
