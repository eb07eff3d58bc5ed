// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/bench_reader.h"

#include <QTimer>
#include <cmath>

#include "model/role.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr double kIntervalS = 0.5;
constexpr int kFetchEveryMs = 100;
constexpr double kDrawnW = 0.05;
}  // namespace

BenchReader::BenchReader(const QString& root) : m_root(root.toStdString()) {}
BenchReader::~BenchReader() = default;

void BenchReader::open() {
  m_sampler.reset();
  m_machine = openLinuxMachine(m_root, m_choices, m_machine.hung);
  m_isOpen = true;
}

void BenchReader::look(bool keepsOn) {
  if (m_timer == nullptr) {
    m_timer = new QTimer(this);
    connect(m_timer, &QTimer::timeout, this, &BenchReader::take);
  }
  if (!m_isOpen) open();
  m_keepsOn |= keepsOn;
  // A source that never answers has a thread of its own: the page never waits for it.
  if (!m_sampler) m_sampler.emplace(m_machine.sources, kIntervalS);
  m_timer->start(kFetchEveryMs);
}

void BenchReader::rest() {
  m_keepsOn = false;
  if (m_timer != nullptr) m_timer->stop();
  m_sampler.reset();
}

void BenchReader::setChoices(const std::shared_ptr<const ReadingChoices>& choices) {
  const bool isSame = choicesToJson(*choices) == choicesToJson(m_choices);
  m_choices = *choices;
  if (isSame || !m_isOpen) return;
  const bool wasLooking = m_sampler.has_value();
  open();
  if (wasLooking) look(m_keepsOn);
}

void BenchReader::takeSweep(int source, const Sweep& sweep) {
  const Source& from = *m_machine.sources[static_cast<size_t>(source)];
  const auto& readings = from.info().readings;
  for (size_t i = 0; i < readings.size() && i < sweep.values.size(); ++i) {
    ReadingNow& now = m_seen[readings[i].id];
    const double value = sweep.values[i];
    if (std::isfinite(value)) {
      now.low = std::fmin(now.low, value);
      now.high = std::fmax(now.high, value);
      if (value != now.value) m_changedS[readings[i].id] = sweep.timeS;
      m_answeredS[readings[i].id] = sweep.timeS;
    }
    now.value = value;
  }
}

void BenchReader::take() {
  bool isNew = false;
  while (const auto tick = m_sampler->next(0)) {
    for (const auto& [source, sweep] : tick->sweeps) takeSweep(source, sweep);
    isNew = true;
  }
  if (!isNew || bootTimeS() - m_toldS < 0.8 * kIntervalS) return;
  tell();
  if (!m_keepsOn) rest();
}

MachineNow machineNow(const BenchReadings& readings) {
  MachineNow now;
  now.readings = readings.readings.size();
  for (const ReadingNow& reading : readings.readings) {
    const Role& role = reading.reading.role;
    if (role == roles::kCpuTemp) now.processorC = reading.value;
    if (role == roles::kRoom) now.roomC = reading.value;
    if (role == roles::kCpuLoad) now.loadPercent = reading.value;
    // Drawn from it is positive; what is fed into it, or rests, is no battery operation.
    if (role == roles::kBatteryPower && std::isfinite(reading.value)) now.isOnBattery = reading.value > kDrawnW;
  }
  return now;
}

void BenchReader::tell() {
  m_toldS = bootTimeS();
  auto now = std::make_shared<BenchReadings>();
  now->machine = valueIn(m_machine.facts, "name", std::string());
  now->machineKey = machineKey(m_machine.facts);
  now->timeS = m_toldS;
  now->skipped = m_machine.skipped;
  now->missing = m_machine.missing;
  now->choices = m_choices;
  for (const auto& source : m_machine.sources) {
    const auto& readings = source->info().readings;
    for (const Reading& about : readings) {
      if (about.isHidden) continue;
      ReadingNow reading = m_seen[about.id];
      reading.reading = about;
      const auto answered = m_answeredS.find(about.id);
      if (answered != m_answeredS.end()) reading.ageS = m_toldS - answered->second;
      const auto changed = m_changedS.find(about.id);
      if (changed != m_changedS.end()) reading.stillS = m_toldS - changed->second;
      if (source->isGone()) reading.fault = "the device is gone";
      now->readings.push_back(std::move(reading));
    }
  }
  for (const Reading& hidden : m_machine.hidden) {
    ReadingNow reading;
    reading.reading = hidden;
    reading.isHidden = true;
    now->readings.push_back(std::move(reading));
  }
  emit seen(now);
}

}  // namespace ash
