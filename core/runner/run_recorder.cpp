// SPDX-License-Identifier: GPL-3.0-or-later
// The course of a run, from its first row in the book to its outcome.
#include "runner/run_recorder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/role.h"
#include "model/text.h"
#include "runner/earlier_runs.h"
#include "runner/run_messages.h"
#include "system/clock.h"
#include "system/space_reserve.h"

namespace ash {
namespace {

constexpr double kFitsPerSecond = 60;  // of settling, of real time
constexpr double kLongestFitS = 10;    // between two fits, of the bench's time
constexpr double kTickPatienceS = 0.05;
constexpr double kProgressEveryS = 0.1;
constexpr double kWriteMayFailS = 30;  // then the run cannot be kept and is ended
constexpr double kFinishPatienceS = 60;
constexpr double kFinishInTroubleS = 5;

// The temperature in question: the processor's, else the first of anything that can be loaded.
std::string chooseWatched(const std::vector<SourceInfo>& sources, const LoadKind& loadKind) {
  std::string first;
  bool hasCpu = false, hasGpu = false, hasDrive = false;
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      if (first.empty() && reading.role.isLoadedTemperature()) first = reading.role.text();
      hasCpu |= reading.role == roles::kCpuTemp;
      hasGpu |= reading.role == roles::kGpuTemp;
      hasDrive |= reading.role == roles::kStorageTemp;
    }
  }
  if (loadKind == LoadKind::Graphics && hasGpu) return roles::kGpuTemp;
  if (loadKind == LoadKind::Storage && hasDrive) return roles::kStorageTemp;
  return hasCpu ? roles::kCpuTemp : first;
}

// The load of a phase: its own work or passes where it says them.
LoadOptions loadOf(const LoadOptions& planned, const Phase& phase) {
  LoadOptions load = planned;
  if (const auto* work = std::get_if<EndsWithWork>(&phase.end)) load.work = work->units;
  if (const auto* passes = std::get_if<EndsAfterPasses>(&phase.end))
    (load.kind == LoadKind::Command ? load.repeats : load.passes) = passes->count;
  return load;
}

Error notTurned(const KnobSetting& setting, const Error& why) {
  return {why.kind, fmt::format("{} was not set to {}: {}", setting.knob, setting.value, why.message)};
}

bool isSameTask(const LoadOptions& a, const LoadOptions& b) {
  return a.work == b.work && a.passes == b.passes && a.repeats == b.repeats;
}

const Reading* findReading(const std::vector<SourceInfo>& sources, const std::string& role) {
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      if (!role.empty() && reading.role == role) return &reading;
    }
  }
  return nullptr;
}

}  // namespace

RunRecorder::RunRecorder(RunPlan plan, RunBench& bench)
    : m_plan(std::move(plan)), m_bench(bench), m_phases(m_plan.procedure, m_plan.intervalS) {}

RunRecorder::~RunRecorder() { m_bench.stopLoad(); }

Status checkOnBench(const RunPlan& plan, RunBench& bench) {
  for (const Phase& phase : plan.procedure.phases) {
    const bool hasPasses = plan.load.kind == LoadKind::Command || plan.load.passWork > 0;
    if (std::holds_alternative<EndsAfterPasses>(phase.end) && !hasPasses)
      return Error::badInput(
          fmt::format("\"pass x…\" needs a load with passes; say how much work a pass of {} is (pass_work).",
                      plan.load.kind.text()));
  }
  if (runsBatteryDown(plan.procedure) && findReading(bench.sources(), roles::kBatteryCharge) == nullptr)
    return Error::environment("\"battery …\" needs the charge of a battery, and none is read here.");
  std::vector<KnobSetting> settings;
  for (const KnobCondition& one : plan.settings) settings.push_back(one.setting);
  // Of a group once.
  for (const WrittenPhase& written : asWritten(plan.procedure)) {
    const Phase& phase = plan.procedure.phases[written.index];
    settings.insert(settings.end(), phase.settings.begin(), phase.settings.end());
  }
  for (const KnobSetting& setting : settings) {
    if (Status checked = bench.checkKnob(setting); !checked) return checked;
  }
  return {};
}

