// SPDX-License-Identifier: GPL-3.0-or-later
// A run on the machine itself (or on a tree of kernel-like files): kernel readings and a load process.
#pragma once

#include <atomic>
#include <memory>
#include <mutex>
#include <optional>

#include "load/load_process.h"
#include "model/reading_choice.h"
#include "readings/linux_machine.h"
#include "readings/watch/background_watch.h"
#include "runner/bench.h"
#include "runner/sampler.h"

namespace ash {

/// What a load process tells of itself, as a source: work and frame rate, wrong results, passes, and the values that a
/// command's output holds. Written by the recorder, read by the sampler.
class LoadSource : public Source {
 public:
  explicit LoadSource(const LoadOptions& options);
  const SourceInfo& info() const override { return m_info; }
  Sweep sweep() override;
  void tell(const LoadProcess& load);

 private:
  void add(const std::string& name, const Role& role, Quantity quantity, const std::string& words);

  SourceInfo m_info;
  std::vector<std::string> m_names;  // by column
  bool m_draws = false;
  std::mutex m_mutex;
  std::vector<double> m_values;  // guarded by m_mutex
};

class KernelRunBench : public RunBench {
 public:
  /// `root` is "" for this machine; `program` is the path of `ashg`, which is started as the load; `choices` is what a
  /// person has said of the machine's readings, `asked` the conditions of the setup, `load` what will be started: it
  /// tells which readings the load has.
  KernelRunBench(const std::string& root, std::string program, const ReadingChoices& choices = {},
                 Json asked = Json::object(), const LoadOptions& load = {});
  ~KernelRunBench() override;

  const std::vector<SourceInfo>& sources() const override { return m_infos; }
  Json machine() const override { return m_facts; }
  Json description() const override { return {{"kind", "kernel"}, {"root", m_root}}; }
  Json conditions() const override { return Json::object(); }
  std::vector<std::string> missing() const override { return m_missing; }
  std::vector<std::string> notAsAsked() const override { return m_notAsAsked; }
  double speed() const override { return 1; }
  void begin(double intervalS) override;
  std::optional<Tick> next(double patienceS) override;
  long long lostTicks() const override { return m_sampler ? m_sampler->lostTicks() : 0; }
  double nowS() const override;
  double sleptS() const override;
  std::vector<Event> takeFindings(bool isLast) override;
  Status startLoad(const LoadOptions& options) override;
  void stopLoad() override;
  std::string loadFailure() override;
  double taskDoneS() override { return m_load.isTaskDone() ? m_load.taskS() : kMissing; }
  long long wrongResults() override { return m_load.errors(); }
  std::string wrongResultsWords() override { return wrongResultsText(m_load.wrong()); }

 private:
  std::string m_root;
  std::string m_program;
  void tellGone(std::vector<Event>& findings);
  void tellLoad(std::vector<Event>& findings);

  std::vector<std::shared_ptr<Source>> m_sources;  // in the sampler's hands once it has begun
  std::shared_ptr<LoadSource> m_loadSource;
  std::vector<SourceInfo> m_infos;
  std::vector<std::string> m_missing, m_notAsAsked;
  Json m_facts;
  Json m_asked;
  std::optional<BackgroundWatch> m_watch;
  std::shared_ptr<std::atomic<int>> m_loadPid = std::make_shared<std::atomic<int>>(0);
  std::vector<bool> m_wasGone;  // by source
  LoadProcess m_load;
  size_t m_wrongTold = 0;
  double m_sleptBeforeS = 0;
  std::optional<Sampler> m_sampler;
};

}  // namespace ash
