// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/bench_reader.h"

#include <QTimer>

#include "system/clock.h"

namespace ash {
namespace {
constexpr double kIntervalS = 0.5;
constexpr int kFetchEveryMs = 100;
}  // namespace

BenchReader::BenchReader(const QString& root) { m_description.root = root.toStdString(); }
BenchReader::~BenchReader() = default;

void BenchReader::look(bool keepsOn) {
  if (m_timer == nullptr) {
    m_timer = new QTimer(this);
    connect(m_timer, &QTimer::timeout, this, &BenchReader::take);
  }
  if (!m_isOpen) m_machine = MachineSources::open(m_description);
  m_isOpen = true;
  m_keepsOn |= keepsOn;
  // A source that never answers has a thread of its own: the page never waits for it.
  if (!m_machine.isSampling()) m_machine.begin(kIntervalS);
  m_timer->start(kFetchEveryMs);
}

void BenchReader::rest() {
  m_keepsOn = false;
  if (m_timer != nullptr) m_timer->stop();
  m_machine.rest();
}

void BenchReader::setChoices(const std::shared_ptr<const ReadingChoices>& choices) {
  const bool isSame = choicesToJson(*choices) == choicesToJson(m_description.choices);
  m_description.choices = *choices;
  if (isSame || !m_isOpen) return;
  const bool wasLooking = m_machine.isSampling();
  m_machine.openAnew(*choices);
  if (wasLooking) look(m_keepsOn);
}

void BenchReader::take() {
  bool isNew = false;
  while (m_machine.next(0)) isNew = true;
  if (!isNew || bootTimeS() - m_toldS < 0.8 * kIntervalS) return;
  tell();
  if (!m_keepsOn) rest();
}

void BenchReader::tell() {
  m_toldS = bootTimeS();
  emit seen(std::make_shared<const MachineSnapshot>(m_machine.snapshot(m_toldS)));
}

}  // namespace ash

#include "moc_bench_reader.cpp"
