// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_recorder.h"

#include <fmt/format.h>

#include <cmath>

#include "model/entry_line.h"
#include "model/role.h"
#include "runner/run_messages.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr double kTickPatienceS = 0.05;
constexpr double kCommitEveryS = 0.1;
constexpr double kProgressEveryS = 0.1;
constexpr double kStateEveryS = 0.2;   // real seconds between "state" messages
constexpr double kWriteMayFailS = 30;  // then the run cannot be kept and is ended

// The temperature in question: the processor's, else the first of anything that can be loaded.
std::string chooseWatched(const std::vector<SourceInfo>& sources, const std::string& loadKind) {
  std::string first;
  bool hasCpu = false, hasGpu = false;
  for (const SourceInfo& source : sources) {
    for (const Reading& reading : source.readings) {
      if (first.empty() && isLoadedTemperature(reading.role)) first = reading.role;
      hasCpu |= reading.role == "cpu.temp";
      hasGpu |= reading.role == "gpu.temp";
    }
  }
  if (loadKind == "graphics" && hasGpu) return "gpu.temp";
  return hasCpu ? "cpu.temp" : first;
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

Status RunRecorder::begin() {
  const std::vector<SourceInfo>& sources = m_bench.sources();
  auto book = Book::openOrCreate(m_plan.bookPath);
  if (!book) return book.error();
  Json conditions = m_bench.conditions();
  for (const auto& [field, value] : m_plan.conditions.items()) conditions[field] = value;
  Setup setup{m_plan.setup, Json::object(), conditions, Json::object()};
  if (m_plan.loadName.empty()) m_plan.loadName = m_plan.load.kind;
  Load load{m_plan.loadName,
            {{"kind", m_plan.load.kind}, {"threads", m_plan.load.threads}, {"duty", m_plan.load.dutyPercent}}};
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
  m_info.intervalS = m_plan.intervalS;
  m_info.watched = chooseWatched(sources, m_plan.load.kind);
  m_info.unwatchedReason = m_plan.unwatchedReason;
  auto writer = RunWriter::begin(m_plan.bookPath, m_info, sources);
  if (!writer) return writer.error();
  m_writer.emplace(std::move(*writer));
  m_result.runId = m_info.id;

  const Reading* watched = findReading(sources, m_info.watched);
  m_settling.emplace(watched == nullptr ? 0 : watched->step);
  if (watched != nullptr && watched->limits.contains("throttle")) m_throttleLimitC = watched->limits.at("throttle");
  std::vector<StopRule> rules = m_plan.rules;
  if (m_plan.unwatchedReason.empty()) {
    const auto defaults = defaultStopRules(sources, m_info.watched);
    rules.insert(rules.end(), defaults.begin(), defaults.end());
  }
  m_rules.emplace(std::move(rules), m_throttleLimitC);

  const auto path = runSocketPath(m_info.id);
  auto socket = path ? RunSocket::open(*path, helloMessage(m_info, m_plan, m_bench))
                     : Result<std::unique_ptr<RunSocket>>(path.error());
  if (socket)
    m_socket = std::move(*socket);
  else
    noteProblem("socket", "Nobody can follow or stop this run from outside: " + socket.error().message);
  if (m_info.watched.empty()) {
    noteProblem("no_temperature",
                "No temperature can be read here, so none is watched and settling cannot be told: "
                "`settled` ends after its least time.");
  }
  for (const std::string& missing : m_bench.missing()) noteProblem("missing_reading", missing);
  if (!m_plan.unwatchedReason.empty()) {
    m_writer->addEvent({0, "setting", "The default stop rules are off: " + m_plan.unwatchedReason, "", kMissing,
                        kMissing, Json::object()});
  }
  return {};
}

void RunRecorder::noteProblem(const std::string& kind, const std::string& text) {
  Event event{m_timeS, "problem", text, "", kMissing, kMissing, {{"kind", kind}}};
  m_writer->addEvent(event);
  if (m_socket) m_socket->tell(eventMessage(event));
  m_result.problems.push_back(text);
}

Result<RunResult> RunRecorder::run(const std::function<void(const RunProgress&)>& onProgress) {
  if (Status begun = begin(); !begun) return begun.error();
  m_bench.begin(m_plan.intervalS);
  enterPhase();
  double toldS = 0;
  while (!m_outcome) {
    const auto tick = m_bench.next(kTickPatienceS);
    if (const char* reason = m_stopReason.load()) end(Outcome::StoppedByHand, reason);
    answerWishes();
    if (tick && !m_outcome) take(*tick);
    if (m_plan.scriptedEnd && m_timeS >= m_plan.scriptedEnd->atS)
      end(m_plan.scriptedEnd->outcome, m_plan.scriptedEnd->reason);
    if (const std::string failure = m_isLoadOn ? m_bench.loadFailure() : ""; !failure.empty())
      end(Outcome::LoadFailed, failure);
    if (m_writer->waitingS() >= kCommitEveryS) {
      Status written = m_writer->commit();
      if (written)
        m_writeFailedS = 0;
      else if (m_writeFailedS == 0)
        m_writeFailedS = monotonicS();
      if (!written && monotonicS() - m_writeFailedS > kWriteMayFailS)
        end(Outcome::RecorderDied, written.error().message);
    }
    if (monotonicS() - toldS >= kProgressEveryS || m_outcome) {
      toldS = monotonicS();
      onProgress(progress());
    }
  }
  m_bench.stopLoad();
  if (m_bench.lostTicks() > 0) {
    noteProblem("lost", fmt::format("{} samples were lost because the recorder was too slow.", m_bench.lostTicks()));
  }
  m_result.outcome = *m_outcome;
  // The next sample would have come an interval later: that is where the last phase ends.
  if (!m_phaseIsNew || m_phases.isFinished()) m_writer->endPhase(m_timeS + m_plan.intervalS);
  Status finished = m_writer->finish(m_result.outcome, m_result.reason);
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
  const bool wantsLoad = isUnderLoad(m_phases.phase().kind);
  if (wantsLoad && !m_isLoadOn) {
    if (Status started = m_bench.startLoad(m_plan.load); !started) {
      end(Outcome::LoadFailed, started.error().message);
      return;
    }
    m_settling->restart();
  }
  if (!wantsLoad && m_isLoadOn) m_bench.stopLoad();
  m_isLoadOn = wantsLoad;
}

double RunRecorder::room() const {
  const auto found = m_values.find("room.temp");
  return found == m_values.end() ? kMissing : found->second;
}

void RunRecorder::takeSweep(int source, const Sweep& sweep) {
  if (!m_zeroS) m_zeroS = sweep.timeS;
  const double timeS = sweep.timeS - *m_zeroS;
  m_timeS = std::max(m_timeS, timeS);
  m_writer->addSweep(source, timeS, sweep.values);
  const auto& readings = m_bench.sources()[source].readings;
  for (size_t i = 0; i < readings.size(); ++i) {
    if (!readings[i].role.empty()) m_values[readings[i].role] = sweep.values[i];
  }
  if (m_socket) m_socket->tell(samplesMessage(source, timeS, sweep.values));
}

void RunRecorder::take(const Tick& tick) {
  if (tick.sweeps.empty()) return;
  for (const auto& [source, sweep] : tick.sweeps) takeSweep(source, sweep);
  const double timeS = tick.sweeps.front().second.timeS - *m_zeroS;
  if (m_phaseIsNew) {
    m_phaseIsNew = false;
    if (m_phases.index() > 0) m_writer->endPhase(timeS);
    m_writer->beginPhase(m_phases.phase().kind, timeS);
    tellPhase(timeS);
  }
  watchRules(timeS);
  if (m_outcome) return;
  const auto watched = m_values.find(m_info.watched);
  if (m_isLoadOn) m_settling->take(timeS, watched == m_values.end() ? kMissing : watched->second, room());
  movePhases(timeS);
  tellState(timeS);
}

void RunRecorder::watchRules(double timeS) {
  const auto tripped = m_rules->take(timeS, m_values, m_isLoadOn);
  if (!tripped) return;
  m_bench.stopLoad();
  Event event{timeS, "rule", *tripped, "", kMissing, kMissing, Json::object()};
  m_writer->addEvent(event);
  if (m_socket) m_socket->tell(eventMessage(event));
  end(Outcome::StoppedByRule, *tripped);
  tellState(timeS);
}

void RunRecorder::movePhases(double timeS) {
  const auto watched = m_values.find(m_info.watched);
  PhaseMachine::Moment moment;
  moment.timeS = timeS;
  moment.canSettle = !m_info.watched.empty();
  moment.hasSettled = m_settling->hasSettled();
  moment.watchedC = watched == m_values.end() ? kMissing : watched->second;
  const PhaseKind kind = m_phases.phase().kind;
  if (!m_phases.take(moment)) return;
  Event event{
      timeS,    "phase",       fmt::format("{} ended: {}.", phaseKindWords(kind), m_phases.lastEnd()), "", kMissing,
      kMissing, Json::object()};
  m_writer->addEvent(event);
  if (m_socket) m_socket->tell(eventMessage(event));
  enterPhase();
  if (m_phases.isFinished()) end(Outcome::Completed, "");
}

void RunRecorder::tellPhase(double timeS) {
  if (m_socket) m_socket->tell(phaseMessage(m_phases, timeS), true);
}

void RunRecorder::tellState(double timeS) {
  if (!m_socket) return;
  const double nowS = monotonicS();
  if (nowS - m_lastStateS < kStateEveryS && !m_outcome) return;
  m_lastStateS = nowS;
  RunProgress now = progress();
  now.timeS = timeS;
  m_socket->tell(stateMessage(now, m_rules->states(), m_isLoadOn), true);
}

void RunRecorder::answerWishes() {
  if (!m_socket) return;
  for (const Json& wish : m_socket->takeWishes()) {
    Json answer = carryOut(wish);
    answer["type"] = "answer";
    m_socket->answer(wish.value("client", 0LL), answer);
  }
}

Json RunRecorder::carryOut(const Json& wish) {
  const auto text = [&](const char* key) {
    const auto found = wish.find(key);
    return found != wish.end() && found->is_string() ? found->get<std::string>() : std::string();
  };
  const std::string what = text("do");
  if (what == "stop") {
    end(Outcome::StoppedByHand, text("reason").empty() ? "Stopped by hand." : text("reason"));
  } else if (what == "end phase") {
    m_phases.endPhaseNow();
  } else if (what == "extend") {
    const auto seconds = wish.find("seconds");
    if (seconds == wish.end() || !seconds->is_number() || seconds->get<double>() < 0 ||
        seconds->get<double>() > 86400) {
      return {{"ok", false}, {"why", "\"extend\" needs \"seconds\" from 0 to 86400."}};
    }
    m_phases.extend(seconds->get<double>());
  } else if (what == "note") {
    return takeEntry(text("text"));
  } else {
    return {{"ok", false}, {"why", "\"do\" must be stop, end phase, extend or note."}};
  }
  return {{"ok", true}, {"run", m_info.id}, {"t", m_timeS}};
}

// A line of the entry grammar; what it says becomes an event, and a void ends the run.
Json RunRecorder::takeEntry(const std::string& line) {
  const auto entry = parseEntry(line);
  if (!entry) return {{"ok", false}, {"why", entry.error().message}};
  const Event event = eventOf(*entry, m_timeS);
  m_writer->addEvent(event);
  if (m_socket) m_socket->tell(eventMessage(event));
  if (entry->kind == Entry::Kind::Void) end(Outcome::Void, entry->text);
  return {{"ok", true}, {"run", m_info.id}, {"t", m_timeS}, {"kept", entryWords(*entry)}};
}

RunProgress RunRecorder::progress() const {
  RunProgress now;
  now.runId = m_info.id;
  now.timeS = m_timeS;
  now.phaseIndex = std::min(m_phases.index(), m_plan.procedure.phases.size() - 1);
  now.phase = m_plan.procedure.phases[now.phaseIndex];
  now.phaseS = m_phases.isFinished() ? 0 : m_phases.elapsedS(m_timeS);
  now.longestRunLeftS = m_phases.longestRunLeftS(m_timeS);
  now.watched = m_info.watched;
  const auto watched = m_values.find(m_info.watched);
  if (watched != m_values.end()) now.watchedC = watched->second;
  now.roomC = room();
  now.throttleLimitC = m_throttleLimitC;
  if (m_isLoadOn && m_settling) {
    now.settling = m_settling->verdict();
    now.settlesAtS = m_settling->settlesAtS();
  }
  return now;
}

}  // namespace ash
