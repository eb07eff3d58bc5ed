// SPDX-License-Identifier: GPL-3.0-or-later
// A run on the machine itself (or on a tree of kernel-like files): kernel readings and a load process.
#pragma once

#include <atomic>
#include <condition_variable>
#include <deque>
#include <memory>
#include <mutex>
#include <thread>

#include "load/load_process.h"
#include "readings/linux_machine.h"
#include "runner/bench.h"

namespace ash {

/// The work rate that a load process tells, as a source. Written by the recorder, read by the sampler.
class WorkRateSource : public Source {
 public:
  WorkRateSource();
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  void setRate(double perSecond) { m_rate = perSecond; }

 private:
  SourceInfo m_info;
  std::atomic<double> m_rate{0};
};

class KernelRunBench : public RunBench {
 public:
  /// `root` is "" for this machine; `program` is the path of `ashg`, which is started as the load.
  KernelRunBench(const std::string& root, std::string program);
  ~KernelRunBench() override;

  const std::vector<SourceInfo>& sources() const override { return m_sources; }
  Json machine() const override { return m_machine.facts; }
  Json description() const override { return {{"kind", "kernel"}, {"root", m_root}}; }
  Json conditions() const override { return Json::object(); }
  std::vector<std::string> missing() const override { return m_machine.missing; }
  double speed() const override { return 1; }
  void begin(double intervalS) override;
  std::optional<Tick> next(double patienceS) override;
  long long lostTicks() const override { return m_lost; }
  Status startLoad(const LoadOptions& options) override;
  void stopLoad() override;
  std::string loadFailure() override;

 private:
  void sample(std::stop_token stop, double intervalS);

  // Constant after construction.
  std::string m_root;
  std::string m_program;
  LinuxMachine m_machine;  // its sources belong to the sampler's thread while it runs
  WorkRateSource* m_workRate = nullptr;
  std::vector<SourceInfo> m_sources;
  // The recorder's thread only.
  LoadProcess m_load;
  // Guarded by m_mutex.
  std::mutex m_mutex;
  std::condition_variable_any m_changed;
  std::deque<Tick> m_ticks;
  std::atomic<long long> m_lost{0};
  // Last, so that it ends before what it uses.
  std::jthread m_sampler;
};

}  // namespace ash
