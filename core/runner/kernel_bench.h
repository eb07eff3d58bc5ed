// SPDX-License-Identifier: GPL-3.0-or-later
// A run on the machine itself (or on a tree of kernel-like files): kernel readings and a load process.
#pragma once

#include <map>
#include <memory>
#include <optional>

#include "helper/hands.h"
#include "load/load_process.h"
#include "machine/machine_sources.h"
#include "machine/sampler.h"
#include "readings/watch/background_watch.h"
#include "runner/bench.h"

namespace ash {

class KernelRunBench : public RunBench {
 public:
  /// `machine` has been opened, with a load among its readings; `program` is the path of `ashg`, which is started as
  /// the load; `asked` are the conditions of the setup.
  KernelRunBench(MachineSources machine, std::string program, Json asked = Json::object());
  ~KernelRunBench() override;

  const std::vector<SourceInfo>& sources() const override { return m_machine.infos(); }
  Json machine() const override { return m_facts; }
  Json description() const override;
  Json conditions() const override { return Json::object(); }
  std::vector<std::string> missing() const override { return m_machine.missing(); }
  std::vector<std::string> notAsAsked() const override { return m_notAsAsked; }
  double speed() const override { return 1; }
  void begin(double intervalS) override;
  std::optional<Tick> next(double patienceS) override;
  long long lostTicks() const override { return m_machine.lostTicks(); }
  double nowS() const override;
  double sleptS() const override;
  std::vector<Event> takeFindings(bool isLast) override;
  void expectTurned(const std::string& field) override;
  Status canTurn(const std::string& knob) override;
  Status checkKnob(const KnobSetting& setting) override;
  Result<Turned> turn(const KnobSetting& setting) override;
  std::vector<std::string> putBack() override;
  Status startLoad(const LoadOptions& options) override;
  void stopLoad() override;
  std::string loadFailure() override;
  double taskDoneS() override { return m_load.isTaskDone() ? m_load.taskS() : kMissing; }
  long long wrongResults() override { return m_load.errors(); }
  std::string wrongResultsWords() override { return wrongResultsText(m_load.wrong()); }

 private:
  Result<KnobHand*> hand();
  template <typename Work>
  auto whileTheLoadIsHeld(Work work);
  void readSettings();
  bool isOwnDoing(const Event& event);
  void guardFans(const Tick& tick);
  NearLimit nearestNow() const;
  void tellLoad(std::vector<Event>& findings);

  MachineSources m_machine;
  std::string m_program;
  std::vector<std::string> m_notAsAsked;
  Json m_facts;
  Json m_asked;
  std::vector<std::string> m_expected;                     // fields of the conditions that are turned by the run
  std::vector<std::pair<double, std::string>> m_turnedTo;  // by the run itself: when (monotonic), what was read back
  std::optional<BackgroundWatch> m_watch;
  std::unique_ptr<KnobHand> m_hand;      // once a knob is asked for
  std::map<int, NearLimit> m_nearestOf;  // each source's, of its last sweep
  std::vector<Event> m_letGo;            // fans, not yet told
  LoadProcess m_load;
  size_t m_wrongTold = 0;
  double m_sleptBeforeS = 0;
};

}  // namespace ash
