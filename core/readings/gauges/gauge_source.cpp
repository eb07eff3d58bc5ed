// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/gauges/gauge_source.h"

#include <algorithm>
#include <filesystem>

#include "system/clock.h"

namespace ash {
namespace fs = std::filesystem;
namespace {
constexpr double kLookAgainEveryS = 1;
}

size_t GaugeSource::add(Reading reading, std::unique_ptr<Gauge> gauge) {
  m_all.push_back(std::move(reading));
  m_gauges.push_back(std::move(gauge));
  m_info.readings = m_all;
  return m_all.size() - 1;
}

size_t GaugeSource::compute(Reading reading, ComputedGauge::Compute compute) {
  if (reading.driver.empty()) reading.driver = "computed";
  return add(std::move(reading), std::make_unique<ComputedGauge>(std::move(compute)));
}

void GaugeSource::keepOnly(const std::function<bool(const Reading&)>& isKept) {
  m_kept.clear();
  m_info.readings.clear();
  for (size_t i = 0; i < m_all.size(); ++i) {
    if (!isKept(m_all[i])) continue;
    m_kept.push_back(i);
    m_info.readings.push_back(m_all[i]);
  }
  m_keepsSome = m_kept.size() < m_all.size();
}

void GaugeSource::setHome(std::string folder, std::string firstFile) {
  m_home = std::move(folder);
  m_firstFile = std::move(firstFile);
}

size_t GaugeSource::fileCount() const {
  const auto files =
      std::count_if(m_gauges.begin(), m_gauges.end(), [](const auto& gauge) { return gauge->readsAFile(); });
  return static_cast<size_t>(files) + (m_sleepFile ? 1 : 0);
}

bool GaugeSource::isAsleep(double nowS) {
  if (!m_sleepFile) return false;
  const auto state = m_sleepFile->readText(nowS);
  return state && state->starts_with("suspended");
}

std::string GaugeSource::whyMissing(size_t reading) const {
  if (m_sleeps) return "the device is asleep and is not woken for it";
  const size_t place = m_keepsSome ? m_kept[reading] : reading;
  return m_gauges[place]->whyMissing();
}

// The folder of the device is gone; the number in its name is given anew when it comes back.
void GaugeSource::lookAgain(double nowS) {
  if (m_home.empty() || nowS - m_lookedS < kLookAgainEveryS) return;
  m_lookedS = nowS;
  const fs::path before = m_home;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(before.parent_path(), error)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with("hwmon") || entry.path() == before || !fs::exists(entry.path() / m_firstFile, error))
      continue;
    for (const auto& gauge : m_gauges) gauge->moveTo(m_home, entry.path().string());
    m_home = entry.path().string();
    return;
  }
}

Sweep GaugeSource::sweep() {
  Sweep sweep;
  Moment moment{bootTimeS(), ++m_sweeps, &m_values};
  m_sleeps = isAsleep(moment.nowS);
  m_values.clear();
  bool isAnyThere = m_gauges.empty() || m_sleeps;
  if (m_sleeps) {
    m_values.assign(m_gauges.size(), kMissing);
  } else {
    for (const auto& gauge : m_gauges) {
      m_values.push_back(gauge->read(moment));
      isAnyThere |= gauge->readsAFile() && !gauge->isGone();
    }
  }
  if (!isAnyThere) lookAgain(moment.nowS);
  m_isGone = !isAnyThere;
  sweep.timeS = bootTimeS();
  sweep.isAsleep = m_sleeps;
  if (!m_keepsSome) {
    sweep.values = m_values;
    return sweep;
  }
  sweep.values.reserve(m_kept.size());
  for (const size_t i : m_kept) sweep.values.push_back(m_values[i]);
  return sweep;
}

}  // namespace ash
