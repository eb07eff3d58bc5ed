// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_worker.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <optional>
#include <set>
#include <thread>

#include "load/command_load.h"
#include "load/load_crew.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr auto kWatchEvery = std::chrono::milliseconds(20);
constexpr auto kPrepareEvery = std::chrono::milliseconds(2);
constexpr double kTellEveryS = 0.25;

void append(auto& all, auto&& more) { all.insert(all.end(), more.begin(), more.end()); }

/// All that works at the same time: our own loads and a command, the first one leading.
class Ensemble {
 public:
  Status add(const LoadOptions& options) {
    if (options.kind == LoadKind::Command) {
      if (m_command) return Error::badInput("Only one command can run at a time.");
      m_command.emplace(options);
      m_commandLeads = m_crews.empty();
      return {};
    }
    auto part = makeLoadPart(options);
    if (!part) return part.error();
    LoadOptions whole = options;
    // So many passes are a task.
    if (whole.passes > 0) whole.work = std::min(whole.work, whole.passes * whole.passWork);
    const bool hasOwnCount = (*part)->isSelfPaced || (*part)->isFrames;
    if (!hasOwnCount) (*part)->threads = options.threads > 0 ? options.threads : threadsByDefault(options);
    m_crews.push_back(std::make_unique<LoadCrew>(std::move(whole), std::move(*part)));
    return {};
  }

  // False when it is stopped before all is prepared.
  bool begin(const std::function<bool()>& shouldStop) {
    for (const auto& crew : m_crews) crew->prepare();
    while (!std::all_of(m_crews.begin(), m_crews.end(), [](const auto& crew) { return crew->isReady(); })) {
      if (shouldStop()) return false;
      std::this_thread::sleep_for(kPrepareEvery);
    }
    m_startS = monotonicS();
    for (const auto& crew : m_crews) crew->go(m_startS);
    if (m_command) {
      if (Status started = m_command->start(m_startS); !started) m_failure = started.error().message;
    }
    return true;
  }

  void poll() {
    for (size_t i = 0; i < m_crews.size(); ++i) {
      auto passes = m_crews[i]->takePasses();
      if (i == 0 && !m_commandLeads) append(m_passes, passes);
      append(m_wrong, m_crews[i]->takeWrong());
    }
    if (m_command && m_commandLeads) append(m_passes, m_command->takePasses());
  }

  void stop() {
    for (const auto& crew : m_crews) crew->stop();
    if (m_command) m_command->stop();
  }

  double elapsedS() const { return monotonicS() - m_startS; }
  double work() const { return m_commandLeads ? m_command->runsDone() : m_crews.front()->work(); }
  /// When the task of the leading load was done; missing while it is not.
  double taskDoneS() const {
    if (m_commandLeads) return m_command->isDone() ? m_command->doneS() : kMissing;
    return m_crews.front()->taskDoneS();
  }
  long long errors() const {
    long long sum = 0;
    for (const auto& crew : m_crews) sum += crew->errors();
    return sum;
  }
  std::string failure() const {
    for (const auto& crew : m_crews) {
      if (const std::string failure = crew->failure(); !failure.empty()) return failure;
    }
    return m_command && !m_command->failure().empty() ? m_command->failure() : m_failure;
  }

  LoadProgress progress() {
    LoadProgress progress{m_startS, elapsedS(), work(), errors(), kMissing, {}, {}, {}};
    for (const auto& crew : m_crews) {
      if (crew->isFrames()) progress.frames = crew->work();
    }
    if (m_command) progress.live = m_command->live();
    progress.passes = {m_passes.begin() + static_cast<std::ptrdiff_t>(m_passesTold), m_passes.end()};
    progress.wrong = {m_wrong.begin() + static_cast<std::ptrdiff_t>(m_wrongTold), m_wrong.end()};
    m_passesTold = m_passes.size();
    m_wrongTold = m_wrong.size();
    return progress;
  }

