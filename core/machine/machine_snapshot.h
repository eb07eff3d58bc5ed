// SPDX-License-Identifier: GPL-3.0-or-later
// A machine's readings as they are now, for whoever shows or judges them.
#pragma once

#include <string>
#include <vector>

#include "instruments/instrument_source.h"
#include "model/reading_choice.h"
#include "model/study.h"
#include "readings/gauges/source.h"

namespace ash {

/// One reading as it is now.
struct ReadingNow {
  Reading reading;
  double value = kMissing;
  double low = kMissing, high = kMissing;  ///< seen since sampling began
  double ageS = kMissing;                  ///< since it last answered; missing = never
  double stillS = 0;                       ///< for how long it has had the same value
  std::string fault;                       ///< why it is missing now
  bool isHidden = false;                   ///< not shown, because a person said so
};

/// One instrument as it is now.
struct InstrumentNow {
  Instrument instrument;
  InstrumentState state;
};

/// All of them. A value: it may be handed to another thread.
struct MachineSnapshot {
  std::string machine;
  std::string machineKey;  ///< by what a book knows it again
  double timeS = 0;        ///< of the bench's clock (CLOCK_BOOTTIME on a machine)
  std::vector<ReadingNow> readings;
  std::vector<SkippedReading> skipped;
  std::vector<std::string> missing;        ///< what was looked for and is not there
  ReadingChoices choices;                  ///< what has been said of them
  std::vector<InstrumentNow> instruments;  ///< from outside; their readings stand among the others
  std::string instrumentsFault;            ///< why the file of instruments is not followed; empty when it is
};

/// What has been seen of one source's readings, in the order of its info().
class SeenReadings {
 public:
  explicit SeenReadings(size_t count = 0) : m_seen(count) {}
  /// Takes a sweep of the source.
  void take(const Sweep& sweep);
  /// What was seen of a reading, as of `nowS`; `reading` and `fault` are left to the caller.
  ReadingNow at(size_t reading, double nowS) const;
  /// Goes on with what was seen of a reading before the machine was opened anew.
  void goOn(size_t reading, const SeenReadings& before, size_t itsPlace) { m_seen[reading] = before.m_seen[itsPlace]; }

 private:
  struct Seen {
    double value = kMissing, low = kMissing, high = kMissing;
    double answeredS = kMissing, changedS = kMissing;
  };
  std::vector<Seen> m_seen;
};

}  // namespace ash
