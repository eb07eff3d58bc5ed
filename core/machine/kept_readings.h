// SPDX-License-Identifier: GPL-3.0-or-later
// A source of which only some readings are logged.
#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "readings/gauges/source.h"

namespace ash {

/// Tells of the readings of another source that are kept, in their order; all else is that source's.
class KeptReadings : public Source {
 public:
  /// What is kept as hidden (it has a limit of danger) has no role, so that a stop rule sees it and no page shows it.
  KeptReadings(std::shared_ptr<Source> all, const std::function<bool(const Reading&)>& isHidden);

  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  std::string whyMissing(size_t reading) const override { return m_all->whyMissing(m_kept[reading]); }
  std::vector<std::string> takeTold() override { return m_all->takeTold(); }
  size_t fileCount() const override { return m_all->fileCount(); }
  bool isGone() const override { return m_all->isGone(); }
  /// The hidden ones as they are, those with a limit of danger among them.
  const std::vector<Reading>& hidden() const { return m_hidden; }

 private:
  std::shared_ptr<Source> m_all;
  SourceInfo m_info;
  std::vector<size_t> m_kept;
  std::vector<Reading> m_hidden;
};

}  // namespace ash
