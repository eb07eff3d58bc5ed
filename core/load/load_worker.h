// SPDX-License-Identifier: GPL-3.0-or-later
// Runs a load inside this process until it is done or told to stop.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <vector>

#include "load/load_kinds.h"
#include "load/load_options.h"
#include "model/run_facts.h"

namespace ash {

/// Results that were checked and wrong: an unstable machine.
struct WrongResults {
  double atS = 0;  ///< since the load began
  int core = -1;   ///< CPU that computed it
  long long count = 0;
};

/// What one of several loads did.
struct LoadPartReport {
  std::string kind, unit, variant, precision, pattern;
  int threads = 0;
  bool isFrames = false;
  double work = 0;  ///< work units done and checked
  long long errors = 0;
};

struct LoadReport {
  double seconds = 0;                 ///< of a task: until its last block was done
  std::vector<LoadPartReport> parts;  ///< the load itself, then those beside it
  std::vector<double> perSecond;      ///< rate of the first part
  std::vector<WrongResults> wrong;
  std::vector<Pass> passes;  ///< of the first part; times since the load began
  bool isTaskDone = false;   ///< the work or the passes asked for have been done
  long long errors() const;
};

/// What has been done up to now, told four times a second while the load runs.
struct LoadProgress {
  double beganS = kMissing;  ///< on the monotonic clock, which all processes of a machine share
  double seconds = 0;
  double work = 0;
  long long errors = 0;
  double frames = 0;                   ///< drawn so far; missing where nothing is drawn
  std::map<std::string, double> live;  ///< latest values that a command's output told
  std::vector<Pass> passes;            ///< that ended since the last progress
  std::vector<WrongResults> wrong;     ///< found since the last progress
};

/// Works until its time, work or passes are up or `shouldStop` says so; it is asked every 20 ms. Blocks; uses threads
/// of its own and starts no new block later than 50 ms after the end. An error where the load cannot begin or go on.
Result<LoadReport> runLoad(const LoadOptions& options, const std::function<bool()>& shouldStop,
                           const std::function<void(const LoadProgress&)>& onProgress);

/// "3 wrong results on core 5", "4 wrong results on cores 1 and 5"; empty when there are none.
std::string wrongResultsText(const std::vector<WrongResults>& wrong);

}  // namespace ash
