// SPDX-License-Identifier: GPL-3.0-or-later
// Everything that can be read of a bench, put together from one description.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "machine/machine_description.h"
#include "machine/machine_snapshot.h"
#include "machine/sampler.h"
#include "machine/source_kinds.h"
#include "model/run_facts.h"
#include "readings/watch/machine_settings.h"

namespace ash {

/// The readings of one bench, owned once by a process: the recorder's, the window's reader, a command's. Opening takes
/// as long as the devices need (at most about two seconds for one that hangs), so whoever must not wait opens it on
/// another thread; nothing else here waits for a source. Used by one thread at a time.
class MachineSources {
 public:
  /// A bench of which nothing is known yet; it has no readings.
  MachineSources() = default;
  /// Opens everything that the description names (source_kinds.h).
  static MachineSources open(MachineDescription description);
  /// Opens it again with what is now said of its readings. Devices that hung are not asked again, and what was seen of
  /// the others stays. Sampling stops.
  void openAnew(const ReadingChoices& choices);

  const MachineDescription& description() const { return m_description; }
  const std::vector<std::shared_ptr<Source>>& sources() const { return m_parts.sources; }
  /// Their identities, in the same order.
  const std::vector<SourceInfo>& infos() const { return m_infos; }
  const std::vector<SkippedReading>& skipped() const { return m_parts.skipped; }
  /// What was looked for and is not there, one sentence each.
  const std::vector<std::string>& missing() const { return m_parts.missing; }
  /// Readings that a person has hidden.
  const std::vector<Reading>& hidden() const { return m_parts.hidden; }
  /// Those of sources() that are instruments.
  const std::vector<std::shared_ptr<InstrumentSource>>& instruments() const { return m_parts.instruments; }
  const std::vector<std::string>& hung() const { return m_parts.hung; }
  /// "name", "boot_id", "kernel" … of the machine.
  const Json& facts() const { return m_parts.facts; }
  /// By what a book knows this machine again.
  std::string key() const;
  /// To which the load's news are told; null when the description has no load.
  LoadSource* load() const { return m_parts.load.get(); }
  /// The bench that is moved by whoever runs it; null on a machine.
  sim::Bench* simulated() const { return m_parts.simulated.get(); }
  /// How the machine is set now; nothing on a simulated bench, or when it did not answer within two seconds.
  std::optional<std::vector<MachineSetting>> settings() const;
  /// The reading of that id, hidden ones as well; null when there is none.
  const Reading* find(const std::string& id) const;

  /// Begins to sweep every source each `intervalS` seconds, on threads of its own.
  void begin(double intervalS);
  bool isSampling() const { return m_sampler != nullptr; }
  /// Sweeps no more until begin(); instruments are left alone, so that another program may ask them.
  void rest();
  /// The next tick, or nothing after `patienceS` seconds.
  std::optional<Tick> next(double patienceS);
  /// Sweeps every source here and now: for a bench whose time only moves when it is told to.
  Tick sweepInStep();
  /// Ticks that were taken but not fetched in time and had to be dropped.
  long long lostTicks() const { return m_sampler ? m_sampler->lostTicks() : 0; }
  /// Sources that have gone, come back or begun to block since the last call. Without a time: it is now.
  std::vector<Event> takeFindings();

  /// The readings as of `nowS` of the bench's clock.
  MachineSnapshot snapshot(double nowS) const;

 private:
  void openAll(const std::vector<std::string>& hung);
  void note(const Tick& tick);

  MachineDescription m_description;
  MachineParts m_parts;
  std::vector<SourceInfo> m_infos;
  std::vector<SeenReadings> m_seen;  // by source
  std::vector<bool> m_wasGone;       // by source
  std::unique_ptr<Sampler> m_sampler;
};

}  // namespace ash
