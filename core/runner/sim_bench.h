// SPDX-License-Identifier: GPL-3.0-or-later
// A run on the simulated bench: in step with the recorder, so that the same seed gives the same samples at any speed.
#pragma once

#include <optional>

#include "machine/machine_sources.h"
#include "runner/bench.h"
#include "runner/sim_knobs.h"

namespace ash {

class SimRunBench : public RunBench {
 public:
  /// `machine` has been opened and is simulated; `speed` = bench seconds in a second.
  SimRunBench(MachineSources machine, double speed);
  /// Opens it by itself.
  SimRunBench(SimulatedMachine bench, double speed);

  const std::vector<SourceInfo>& sources() const override { return m_machine.infos(); }
  Json machine() const override { return m_machine.facts(); }
  Json description() const override;
  Json conditions() const override { return bench().spec().conditions; }
  std::vector<std::string> missing() const override { return {}; }
  double speed() const override { return m_speed; }
  void begin(double intervalS) override;
  std::optional<Tick> next(double patienceS) override;
  long long lostTicks() const override { return 0; }
  Status canTurn(const std::string& knob) override { return ash::canTurn(bench(), knob); }
  Status checkKnob(const KnobSetting& setting) override { return ash::checkKnob(bench(), setting); }
  Result<Turned> turn(const KnobSetting& setting) override { return turnKnob(bench(), setting); }
  Status startLoad(const LoadOptions& options) override;
  void stopLoad() override;
  std::string loadFailure() override { return {}; }
  double taskDoneS() override { return m_taskDoneS; }
  std::vector<Event> takeFindings(bool isLast) override;

 private:
  sim::Bench& bench() const { return *m_machine.simulated(); }
  bool applyLoad(double sinceS);
  void countWork(double benchS);

  MachineSources m_machine;
  double m_speed;
  double m_intervalS = 0.5;
  long long m_tickCount = 0;
  double m_startedS = 0;  // of the real clock
  std::optional<LoadOptions> m_load;
  double m_loadBeganS = 0, m_countedS = 0;  // of the bench's time
  double m_work = 0, m_passBeganS = 0, m_taskDoneS = kMissing;
  std::vector<Event> m_passes;
};

}  // namespace ash
