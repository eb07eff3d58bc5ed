// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/kept_readings.h"

#include "readings/linux_machine.h"

namespace ash {

KeptReadings::KeptReadings(std::shared_ptr<Source> all, const std::function<bool(const Reading&)>& isHidden)
    : m_all(std::move(all)), m_info(m_all->info()) {
  m_info.readings.clear();
  for (size_t i = 0; i < m_all->info().readings.size(); ++i) {
    Reading reading = m_all->info().readings[i];
    if (isHidden(reading)) {
      reading.isHidden = true;
      m_hidden.push_back(reading);
      // Hiding is for the eye: what has a limit of danger is watched all the same.
      if (!hasDanger(reading)) continue;
      reading.role = Role();
    }
    m_kept.push_back(i);
    m_info.readings.push_back(std::move(reading));
  }
}

Sweep KeptReadings::sweep() {
  Sweep whole = m_all->sweep();
  Sweep kept{whole.timeS, {}, whole.isAsleep};
  if (whole.values.empty()) return kept;  // it tells nothing yet
  kept.values.reserve(m_kept.size());
  for (const size_t i : m_kept) kept.values.push_back(whole.values[i]);
  return kept;
}

}  // namespace ash
