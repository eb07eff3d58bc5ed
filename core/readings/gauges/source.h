// SPDX-License-Identifier: GPL-3.0-or-later
// Where readings come from. A source may appear, vanish, be slow, sit on a network, count and wrap; what it cannot read
// now is missing, never zero.
#pragma once

#include <string>
#include <vector>

#include "model/study.h"

namespace ash {

/// One look at every reading of a source.
struct Sweep {
  double timeS = 0;            ///< when it was taken, in seconds of the bench's own clock (CLOCK_BOOTTIME on a machine)
  std::vector<double> values;  ///< one per reading, in the order of info().readings; NaN = missing
  bool isAsleep = false;       ///< nothing was read because the device sleeps: missing, but not lost
};

/// A group of readings that are read together and share a time stamp: one chip, one meter, one machine over the
/// network. Used by one thread at a time (the sampler's).
class Source {
 public:
  Source() = default;
  Source(const Source&) = delete;
  Source& operator=(const Source&) = delete;
  virtual ~Source() = default;

  /// Its identity and readings. Fixed for the life of the source: a device that comes back is a new source, or the same
  /// one whose values were missing in between. Its pace is that of a device that is slow to answer, that is woken or
  /// disturbed by being read, or that has nothing new any sooner; a source with a pace is swept apart from the others.
  virtual const SourceInfo& info() const = 0;

  /// Reads everything once. Never throws; a reading that fails is missing in this sweep and tried again in a later one.
  virtual Sweep sweep() = 0;

  /// Why a reading was missing in the last sweep, as words for a person; empty when nothing is to be said.
  virtual std::string whyMissing(size_t reading) const {
    static_cast<void>(reading);
    return {};
  }
  /// What was too much for it since the last call, a sentence each: missing readings whose reason is to be kept.
  virtual std::vector<std::string> takeTold() { return {}; }
  /// How many files it keeps open.
  virtual size_t fileCount() const { return 0; }
  /// True from the sweep on in which the device was no longer there. May be asked by any thread.
  virtual bool isGone() const { return false; }
};

}  // namespace ash
