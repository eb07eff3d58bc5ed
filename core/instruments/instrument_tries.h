// SPDX-License-Identifier: GPL-3.0-or-later
// Whether each instrument answered when it was last tried, kept for this person beside what else is remembered.
#pragma once

#include <optional>
#include <string>

#include "instruments/instrument.h"
#include "model/json.h"

namespace ash {

/// $XDG_STATE_HOME/ash-gauge/instrument-tries.json (~/.local/state without it). What is missing or broken tells
/// nothing, and what cannot be written is forgotten.
class InstrumentTries {
 public:
  static InstrumentTries load();
  /// Nothing when it was not tried as it is described now.
  std::optional<bool> of(const Instrument& instrument) const;
  void set(const Instrument& instrument, bool isGood);
  void keep() const;

 private:
  Json m_tries = Json::object();  // by name
};

}  // namespace ash
