// SPDX-License-Identifier: GPL-3.0-or-later
// The sensors of a simulated bench as a source of readings.
#pragma once

#include "readings/source.h"
#include "sim/bench.h"

namespace ash::sim {

/// Reads a bench that somebody else moves; the bench must outlive it.
class SimSource : public Source {
 public:
  explicit SimSource(const Bench& bench);
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;

 private:
  const Bench& m_bench;
  SourceInfo m_info;
};

}  // namespace ash::sim