  LoadReport report() const {
    LoadReport report;
    for (const auto& crew : m_crews) report.parts.push_back(crew->report());
    if (m_command) {
      LoadPartReport part;
      part.kind = LoadKind(LoadKind::Command).text();
      part.unit = "runs/s";
      part.work = m_command->runsDone();
      report.parts.insert(m_commandLeads ? report.parts.begin() : report.parts.end(), part);
    }
    report.passes = m_passes;
    report.wrong = m_wrong;
    report.isTaskDone = std::isfinite(taskDoneS());
    return report;
  }

 private:
  static int threadsByDefault(const LoadOptions& options) {
    return options.cores.empty() ? usableCpuCount() : static_cast<int>(options.cores.size());
  }

  std::vector<std::unique_ptr<LoadCrew>> m_crews;
  std::optional<CommandLoad> m_command;
  bool m_commandLeads = false;
  double m_startS = 0;
  std::string m_failure;
  std::vector<Pass> m_passes;
  std::vector<WrongResults> m_wrong;
  size_t m_passesTold = 0, m_wrongTold = 0;
};

/// Rates of whole seconds.
class SecondRates {
 public:
  void take(double elapsedS, double work) {
    if (elapsedS - m_fromS < 1) return;
    rates.push_back((work - m_work) / (elapsedS - m_fromS));
    m_fromS = elapsedS;
    m_work = work;
  }
  std::vector<double> rates;

 private:
  double m_fromS = 0, m_work = 0;
};

}  // namespace

long long LoadReport::errors() const {
  long long sum = 0;
  for (const LoadPartReport& part : parts) sum += part.errors;
  return sum;
}

Result<LoadReport> runLoad(const LoadOptions& options, const std::function<bool()>& shouldStop,
                           const std::function<void(const LoadProgress&)>& onProgress) {
  if (Status checked = checkLoadOptions(options); !checked) return checked.error();
  Ensemble ensemble;
  if (Status added = ensemble.add(options); !added) return added.error();
  for (const LoadOptions& other : options.also) {
    if (Status added = ensemble.add(other); !added) return added.error();
  }
  if (!ensemble.begin(shouldStop)) {
    ensemble.stop();
    return ensemble.report();
  }
  SecondRates seconds;
  double toldS = 0;
  while (true) {
    ensemble.poll();
    const double elapsedS = ensemble.elapsedS();
    seconds.take(elapsedS, ensemble.work());
    if (elapsedS >= options.seconds || std::isfinite(ensemble.taskDoneS()) || !ensemble.failure().empty() ||
        shouldStop())
      break;
    if (elapsedS - toldS >= kTellEveryS) {
      toldS = elapsedS;
      onProgress(ensemble.progress());
    }
    std::this_thread::sleep_for(std::min<std::chrono::duration<double>>(
        kWatchEvery, std::chrono::duration<double>(options.seconds - elapsedS)));
  }
  const double endedS = std::isfinite(ensemble.taskDoneS()) ? ensemble.taskDoneS() : ensemble.elapsedS();
  ensemble.stop();
  ensemble.poll();
  onProgress(ensemble.progress());
  if (const std::string failure = ensemble.failure(); !failure.empty()) return Error::environment(failure);
  LoadReport report = ensemble.report();
  report.seconds = endedS;
  report.perSecond = std::move(seconds.rates);
  if (report.perSecond.empty()) report.perSecond.push_back(report.parts.front().work / std::max(endedS, 1e-9));
  return report;
}

std::string wrongResultsText(const std::vector<WrongResults>& wrong) {
  long long count = 0;
  std::set<int> cores;
  for (const WrongResults& one : wrong) {
    count += one.count;
    cores.insert(one.core);
  }
  if (count == 0) return {};
  std::string text =
      fmt::format("{} wrong {} on core{} ", count, count == 1 ? "result" : "results", cores.size() == 1 ? "" : "s");
  size_t i = 0;
  for (const int core : cores) {
    text += std::to_string(core);
    if (++i < cores.size()) text += i + 1 == cores.size() ? " and " : ", ";
  }
  return text;
}

}  // namespace ash