Status RunRecorder::begin() {
  if (Status checked = checkOnBench(m_plan, m_bench); !checked) return checked;
  const auto turned = turnFirst();
  if (!turned) return turned.error();
  const std::vector<SourceInfo>& sources = m_bench.sources();
  auto book = Book::openOrCreate(m_plan.bookPath);
  if (!book) return book.error();
  Json conditions = m_bench.conditions();
  for (const auto& [field, value] : m_plan.conditions.items()) conditions[field] = value;
  Setup setup{m_plan.setup, Json::object(), conditions, Json::object()};
  if (m_plan.loadName.empty()) m_plan.loadName = m_plan.load.kind.text();
  const Json spec = loadToJson(m_plan.load);
  const Load load{m_plan.loadName, m_plan.loadRow.empty() ? spec : m_plan.loadRow};
  if (Status placed = book->ensurePlace(m_plan.study, setup, load); !placed) return placed;

  m_info.id = m_plan.runId;
  m_info.study = m_plan.study;
  m_info.setup = m_plan.setup;
  m_info.load = m_plan.loadName;
  m_info.started = m_plan.started.empty() ? isoTimeNow() : m_plan.started;
  m_info.procedure = m_plan.procedure;
  m_info.machine = m_bench.machine();
  m_info.bench = m_bench.description();
  m_info.conditions = conditions;
  m_info.loadSpec = spec;
  m_info.intervalS = m_plan.intervalS;
  m_info.watched = chooseWatched(sources, m_plan.load.kind);
  m_info.unwatchedReason = m_plan.unwatchedReason;
  auto writer = RunWriter::begin(m_plan.bookPath, m_info, sources);
  if (!writer) return writer.error();
  const bool followsARealClock = std::isfinite(m_bench.nowS());
  m_writer = std::make_unique<QueuedWriter>(std::move(*writer), !followsARealClock);
  m_result.runId = m_info.id;
  m_sweptS.assign(sources.size(), kMissing);

  const bool mustSettle = phasesText(m_plan.procedure).find("settled") != std::string::npos;
  if (mustSettle && m_plan.leastSoakS <= 0) m_plan.leastSoakS = leastSoakS(*book, m_info);
  openRules(sources);
  openSocket();
  if (m_info.watched.empty()) {
    noteProblem(ProblemKind::NoTemperature,
                "No temperature can be read here, so none is watched and settling cannot be told: "
                "`settled` ends after its least time.");
  }
  for (const Turned& one : *turned) tellTurned(one);
  for (const std::string& missing : m_bench.missing()) noteProblem(ProblemKind::MissingReading, missing);
  for (const std::string& sentence : m_bench.notAsAsked()) noteProblem(ProblemKind::NotAsAsked, sentence);
  for (const std::string& remark : m_plan.remarks) noteProblem(ProblemKind::BeforeStart, remark);
  if (!m_plan.unwatchedReason.empty()) {
    addEvent({0, EventKind::Setting, "The default stop rules are off: " + m_plan.unwatchedReason, "", kMissing,
              kMissing, Json::object()});
  }
  return {};
}

void RunRecorder::openRules(const std::vector<SourceInfo>& sources) {
  const Reading* watched = findReading(sources, m_info.watched);
  if (watched != nullptr) m_watchedRefreshS = watched->refreshS;
  if (watched != nullptr && watched->limits.contains("throttle")) m_throttleLimitC = watched->limits.at("throttle");
  m_powerBehind = Role(Role(m_info.watched).device(), Quantity::Power).text();
  const Device device = Role(m_info.watched).device();
  const auto worked = workedBy(m_plan.load.kind);
  for (const Role& role : deliveredRoles(device, worked && device.is(*worked) ? Role(roles::kWorkRate) : Role())) {
    if (findReading(sources, role.text()) != nullptr) m_delivered.push_back(role.text());
  }
  // A bench that runs faster than time cannot be fitted every one of its seconds.
  m_settling.emplace(SettlingWatch::Settings{watched == nullptr ? 0 : watched->step, m_throttleLimitC,
                                             std::clamp(m_bench.speed() / kFitsPerSecond, 1.0, kLongestFitS),
                                             m_plan.leastSoakS, m_delivered, std::isfinite(m_bench.nowS())});
  std::vector<StopRule> rules = m_plan.rules;
  const auto guards = recordingRules(m_plan.rules, freeSpaceB(m_plan.bookPath));
  rules.insert(rules.end(), guards.begin(), guards.end());
  if (m_plan.unwatchedReason.empty()) {
    const auto defaults = defaultStopRules(sources, m_info.watched);
    rules.insert(rules.end(), defaults.begin(), defaults.end());
  }
  const auto lost = lostRules(rules);
  rules.insert(rules.end(), lost.begin(), lost.end());
  m_rules.emplace(std::move(rules), m_throttleLimitC);
}

