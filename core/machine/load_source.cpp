// SPDX-License-Identifier: GPL-3.0-or-later
#include "machine/load_source.h"

#include "model/role.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr char kErrors[] = "errors", kPasses[] = "passes";  // what a load tells beside its rates
}  // namespace

LoadSource::LoadSource(const LoadOptions& options) {
  m_info.id = "load";
  m_draws = options.kind == LoadKind::Graphics;
  for (const LoadOptions& other : options.also) m_draws |= other.kind == LoadKind::Graphics;
  add(roles::kWorkRate, roles::kWorkRate, Quantity::Rate, "work done per second");
  if (m_draws) add(roles::kFrameRate, roles::kFrameRate, Quantity::FrameRate, "frames drawn per second");
  add(kErrors, "", Quantity::Other, "wrong results");
  add(kPasses, "", Quantity::Other, "passes that ended");
  for (const auto& [name, pattern] : options.live) {
    const Role role(name);
    if (role != roles::kWorkRate && (role != roles::kFrameRate || !m_draws))
      add(name, role.isKnown() ? role : Role(), role.quantity(), "told by the command");
  }
  m_values.assign(m_names.size(), 0);
}

void LoadSource::add(const std::string& name, const Role& role, Quantity quantity, const std::string& words) {
  Reading reading;
  reading.id = "load/" + name;
  reading.device = "load";
  reading.driver = "load";
  reading.kind = quantity == Quantity::Other ? "count" : "throughput";
  reading.name = role.empty() ? "load." + name : words;
  reading.role = role;
  reading.quantity = quantity;
  reading.unit = unitOf(quantity);
  reading.meaning = words;
  m_info.readings.push_back(reading);
  m_names.push_back(name);
}

Sweep LoadSource::sweep() {
  const std::lock_guard lock(m_mutex);
  return {bootTimeS(), m_values};
}

void LoadSource::tell(const LoadProcess& load) {
  *m_pid = load.pid();
  const bool isOn = load.isRunning();
  const std::lock_guard lock(m_mutex);
  for (size_t i = 0; i < m_names.size(); ++i) {
    const auto live = load.live().find(m_names[i]);
    if (isOn && live != load.live().end())
      m_values[i] = live->second;
    else if (m_names[i] == roles::kWorkRate)
      m_values[i] = isOn ? load.workRate() : 0;
    else if (m_names[i] == roles::kFrameRate && m_draws)
      m_values[i] = isOn ? load.frameRate() : 0;
    else if (m_names[i] == kErrors)
      m_values[i] = static_cast<double>(load.errors());
    else if (m_names[i] == kPasses)
      m_values[i] = static_cast<double>(load.passes());
    else
      m_values[i] = kMissing;
  }
}

}  // namespace ash
