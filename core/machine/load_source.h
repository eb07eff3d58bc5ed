// SPDX-License-Identifier: GPL-3.0-or-later
// What a load process tells of itself, as a source.
#pragma once

#include <atomic>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

#include "load/load_process.h"
#include "load/load_worker.h"
#include "readings/gauges/source.h"

namespace ash {

/// Work and frame rate, wrong results, passes, and the values that a command's output holds. Written by the recorder,
/// read by the sampler.
class LoadSource : public Source {
 public:
  /// `options` tells which readings the load will have.
  explicit LoadSource(const LoadOptions& options);
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  /// What the load is at now.
  void tell(const LoadProcess& load);
  /// The load's process, 0 while none runs.
  std::shared_ptr<const std::atomic<int>> pid() const { return m_pid; }

 private:
  void add(const std::string& name, const Role& role, Quantity quantity, const std::string& words);

  SourceInfo m_info;
  std::vector<std::string> m_names;  // by column
  bool m_draws = false;
  std::shared_ptr<std::atomic<int>> m_pid = std::make_shared<std::atomic<int>>(0);
  std::mutex m_mutex;
  std::vector<double> m_values;  // guarded by m_mutex
};

}  // namespace ash
