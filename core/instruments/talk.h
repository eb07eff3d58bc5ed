// SPDX-License-Identifier: GPL-3.0-or-later
// How one instrument is talked to: the one interface that every kind fulfils, a file each.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "instruments/instrument.h"
#include "model/reading.h"
#include "model/result.h"

namespace ash {

/// What came of asking for one reading.
struct Answer {
  double value = kMissing;  ///< in the stored unit; missing with a fault, or when the instrument has none to tell
  double atS = kMissing;    ///< when it arrived (CLOCK_BOOTTIME); missing = nothing came
  double roundTripS = kMissing;
  double holdsS = kMissing;  ///< for how long it counts; missing = answerHoldsS()
  std::string fault;         ///< one sentence; empty when all is well
  bool isOverload = false;   ///< the fault: there was more than it can measure
  bool isFailure() const { return !fault.empty(); }
};

/// A connection to one instrument, used by one thread. Every call comes back within the instrument's time-out and a
/// little, whatever the other side does.
class Talk {
 public:
  Talk() = default;
  Talk(const Talk&) = delete;
  Talk& operator=(const Talk&) = delete;
  virtual ~Talk() = default;

  /// Connects. An error says why there is nobody to talk to.
  virtual Status open() = 0;
  /// True where asking waits by itself until there is something to tell, so that nobody else has to wait between two
  /// questions.
  virtual bool pacesItself() const { return false; }
  /// Who it says it is; empty when it does not tell.
  virtual std::string identity() const { return {}; }
  /// The other side's clock less this machine's, in seconds, where it tells its own; missing else.
  virtual double clockOffsetS() const { return kMissing; }
  /// Asks for every reading once, in the order of the instrument's readings; for one that tells by itself, takes what
  /// has come by then. An error is a lost instrument: it has to be opened again.
  virtual Status ask(std::vector<Answer>& answers) = 0;
};

/// The talk of an instrument's kind. `instrument` must outlive it.
std::unique_ptr<Talk> makeTalk(const Instrument& instrument);

/// An answer that holds a number of the reading's own unit.
Answer answerOf(const InstrumentReading& reading, double written, double arrivedS, double roundTripS);
/// One that failed.
Answer faultOf(std::string why);

}  // namespace ash
