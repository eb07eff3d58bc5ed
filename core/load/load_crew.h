// SPDX-License-Identifier: GPL-3.0-or-later
// The threads of one load: they share its work, keep its duty, count what is right and remember what was wrong.
#pragma once

#include <atomic>
#include <mutex>
#include <thread>

#include "load/load_worker.h"

namespace ash {

class LoadCrew {
 public:
  LoadCrew(LoadOptions options, std::unique_ptr<LoadPart> part);
  LoadCrew(const LoadCrew&) = delete;
  LoadCrew& operator=(const LoadCrew&) = delete;
  ~LoadCrew();

  /// Starts the threads; they prepare what they need and then wait for go().
  void prepare();
  bool isReady() const { return m_ready == m_part->threads; }
  /// All begin; `startS` is this moment on the monotonic clock.
  void go(double startS);
  void stop();

  double work() const { return m_work; }
  long long errors() const { return m_errors; }
  /// When the work asked for was done, since go(); missing while it is not.
  double taskDoneS() const { return m_taskDoneS; }
  bool isFrames() const { return m_part->isFrames; }
  LoadPartReport report() const;
  /// Why it cannot go on; empty while it can.
  std::string failure() const;
  /// What came up since the last call.
  std::vector<Pass> takePasses();
  std::vector<WrongResults> takeWrong();

 private:
  void work(int index, const std::stop_token& stop);
  bool mayStartBlock();
  void count(const BlockResult& result);
  void fail(const std::string& sentence);
  double elapsedS() const;

  const LoadOptions m_options;
  const std::unique_ptr<LoadPart> m_part;
  double m_startS = 0;
  std::atomic<bool> m_isOn{false};
  std::atomic<int> m_ready{0};
  std::atomic<double> m_work{0};
  std::atomic<long long> m_errors{0}, m_started{0};
  std::atomic<double> m_taskDoneS;
  mutable std::mutex m_mutex;
  double m_passBeganS = 0;  // guarded by m_mutex, like all below
  std::vector<Pass> m_passes;
  std::vector<WrongResults> m_wrong;
  std::string m_failure;
  std::vector<std::jthread> m_threads;
};

}  // namespace ash
