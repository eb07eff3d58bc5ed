// SPDX-License-Identifier: GPL-3.0-or-later
// Turns knobs by writing the kernel's files itself.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "knobs/knob_hand.h"
#include "knobs/turned_journal.h"

namespace ash {

/// Puts back what a run that is gone has left turned; what became of it in a sentence, empty when nothing was left.
/// What a person has set stays.
std::string putBackLeft(const std::string& root);

class Turner : public KnobHand {
 public:
  /// Holds the journal as long as it lives. Does not put back what it finds turned: restore() does.
  static Result<Turner> open(const std::string& root, TurnedBy by);

  const std::vector<Knob>& knobs() const override { return m_knobs; }
  Result<Turned> turn(const std::string& id, const std::string& value,
                      const std::function<NearLimit()>& nearest) override;
  std::vector<std::string> restore(bool all) override;
  std::vector<std::string> releaseFans() override;
  bool hasTurnedFans() const override;
  const std::vector<TurnedFile>& turned() const { return m_journal.turned(); }

 private:
  Turner(std::string root, TurnedJournal journal, TurnedBy by);
  Status checkOrder(const Knob& knob, const KnobTarget& target) const;
  std::string rawOf(const Knob& knob, size_t file, const KnobTarget& target) const;
  Result<std::vector<TurnedFile>> asTheyAre(const Knob& knob) const;
  Turned readBack(const Knob& knob, const KnobTarget& target);
  Status write(const std::string& file, const std::string& raw) const;
  bool look(const std::string& id);
  bool isFileOfFan(const std::string& file) const;
  bool canGoBack(const TurnedFile& one) const;
  std::vector<std::string> putBack(const std::vector<TurnedFile>& files);

  std::string m_root;
  TurnedJournal m_journal;
  TurnedBy m_by;
  std::vector<Knob> m_knobs;
};

}  // namespace ash
