// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/bench_reader.h"

#include <QTimer>
#include <algorithm>
#include <cmath>

#include "system/clock.h"

namespace ash {
namespace {
constexpr int kEveryMs = 1000;
}

BenchReader::BenchReader() = default;
BenchReader::~BenchReader() = default;

void BenchReader::look(bool keepsOn) {
  if (m_timer == nullptr) {
    m_timer = new QTimer(this);
    connect(m_timer, &QTimer::timeout, this, &BenchReader::sweep);
  }
  if (keepsOn) m_timer->start(kEveryMs);
  sweep();
}

void BenchReader::rest() {
  if (m_timer != nullptr) m_timer->stop();
}

void BenchReader::sweep() {
  if (!m_isOpen) {
    m_machine = openLinuxMachine("");
    m_isOpen = true;
  }
  auto now = std::make_shared<BenchReadings>();
  if (m_machine.facts.contains("name") && m_machine.facts["name"].is_string())
    now->machine = m_machine.facts["name"].get<std::string>();
  now->skipped = m_machine.skipped;
  now->missing = m_machine.missing;
  for (const auto& source : m_machine.sources) {
    const Sweep sweep = source->sweep();
    const auto& readings = source->info().readings;
    for (size_t i = 0; i < readings.size() && i < sweep.values.size(); ++i) {
      ReadingNow& reading = m_seen[readings[i].id];
      reading.reading = readings[i];
      reading.device = readings[i].device;
      reading.value = sweep.values[i];
      if (std::isfinite(reading.value)) {
        reading.low = std::fmin(reading.low, reading.value);
        reading.high = std::fmax(reading.high, reading.value);
        m_answeredS[readings[i].id] = monotonicS();
      }
      const auto answered = m_answeredS.find(readings[i].id);
      reading.ageS = answered == m_answeredS.end() ? kMissing : monotonicS() - answered->second;
      now->readings.push_back(reading);
    }
  }
  emit seen(now);
}

}  // namespace ash
