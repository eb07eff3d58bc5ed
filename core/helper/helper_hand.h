// SPDX-License-Identifier: GPL-3.0-or-later
// Turns knobs by the helper `ash-gauge-turn`, for a process that may not write them itself.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "bus/owned_bus.h"
#include "knobs/knob_hand.h"

namespace ash {

/// One thread at a time. What it has turned for a run goes back when it is destroyed, or when its process dies.
class HelperHand : public KnobHand {
 public:
  /// `knobs` are those of the machine, with their ranges; those of them that only want root count as turnable. Error:
  /// the system bus cannot be reached.
  static Result<std::unique_ptr<HelperHand>> open(std::vector<Knob> knobs, TurnedBy by);

  const std::vector<Knob>& knobs() const override { return m_knobs; }
  /// Waits as long as a person needs for a password, the first time. The helper looks itself how hot it is.
  Result<Turned> turn(const std::string& id, const std::string& value,
                      const std::function<NearLimit()>& nearest) override;
  std::vector<std::string> restore(bool all) override;
  std::vector<std::string> releaseFans() override;
  bool hasTurnedFans() const override { return m_hasTurnedFans; }
  /// Also what was set by hand, and how many files went back.
  PutBack restoreAll();

 private:
  HelperHand(OwnedBus bus, TurnedBy by) : m_bus(std::move(bus)), m_by(by) {}
  PutBack askForSentences(const char* method, bool hasCount);

  OwnedBus m_bus;
  TurnedBy m_by;
  std::vector<Knob> m_knobs;
  bool m_isAllowed = false, m_hasTurnedFans = false;
};

}  // namespace ash
