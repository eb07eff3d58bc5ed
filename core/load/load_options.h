// SPDX-License-Identifier: GPL-3.0-or-later
// What a load is asked to do, as a value; kept as JSON in a study's loads and handed to the load process.
#pragma once

#include <limits>
#include <map>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/load_kind.h"
#include "model/result.h"

namespace ash {

/// How many loads may stand beside one.
inline constexpr size_t kMostOtherLoads = 16;

/// One step of a duty over time: from one share to another within a time, then the next; the last one stays.
struct DutyStep {
  double fromPercent = 100, toPercent = 100;
  double seconds = std::numeric_limits<double>::infinity();
};

struct LoadOptions {
  LoadKind kind = LoadKind::Vector;
  int threads = 0;  ///< 0 = one for each CPU this process may use
  double seconds = std::numeric_limits<double>::infinity();
  double dutyPercent = 100;                               ///< share of each tenth of a second that is worked
  double work = std::numeric_limits<double>::infinity();  ///< the task: end after exactly so many work units
  std::vector<int> cores;                                 ///< CPUs to keep to, one thread each in turn; empty = any
  std::vector<DutyStep> steps;                            ///< instead of `dutyPercent`
  double passWork = 0;                                    ///< work units of a pass; 0 = no passes
  int passes = 0;                                         ///< end after so many; 0 = go on
  std::string variant;                                    ///< instruction set; empty = the fastest there is
  std::string pattern;                                    ///< of memory, storage and graphics; empty = their own
  double memoryMb = 0;                             ///< of memory and cache, all threads together; 0 = by the caches
  int cacheLevel = 2;                              ///< of cache
  int width = 1280, height = 720;                  ///< of graphics
  std::string folder;                              ///< of storage and command
  double fileMb = 256;                             ///< of storage
  int queueDepth = 4;                              ///< of storage: requests at a time
  int blockKb = 128;                               ///< of storage: size of a sequential request
  std::string command;                             ///< of command: a line for /bin/sh
  std::map<std::string, std::string> environment;  ///< of command
  int repeats = 0;                                 ///< of command; 0 = until it is ended
  int exitCode = 0;                                ///< of command: the one that means success
  std::map<std::string, std::string>
      scores;                               ///< of command: name -> pattern with one group, read at the end of each run
  std::map<std::string, std::string> live;  ///< of command: the same, read while it runs
  long long flipAtBlock = -1;               ///< for tests: a bit is flipped in this block
  std::vector<LoadOptions> also;            ///< other loads at the same time
};

/// All but `seconds`. Keys at their defaults are left out, but for kind, threads and duty.
Json loadToJson(const LoadOptions& options);

/// Reads a load's spec; `name` is the kind where the spec says none. The error names the key that cannot be.
Result<LoadOptions> loadFromJson(const std::string& name, const Json& spec);

/// "vector", "vector + graphics".
std::string loadKindText(const LoadOptions& options);

/// "0-3,6" as a list of CPUs, rising; the error says what is wrong with it.
Result<std::vector<int>> parseCoreList(const std::string& text);

/// "25% 60s, 50%..100% 2min, 80%": steps and ramps; the last one may leave out its time and then stays.
Result<std::vector<DutyStep>> parseDutySteps(const std::string& text);
std::string dutyStepsText(const std::vector<DutyStep>& steps);

/// The duty at a time since the start.
double dutyAt(const LoadOptions& options, double seconds);

/// "1280x720". Zeros where it is none.
std::pair<int, int> parseSize(const std::string& text);

/// Ranges and combinations that no load can have.
Status checkLoadOptions(const LoadOptions& options);

}  // namespace ash