void RunRecorder::openSocket() {
  const auto path = runSocketPath(m_info.id);
  auto socket = path ? RunSocket::open(*path, helloMessage(m_info, m_plan, m_bench))
                     : Result<std::unique_ptr<RunSocket>>(path.error());
  if (socket)
    m_socket = std::move(*socket);
  else
    noteProblem(ProblemKind::NoSocket, "Nobody can follow or stop this run from outside: " + socket.error().message);
}

Result<RunResult> RunRecorder::run(const std::function<void(const RunProgress&)>& onProgress) {
  if (Status begun = begin(); !begun) {
    static_cast<void>(m_bench.putBack());
    return begun.error();
  }
  m_bench.begin(m_plan.intervalS);
  enterPhase();
  double toldS = 0;
  while (!m_outcome) {
    step();
    if (monotonicS() - toldS >= kProgressEveryS || m_outcome) {
      toldS = monotonicS();
      onProgress(progress());
    }
  }
  return finish();
}

void RunRecorder::step() {
  const auto tick = m_bench.next(kTickPatienceS);
  if (const char* reason = m_stopReason.load()) end(Outcome::StoppedByHand, reason);
  answerWishes();
  if (m_outcome) return;
  noticeSleep();
  takeFindings(false);
  if (tick)
    take(*tick);
  else
    watchWithoutTick();
  if (m_plan.scriptedEnd && m_timeS >= m_plan.scriptedEnd->atS)
    end(m_plan.scriptedEnd->outcome, m_plan.scriptedEnd->reason);
  if (const std::string failure = m_isLoadOn ? m_bench.loadFailure() : ""; !failure.empty())
    end(Outcome::LoadFailed, failure);
  noticeTaskDone();
  watchWriting();
}

// A load with an end has come to it: what is left of its phases is not waited for.
void RunRecorder::noticeTaskDone() {
  const double doneS = m_isLoadOn && !m_outcome ? m_bench.taskDoneS() : kMissing;
  if (!std::isfinite(doneS)) return;
  const LoadOptions& load = m_loadAtWork;
  const double units = load.kind == LoadKind::Command ? load.repeats
                       : std::isfinite(load.work)     ? load.work
                                                      : load.passes * load.passWork;
  addEvent({m_timeS,
            EventKind::Work,
            fmt::format("The load's task was done in {:.1f} s.", doneS),
            "",
            kMissing,
            kMissing,
            {{"units", units}, {"unit", load.kind == LoadKind::Command ? "run" : ""}, {"done_s", doneS}}});
  takeFindings(false);
  m_bench.stopLoad();
  m_isLoadOn = false;
  if (m_phases.workDone()) return;
  m_phases.leaveLoad("the load's task was done");
  m_phaseIsNew = true;
  if (m_phases.isFinished()) end(Outcome::Completed, "");
}

// The load must not go on when nothing of it can be kept.
void RunRecorder::watchWriting() {
  const auto trouble = m_writer->trouble();
  if (!trouble) return;
  if (trouble->error.kind == ErrorKind::DiskFull)
    end(Outcome::StoppedByRule,
        fmt::format("The drive of the book is full; the load was stopped. Make room for {}.", m_plan.bookPath));
  else if (monotonicS() - trouble->sinceS > kWriteMayFailS)
    end(Outcome::RecorderDied, trouble->error.message);
}

Result<RunResult> RunRecorder::finish() {
  m_bench.stopLoad();
  // How the machine was set at the end is asked before that is changed.
  takeFindings(true);
  putBackKnobs();
  const long long lost = m_bench.lostTicks() + m_writer->droppedSweeps();
  if (lost > 0)
    noteProblem(ProblemKind::Lost,
                fmt::format("{} samples were lost because the recorder or the drive was too slow.", lost));
  if (const long long events = m_writer->droppedEvents(); events > 0)
    noteProblem(ProblemKind::Lost, fmt::format("{} events were lost because the drive was too slow.", events));
  m_result.outcome = *m_outcome;
  // The next sample would have come an interval later: that is where the last phase ends.
  if (!m_phaseIsNew || m_phases.isFinished()) m_writer->endPhase(m_timeS + m_plan.intervalS);
  for (const Event& event : m_folding.takeRest()) {
    m_writer->addEvent(event);
    if (m_socket) m_socket->tell(eventMessage(event));
  }
  const bool isInTrouble = m_writer->trouble().has_value();
  const Status finished =
      m_writer->finish(m_result.outcome, m_result.reason, isInTrouble ? kFinishInTroubleS : kFinishPatienceS);
  if (m_socket) {
    m_socket->tell(outcomeMessage(m_result), true);
    m_socket->close();
  }
  if (!finished) return finished.error();
  return m_result;
}

