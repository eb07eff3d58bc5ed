// SPDX-License-Identifier: GPL-3.0-or-later
// What every kind of load is to the worker: threads that do one checked block of work after the other.
#pragma once

#include <memory>
#include <stop_token>
#include <string>
#include <vector>

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

/// Kinds that there are.
std::vector<std::string> knownLoadKinds();

/// Checks the options of one kind and what it needs of the machine.
Result<std::unique_ptr<LoadPart>> makeLoadPart(const LoadOptions& options);

/// CPUs that this process may use (sched_getaffinity).
int usableCpuCount();

// One kind each, in a file of its own.
Result<std::unique_ptr<LoadPart>> makeVectorLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeIntegerLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeCacheLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeMemoryLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeMixedLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeStorageLoad(const LoadOptions& options);
Result<std::unique_ptr<LoadPart>> makeGraphicsLoad(const LoadOptions& options);

}  // namespace ash
