// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/load_crew.h"

#include <pthread.h>
#include <sched.h>
#include <sys/resource.h>

#include <algorithm>
#include <chrono>
#include <cmath>

#include "system/clock.h"

namespace ash {
namespace {

constexpr double kDutyPeriodS = 0.1;
constexpr int kBelowWatch = 4;
constexpr size_t kMostRemembered = 1000;  // wrong results; more are counted only
constexpr double kRounding = 1e-9;

void sleepS(double seconds) {
  if (seconds > 0) std::this_thread::sleep_for(std::chrono::duration<double>(seconds));
}

// A core that this process may not use is no reason to fail: the kernel then chooses.
void keepTo(int core) {
  cpu_set_t set;
  CPU_ZERO(&set);
  CPU_SET(static_cast<unsigned>(core), &set);
  pthread_setaffinity_np(pthread_self(), sizeof set, &set);
}

}  // namespace

LoadCrew::LoadCrew(LoadOptions options, std::unique_ptr<LoadPart> part)
    : m_options(std::move(options)), m_part(std::move(part)), m_taskDoneS(kMissing) {}

LoadCrew::~LoadCrew() { stop(); }

void LoadCrew::prepare() {
  for (int i = 0; i < m_part->threads; ++i)
    m_threads.emplace_back([this, i](const std::stop_token& stop) { work(i, stop); });
}

void LoadCrew::go(double startS) {
  m_startS = startS;
  m_isOn = true;
}

void LoadCrew::stop() {
  for (std::jthread& thread : m_threads) thread.request_stop();
  m_threads.clear();
}

double LoadCrew::elapsedS() const { return monotonicS() - m_startS; }

// A task is divided among the threads to the block, so that it is the same work however many there are.
bool LoadCrew::mayStartBlock() {
  if (!std::isfinite(m_options.work)) return true;
  if (m_part->workPerBlock <= 0) return m_work < m_options.work * (1 - kRounding);
  const double blocks = std::ceil(m_options.work / m_part->workPerBlock * (1 - kRounding));
  return static_cast<double>(m_started.fetch_add(1)) < blocks;
}

void LoadCrew::work(int index, const std::stop_token& stop) {
  // Below the thread that watches over them (on Linux a thread has a priority of its own, sched(7)).
  setpriority(PRIO_PROCESS, 0, std::min(19, getpriority(PRIO_PROCESS, 0) + kBelowWatch));
  if (!m_options.cores.empty()) keepTo(m_options.cores[static_cast<size_t>(index) % m_options.cores.size()]);
  const auto thread = m_part->makeThread(index, stop);
  if (!thread) fail(thread.error().message);
  ++m_ready;
  while (!m_isOn && !stop.stop_requested()) sleepS(0.001);
  double periodStartS = monotonicS();
  long long done = 0;
  while (!stop.stop_requested() && thread) {
    const double dutyPercent = m_part->isSelfPaced ? 100 : dutyAt(m_options, elapsedS());
    const double nowS = monotonicS();
    if (dutyPercent < 100 && nowS - periodStartS >= kDutyPeriodS * dutyPercent / 100) {
      sleepS(periodStartS + kDutyPeriodS - nowS);
      periodStartS = std::max(periodStartS + kDutyPeriodS, monotonicS() - kDutyPeriodS);
      continue;
    }
    if (!mayStartBlock()) return;
    const BlockResult result = (*thread)->block(index == 0 && done++ == m_options.flipAtBlock);
    if (!result.failure.empty()) return fail(result.failure);
    count(result);
  }
}

void LoadCrew::count(const BlockResult& result) {
  if (result.wrong > 0) {
    m_errors += result.wrong;
    const std::lock_guard lock(m_mutex);
    if (m_wrong.size() < kMostRemembered) m_wrong.push_back({elapsedS(), sched_getcpu(), result.wrong});
  }
  if (result.work <= 0) return;
  const double before = m_work.fetch_add(result.work), after = before + result.work;
  const double pass = m_options.passWork;
  const auto passesIn = [pass](double work) { return std::floor(work / pass * (1 + kRounding)); };
  if (pass > 0 && passesIn(after) > passesIn(before)) {
    const std::lock_guard lock(m_mutex);
    const double nowS = elapsedS();
    Pass ended;
    ended.startS = m_passBeganS;
    ended.endS = nowS;
    ended.score = pass / std::max(nowS - m_passBeganS, 1e-9);
    m_passes.push_back(ended);
    m_passBeganS = nowS;
  }
  // Wrong blocks are work that was done, too: the task ends all the same.
  const double wrongWork = static_cast<double>(m_errors) * m_part->workPerBlock;
  if (after + wrongWork >= m_options.work * (1 - kRounding) && std::isnan(m_taskDoneS.load())) m_taskDoneS = elapsedS();
}

void LoadCrew::fail(const std::string& sentence) {
  const std::lock_guard lock(m_mutex);
  if (m_failure.empty()) m_failure = sentence;
}

std::string LoadCrew::failure() const {
  const std::lock_guard lock(m_mutex);
  return m_failure;
}

std::vector<Pass> LoadCrew::takePasses() {
  const std::lock_guard lock(m_mutex);
  return std::exchange(m_passes, {});
}

std::vector<WrongResults> LoadCrew::takeWrong() {
  const std::lock_guard lock(m_mutex);
  return std::exchange(m_wrong, {});
}

LoadPartReport LoadCrew::report() const {
  return {std::string(m_options.kind.text()),
          m_part->unit,
          m_part->variant,
          m_part->precision,
          m_part->pattern,
          m_part->threads,
          m_part->isFrames,
          m_work,
          m_errors};
}

}  // namespace ash
