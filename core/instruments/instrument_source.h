// SPDX-License-Identifier: GPL-3.0-or-later
// An instrument as a source of readings: talked to on a thread of its own, so that nobody who sweeps it ever waits.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "instruments/talk.h"
#include "readings/gauges/source.h"

namespace ash {

/// How an instrument has answered since it was opened.
struct InstrumentState {
  enum class Tick { Answered, Late, None };
  std::string identity;
  std::string error;  ///< why nothing comes now, one sentence; empty while it answers
  long long answers = 0, failures = 0;
  double roundTripS = kMissing;    ///< of the last answer
  double clockOffsetS = kMissing;  ///< its clock less this machine's, where it tells it
  std::vector<Answer> last;        ///< by reading
  std::vector<bool> hasAnswered;   ///< by reading: at least once
  std::vector<Tick> ticks;         ///< of the last 60 rounds, oldest first
  bool isOpen = false;
};

/// By what a choice knows a reading that has a role: "instrument/wall meter/wall.power".
std::string instrumentReadingId(const Instrument& instrument, const InstrumentReading& reading);

/// An answer counts for answerHoldsS() from when it was taken (its arrival less the instrument's delay); what is older
/// is missing, never stale. A delay puts values into the earlier sweep that they belong to: a sweep then tells of the
/// moment that lies the delay back, and the first ones tell nothing. A lost instrument is looked for again after 0.5,
/// 1, 2, 4, 8 and then every 15 s. The thread is left behind where a library does not come back.
class InstrumentSource : public Source {
 public:
  /// `columns` are the names under which its readings are kept, in their order: roles, or names of their own. Empty: as
  /// the instrument has them.
  explicit InstrumentSource(Instrument instrument, std::vector<std::string> columns = {});
  ~InstrumentSource() override;

  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  std::string whyMissing(size_t reading) const override;
  bool isGone() const override;
  std::vector<std::string> takeTold() override;

  /// While it rests the connection is closed and nobody is asked. It begins awake.
  void rest(bool isResting);

  const Instrument& instrument() const;
  /// May be asked by any thread.
  InstrumentState state() const;
  /// Waits until it has answered or failed once, or for so long.
  void waitForFirst(double patienceS) const;

 private:
  struct Shared;
  static void work(const std::shared_ptr<Shared>& shared);

  std::shared_ptr<Shared> m_shared;
  SourceInfo m_info;
  std::vector<double> m_sweptS;  // when the sweeps were that still have to be told
};

}  // namespace ash
