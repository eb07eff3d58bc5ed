// SPDX-License-Identifier: GPL-3.0-or-later
// The sensors of a simulated bench as a source of readings.
#pragma once

#include <memory>

#include "readings/gauges/source.h"
#include "sim/bench.h"

namespace ash::sim {

/// Reads a bench that somebody else moves; one given by reference must outlive it.
class SimSource : public Source {
 public:
  explicit SimSource(const Bench& bench);
  explicit SimSource(std::shared_ptr<const Bench> bench);
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;

 private:
  std::shared_ptr<const Bench> m_bench;
  SourceInfo m_info;
};

}  // namespace ash::sim
