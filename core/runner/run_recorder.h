// SPDX-License-Identifier: GPL-3.0-or-later
// The recorder: carries out a procedure on a bench, logs it into a book, watches the stop rules, tells who is attached.
#pragma once

#include <atomic>
#include <functional>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "model/knob_condition.h"
#include "model/stop_rule.h"
#include "runner/bench.h"
#include "runner/drain_watch.h"
#include "runner/event_folding.h"
#include "runner/phase_machine.h"
#include "runner/queued_writer.h"
#include "runner/run_socket.h"
#include "runner/settling_watch.h"
#include "runner/stop_rule_watch.h"

namespace ash {

/// How a made-up run ends, for the demo book: at this moment, as if that had happened.
struct ScriptedEnd {
  double atS = 0;
  Outcome outcome = Outcome::Completed;
  std::string reason;
};

struct RunPlan {
  std::string bookPath;
  std::string runId;  ///< empty = a new one
  std::string study;
  std::string setup;
  LoadOptions load;
  Json loadRow = Json::object();  ///< what a load that is new is kept as, where that is more than this run does
  std::string loadName;           ///< what the study calls it; empty = its kind
  std::string started;            ///< ISO 8601; empty = now
  std::optional<ScriptedEnd> scriptedEnd;
  Procedure procedure;
  std::vector<KnobCondition> settings;  ///< turned before its first phase, as the setup's conditions ask
  std::vector<StopRule> rules;          ///< beside the default ones
  std::string unwatchedReason;          ///< not empty: no default rules for devices
  std::vector<std::string> remarks;     ///< problems known before the start, one sentence each
  double intervalS = 0.5;
  double leastSoakS = 0;                              ///< by earlier runs of the setup: not settled before
  Json conditions = Json::object();                   ///< stated for this run, e.g. room_c
  std::function<void(const std::string&)> onWarning;  ///< a rule that warns has tripped; may be empty
};

/// Whether a run can be carried out on a bench: passes need a load that has some, knobs of its settings and its phases
/// need to be there, to be turnable, and to go so far.
Status checkOnBench(const RunPlan& plan, RunBench& bench);

/// Where a run stands, for a line of progress.
struct RunProgress {
  std::string runId;
  double timeS = 0;
  size_t phaseIndex = 0;
  Phase phase;
  double phaseS = 0;  ///< since the phase began
  double longestRunLeftS = 0;
  Estimate drainedInS;  ///< until the battery holds what ends the phase; missing where that cannot be told
  std::string watched;  ///< role, empty when nothing can be watched
  double watchedC = kMissing;
  double roomC = kMissing;
  std::optional<double> throttleLimitC;
  SettlingVerdict settling;
  double settlesAtS = kMissing;
};

struct RunResult {
  std::string runId;
  Outcome outcome = Outcome::Completed;
  std::string reason;
  std::vector<std::string> problems;
};

class RunRecorder {
 public:
  RunRecorder(RunPlan plan, RunBench& bench);
  ~RunRecorder();

  /// Carries the run out from first to last sample on the caller's thread. `onProgress` is called after every tick, but
  /// at most ten times a second. Whatever ends it, the load is off and the run is closed when it returns.
  Result<RunResult> run(const std::function<void(const RunProgress&)>& onProgress);

  /// Ends the run as "stopped by hand" with this reason. From any thread or signal handler; `reason` must be static.
  void requestStop(const char* reason) { m_stopReason.store(reason); }

 private:
  // run_recorder.cpp: the course of a run.
  Status begin();
  void openRules(const std::vector<SourceInfo>& sources);
  void openSocket();
  void step();
  void enterPhase();
  Result<std::vector<Turned>> turnFirst();
  bool turnKnobs(const std::vector<KnobSetting>& settings);
  void tellTurned(const Turned& turned);
  void putBackKnobs();
  void movePhases(double timeS);
  void watchWriting();
  void noticeTaskDone();
  void end(Outcome outcome, std::string reason);
  Result<RunResult> finish();
  // recorder_samples.cpp: readings, stop rules, what happens to the machine.
  void take(const Tick& tick);
  void takeSweep(int source, const Sweep& sweep);
  void dropStale(double timeS);
  void feedSettling(double timeS);
  void watchWithoutTick();
  void watchRules(double timeS);
  void carryOutRule(const RuleTrip& trip, double timeS);
  void noticeSleep();
  void takeFindings(bool isLast);
  double valueOf(const std::string& role) const;
  double room() const;
  double watchedC() const;
  // recorder_talk.cpp: what is told and asked.
  bool addEvent(const Event& event);
  bool noteProblem(const ProblemKind& kind, const std::string& text);
  void answerWishes();
  Json carryOut(const Json& wish);
  Json takeEntry(const std::string& line);
  Json takeAnswer(const std::string& words);
  void tellState(double timeS);
  void tellPhase(double timeS);
  RunProgress progress() const;

  RunPlan m_plan;
  RunBench& m_bench;
  RunInfo m_info;
  std::unique_ptr<QueuedWriter> m_writer;
  std::unique_ptr<RunSocket> m_socket;
  PhaseMachine m_phases;
  DrainWatch m_drain;
  std::optional<StopRuleWatch> m_rules;
  std::optional<SettlingWatch> m_settling;
  std::optional<double> m_throttleLimitC;
  RoleValues m_values;             // NaN once they are too old
  std::set<std::string> m_asleep;  // columns whose device slept in its last sweep
  EventFolding m_folding;
  std::vector<double> m_sweptS;   // of each source: its last sweep
  std::optional<double> m_zeroS;  // bench time of the first sample
  double m_timeS = 0;
  std::string m_powerBehind;             // role of the power that warms what is watched
  std::vector<std::string> m_delivered;  // roles of what the watched device delivers
  double m_watchedRefreshS = 0;          // how often the watched reading is renewed by its driver
  double m_fedS = 0;                     // when it was last told to the settling watch
  double m_sleptS = 0;
  bool m_isLoadOn = false;
  LoadOptions m_loadAtWork;  // as it was started last
  bool m_phaseIsNew = true;
  std::string m_ruleReason;  // a rule stopped the load; the procedure goes on without it
  std::optional<Outcome> m_outcome;
  RunResult m_result;
  double m_lastStateS = 0;
  std::atomic<const char*> m_stopReason{nullptr};
};

}  // namespace ash
