// SPDX-License-Identifier: GPL-3.0-or-later
// What a run takes place on: something that has a clock, gives readings and can be loaded. The machine itself, a tree
// of kernel-like files, or the simulated bench; the recorder knows no difference.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "knobs/knob_hand.h"
#include "load/load_worker.h"
#include "machine/tick.h"
#include "model/procedure.h"
#include "model/result.h"
#include "model/run_facts.h"
#include "model/study.h"

namespace ash {

/// Used by the recorder's thread only.
class RunBench {
 public:
  RunBench() = default;
  RunBench(const RunBench&) = delete;
  RunBench& operator=(const RunBench&) = delete;
  virtual ~RunBench() = default;

  virtual const std::vector<SourceInfo>& sources() const = 0;
  /// What it is: "name", "boot_id", "kernel" …
  virtual Json machine() const = 0;
  /// How it was reached: {"kind": "kernel", "root": ""} or {"kind": "simulated", "name": …, "seed": …, "speed": …}.
  virtual Json description() const = 0;
  /// Conditions that the bench itself knows of.
  virtual Json conditions() const = 0;
  /// What could not be found on it, one sentence each.
  virtual std::vector<std::string> missing() const = 0;
  /// What of it is set otherwise than the setup asks, one sentence each.
  virtual std::vector<std::string> notAsAsked() const { return {}; }
  /// How many bench seconds pass in a second.
  virtual double speed() const = 0;

  /// Starts sampling every `intervalS` bench seconds.
  virtual void begin(double intervalS) = 0;
  /// The next tick, or nothing after `patienceS` real seconds.
  virtual std::optional<Tick> next(double patienceS) = 0;
  /// Ticks that were taken but could not be kept because the recorder was too slow.
  virtual long long lostTicks() const = 0;
  /// The bench's clock now, on the axis of the sweeps; missing where time only moves with the ticks.
  virtual double nowS() const { return kMissing; }
  /// For how long the machine has slept since begin() (suspend): part of the bench's time, but nothing ran.
  virtual double sleptS() const { return 0; }
  /// What has come up since the last call beside readings: hardware errors told by the kernel, a source that blocks,
  /// the battery, passes of the load (start_s and end_s in `extra` on the axis of the sweeps). Without a time: it is
  /// now. `isLast` asks for what is only known at the end.
  virtual std::vector<Event> takeFindings(bool isLast) {
    static_cast<void>(isLast);
    return {};
  }

  /// A field of the setup's conditions is going to be turned: how it stands before that is not held against it.
  virtual void expectTurned(const std::string& field) { static_cast<void>(field); }
  /// Why a knob of the bench cannot be turned at all: not there, no right.
  virtual Status canTurn(const std::string& knob);
  /// Whether a knob could be turned so; nothing is turned.
  virtual Status checkKnob(const KnobSetting& setting);
  /// Turns a knob and reads it back.
  virtual Result<Turned> turn(const KnobSetting& setting);
  /// Puts everything back that was turned; one sentence for each that would not go.
  virtual std::vector<std::string> putBack() { return {}; }

  virtual Status startLoad(const LoadOptions& options) = 0;
  virtual void stopLoad() = 0;
  /// Why the load is no longer running although it should; empty while all is well.
  virtual std::string loadFailure() = 0;
  /// Seconds in which the load's task was done, once it is; missing before and for loads without an end.
  virtual double taskDoneS() { return kMissing; }
  /// Results of the load that were checked and wrong, since begin().
  virtual long long wrongResults() { return 0; }
  /// The same in words: "3 wrong results on core 5"; empty when nothing is known beside their number.
  virtual std::string wrongResultsWords() { return {}; }
};

}  // namespace ash
