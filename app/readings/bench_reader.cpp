// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/bench_reader.h"

#include <QTimer>

#include "app/look/words.h"
#include "instruments/instrument_file.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr double kIntervalS = 0.5;
constexpr int kFetchEveryMs = 100;
constexpr int kTrialLooks = 40;  // at a trial: four seconds
}  // namespace

BenchReader::BenchReader(const QString& root) { m_description.root = root.toStdString(); }
BenchReader::~BenchReader() = default;

void BenchReader::look(bool keepsOn) {
  if (m_timer == nullptr) {
    m_timer = new QTimer(this);
    connect(m_timer, &QTimer::timeout, this, &BenchReader::take);
  }
  if (!m_isOpen) {
    readOwnInstruments();
    m_machine = MachineSources::open(m_description);
  }
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
  // A machine without any source has no ticks, and that is news, too.
  isNew = isNew || m_machine.sources().empty();
  if (!isNew || bootTimeS() - m_toldS < 0.8 * kIntervalS) return;
  tell();
  if (!m_keepsOn) rest();
}

void BenchReader::tell() {
  m_toldS = bootTimeS();
  MachineSnapshot snapshot = m_machine.snapshot(m_toldS);
  snapshot.instrumentsFault = m_instrumentsFault;
  emit seen(std::make_shared<const MachineSnapshot>(std::move(snapshot)));
}

// One that cannot be read leaves the machine without instruments, and the page says why.
void BenchReader::readOwnInstruments() {
  auto own = readInstruments({});
  m_instrumentsFault = own ? std::string() : own.error().message;
  m_description.instruments = own ? std::move(*own) : std::vector<Instrument>();
}

void BenchReader::openAgain() {
  const bool wasLooking = m_machine.isSampling();
  readOwnInstruments();
  m_machine = MachineSources::open(m_description);
  if (wasLooking) look(m_keepsOn);
}

void BenchReader::tryInstrument(const std::shared_ptr<const Json>& instrument) {
  if (m_trialTimer == nullptr) {
    m_trialTimer = new QTimer(this);
    connect(m_trialTimer, &QTimer::timeout, this, &BenchReader::tellTrial);
  }
  m_trial.reset();
  m_trialTimer->stop();
  const Json file = {{"instruments", 1}, {"list", {*instrument}}};
  auto parsed = parseInstruments(file.dump(-1, ' ', false, Json::error_handler_t::replace), "");
  if (!parsed) {
    // The place in the file is no news to who fills a sentence in.
    const std::string why = parsed.error().message;
    emit tried(nullptr, look::text(why.substr(std::min(why.find(": list[0]."), why.size()))).remove(0, 10));
    return;
  }
  m_trial = std::make_unique<InstrumentSource>(std::move(parsed->front()));
  m_trialLooks = 0;
  m_trialTimer->start(kFetchEveryMs);
}

void BenchReader::tellTrial() {
  const InstrumentNow now{m_trial->instrument(), m_trial->state()};
  const bool isOver = now.state.answers > 0 || now.state.failures > 0 || ++m_trialLooks >= kTrialLooks;
  if (!isOver) return;
  m_trialTimer->stop();
  m_trial.reset();
  emit tried(std::make_shared<const InstrumentNow>(now), {});
}

void BenchReader::keepInstrument(const std::shared_ptr<const Json>& instrument) {
  const Status added = addInstrument({}, *instrument);
  if (added) openAgain();
  emit instrumentsChanged(added ? QString() : look::text(added.error().message));
}

void BenchReader::changeInstrument(const QString& name, const std::shared_ptr<const Json>& instrument) {
  const Status changed = ash::changeInstrument({}, name.toStdString(), *instrument);
  if (changed) openAgain();
  emit instrumentsChanged(changed ? QString() : look::text(changed.error().message));
}

void BenchReader::dropInstrument(const QString& name) {
  const Status removed = removeInstrument({}, name.toStdString());
  if (removed) openAgain();
  emit instrumentsChanged(removed ? QString() : look::text(removed.error().message));
}

void BenchReader::calibrateInstrument(const QString& name, double fullScaleDb) {
  const Status kept = ash::calibrateInstrument({}, name.toStdString(), fullScaleDb);
  if (kept) openAgain();
  emit instrumentsChanged(kept ? QString() : look::text(kept.error().message));
}

}  // namespace ash

#include "moc_bench_reader.cpp"