void RunRecorder::end(Outcome outcome, std::string reason) {
  if (m_outcome) return;
  m_bench.stopLoad();
  m_isLoadOn = false;
  m_outcome = outcome;
  m_result.reason = std::move(reason);
}

void RunRecorder::enterPhase() {
  m_phaseIsNew = true;
  if (m_phases.isFinished()) return;
  const Phase& phase = m_phases.phase();
  if (!turnKnobs(phase.settings)) return;
  if (const auto* pause = std::get_if<EndsByAnswer>(&phase.end)) {
    addEvent(
        {m_timeS, EventKind::Phase, fmt::format("Pause: {}.", pause->words), "", kMissing, kMissing, Json::object()});
    return;  // the load stays as it is
  }
  const bool wantsLoad = isUnderLoad(phase.kind);
  const LoadOptions load = loadOf(m_plan.load, phase);
  // A task of its own, and what follows it, begin with a load that is fresh.
  if (wantsLoad && m_isLoadOn && !isSameTask(load, m_loadAtWork)) {
    m_bench.stopLoad();
    m_isLoadOn = false;
  }
  if (wantsLoad && !m_isLoadOn) {
    m_loadAtWork = load;
    if (Status started = m_bench.startLoad(load); !started) {
      end(Outcome::LoadFailed, started.error().message);
      return;
    }
    m_settling->beginLoad();
  }
  if (!wantsLoad && m_isLoadOn) m_bench.stopLoad();
  m_isLoadOn = wantsLoad;
}

// What a phase wants to be turned before it begins; a knob that will not be turned ends the run.
bool RunRecorder::turnKnobs(const std::vector<KnobSetting>& settings) {
  for (const KnobSetting& setting : settings) {
    const auto turned = m_bench.turn(setting);
    if (!turned) {
      end(Outcome::StoppedByRule, notTurned(setting, turned.error()).message);
      return false;
    }
    tellTurned(*turned);
  }
  return true;
}

// What the setup wants to be turned is how the machine stands before anything of the run is written; a knob that will
// not be turned is no run, but for a limit that is stated anyway: that is told.
Result<std::vector<Turned>> RunRecorder::turnFirst() {
  std::vector<Turned> all;
  for (const KnobCondition& one : m_plan.settings) {
    auto turned = m_bench.turn(one.setting);
    if (turned) {
      all.push_back(std::move(*turned));
      continue;
    }
    const Error why = notTurned(one.setting, turned.error());
    if (!one.isStatedOnly || why.kind != ErrorKind::Environment) return why;
    m_plan.remarks.push_back(why.message);
  }
  return all;
}

void RunRecorder::tellTurned(const Turned& turned) {
  addEvent({m_timeS,
            EventKind::Setting,
            turnedWords(turned) + ".",
            "",
            kMissing,
            kMissing,
            {{"knob", turned.knob}, {"asked", turned.asked}, {"read_back", turned.readBack}, {"unit", turned.unit}}});
  if (!turned.isAsAsked) noteProblem(ProblemKind::NotAsAsked, turnedWords(turned) + ".");
}

void RunRecorder::putBackKnobs() {
  for (const std::string& trouble : m_bench.putBack()) noteProblem(ProblemKind::NotAsAsked, trouble);
}

void RunRecorder::movePhases(double timeS) {
  PhaseMachine::Moment moment;
  moment.timeS = timeS;
  moment.canSettle = !m_info.watched.empty();
  moment.hasSettled = m_settling->hasSettled();
  moment.watchedC = watchedC();
  moment.chargePercent = valueOf(roles::kBatteryCharge);
  m_drain.take(m_phases.index(), timeS, moment.chargePercent);
  const PhaseKind kind = m_phases.phase().kind;
  if (!m_phases.take(moment)) return;
  std::string why = m_phases.lastEnd();
  if (kind == PhaseKind::Soak && moment.canSettle && !moment.hasSettled)
    why += ", " + shortOfSettledWords(m_settling->verdict());
  addEvent({timeS, EventKind::Phase, fmt::format("{} ended: {}.", phaseKindWords(kind), why), "", kMissing, kMissing,
            Json::object()});
  enterPhase();
  if (!m_phases.isFinished()) return;
  if (m_ruleReason.empty())
    end(Outcome::Completed, "");
  else
    end(Outcome::StoppedByRule, m_ruleReason);
}

}  // namespace ash
