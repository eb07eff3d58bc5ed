// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/bench.h"

#include <fmt/format.h>

#include "model/text.h"

namespace ash {

Status RunBench::canTurn(const std::string& knob) {
  return Error::badInput(fmt::format("There is no knob \"{}\" here that could be set.", withoutControls(knob)));
}

Status RunBench::checkKnob(const KnobSetting& setting) { return canTurn(setting.knob); }

Result<Turned> RunBench::turn(const KnobSetting& setting) { return checkKnob(setting).error(); }

}  // namespace ash
