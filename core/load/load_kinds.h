// SPDX-License-Identifier: GPL-3.0-or-later
// What every kind of load is to the worker: threads that do one checked block of work after the other. And the kinds
// there are, a row each, in the file of the kind.
#pragma once

#include <memory>
#include <span>
#include <stop_token>
#include <string>
#include <vector>

#include "load/load_field.h"
#include "load/load_options.h"

namespace ash {

/// What one block of work was worth. A wrong block counts no work.
struct BlockResult {
  double work = 0;
  long long wrong = 0;
  std::string failure;  ///< not empty: the load cannot go on
};

/// The work of one thread. Made and used on that thread alone.
class LoadThread {
 public:
  virtual ~LoadThread() = default;
  /// Does one block, some milliseconds at most, and checks it. With `flip` a bit of its data is flipped first, so that
  /// a test sees the check work.
  virtual BlockResult block(bool flip) = 0;
};

/// One load of a kind, ready to work.
class LoadPart {
 public:
  virtual ~LoadPart() = default;
  std::string unit, variant, precision, pattern;  ///< words of the contract; empty = none
  bool isFrames = false;                          ///< its rate is a frame rate
  bool isSelfPaced = false;                       ///< waits for a device: duty does not apply
  int threads = 1;
  double workPerBlock = 0;  ///< where every block is alike
  /// Called on the thread itself. What takes long gives up when asked to stop; what it returns then is not used.
  virtual Result<std::unique_ptr<LoadThread>> makeThread(int index, const std::stop_token& stop) = 0;
};

/// A kind of load: all that is known of it is in its own file.
struct LoadKindRow {
  LoadKind::Known kind;
  /// Checks what the load needs of the machine and makes it ready; null where it does no work in this process.
  Result<std::unique_ptr<LoadPart>> (*make)(const LoadOptions&) = nullptr;
  std::span<const LoadField> fields = {};         ///< those that only it has
  Status (*check)(const LoadOptions&) = nullptr;  ///< what its fields cannot be together
  bool checksAll = false;                         ///< loads of other kinds as well: what they must not have
};

/// The rows, in the order in which their fields are written.
std::span<const LoadKindRow* const> loadKindRows();

/// Names of the kinds that there are.
std::vector<std::string> knownLoadKinds();

/// Checks the options of one kind and what it needs of the machine.
Result<std::unique_ptr<LoadPart>> makeLoadPart(const LoadOptions& options);

/// CPUs that this process may use (sched_getaffinity).
int usableCpuCount();

}  // namespace ash
