// SPDX-License-Identifier: GPL-3.0-or-later
#include "demo/demo_book.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <filesystem>

#include "book/book.h"
#include "demo/demo_ladder.h"
#include "demo/demo_studies.h"
#include "demo/studio_clock.h"
#include "model/load_way.h"
#include "model/run_order.h"
#include "runner/planned_run.h"
#include "runner/sim_bench.h"

namespace ash {
namespace {

/// One study of the demo book, recorded run after run.
class DemoRecorder {
 public:
  DemoRecorder(std::string bookPath, DemoStudy demo, std::function<void()> onRun)
      : m_bookPath(std::move(bookPath)),
        m_demo(std::move(demo)),
        m_clock(m_demo.firstStart),
        m_onRun(std::move(onRun)) {}

  Status record() {
    if (Status kept = keepStudy(); !kept) return kept;
    while (true) {
      const auto book = Book::open(m_bookPath, BookAccess::ReadOnly);
      if (!book) return book.error();
      const auto runs = book->runs();
      if (!runs) return runs.error();
      const auto toDo = runsToDo(m_demo.study, m_demo.plan.repeats, *runs);
      if (toDo.empty()) return {};
      if (Status done = recordRun(toDo.front(), *runs); !done) return done;
      m_onRun();
    }
  }

 private:
  Status keepStudy() {
    auto book = Book::open(m_bookPath, BookAccess::ReadWrite);
    if (!book) return book.error();
    m_demo.study.plan = planToJson(m_demo.plan);
    auto kept = book->putStudy({}, m_demo.study);
    if (!kept) return kept.error();
    m_demo.study = std::move(*kept);
    return {};
  }

  const Incident* incidentOf(const PlannedRun& run, const std::vector<RunSummary>& runs) const {
    const auto before = std::count_if(runs.begin(), runs.end(), [&](const RunSummary& known) {
      return known.info.study == m_demo.study.name && known.info.setup == run.setup && known.info.load == run.load;
    });
    for (const Incident& incident : m_demo.incidents) {
      if (incident.setup == run.setup && incident.load == run.load && incident.nth == before + 1) return &incident;
    }
    return nullptr;
  }

  Result<RunPlan> planOf(const PlannedRun& run, const Incident* incident) {
    RunPlan plan;
    plan.bookPath = m_bookPath;
    plan.runId = fmt::format("{}-{:02}", m_demo.idPrefix, ++m_count);
    plan.study = m_demo.study.name;
    plan.setup = run.setup;
    plan.loadName = run.load;
    const auto load = std::find_if(m_demo.study.loads.begin(), m_demo.study.loads.end(),
                                   [&](const Load& known) { return known.name == run.load; });
    const auto loadSpec = specOf(m_demo.study, *load, run.setup);
    if (!loadSpec) return loadSpec.error();
    auto asked = loadFromJson(run.load, *loadSpec);
    if (!asked) return asked.error();
    plan.load = std::move(*asked);
    plan.started = m_clock.text();
    const bool hasOwnPhases = incident != nullptr && !incident->phases.empty();
    auto procedure = parsePhases(hasOwnPhases ? incident->phases : m_demo.plan.phases);
    if (!procedure) return procedure.error();
    plan.procedure = *procedure;
    auto rules = stopRulesOf(m_demo.plan);
    if (!rules) return rules.error();
    plan.rules = *rules;
    if (incident != nullptr) plan.scriptedEnd = incident->end;
    return plan;
  }

  Status recordRun(const PlannedRun& run, const std::vector<RunSummary>& runs) {
    const Incident* incident = incidentOf(run, runs);
    auto plan = planOf(run, incident);
    if (!plan) return plan.error();
    const Setup& setup = m_demo.study.setups[static_cast<size_t>(setupIndexIn(m_demo.study, run.setup))];
    auto spec = sim::loadBench(m_demo.plan.bench, run.setup, setup.conditions);
    if (!spec) return spec.error();
    const auto seed = static_cast<uint64_t>(m_count) * 7919 + m_demo.idPrefix.size();
    varyMounting(*spec, seed);
    SimRunBench bench({std::move(*spec), m_demo.plan.bench, seed}, kAsFastAsItGoes);
    RunRecorder recorder(*plan, bench);
    const auto result = recorder.run([](const RunProgress&) {});
    if (!result) return result.error();
    return finishRun(result->runId, incident);
  }

  // What the tester typed, and what he thought of the run afterwards.
  Status finishRun(const std::string& id, const Incident* incident) {
    auto book = Book::open(m_bookPath, BookAccess::ReadWrite);
    if (!book) return book.error();
    const auto run = book->readRun(id);
    if (!run) return run.error();
    const double lastS = run->log.timeS.empty() ? 0 : run->log.timeS.back();
    double loadS = 0;
    for (const PhaseSpan& phase : run->facts.phases) {
      if (phase.kind == PhaseKind::Soak) loadS = phase.startS;
    }
    for (const TypedLine& typed : m_demo.typed) {
      const double atS = loadS + typed.afterLoadS;
      if (atS >= lastS) continue;
      const auto entry = parseEntry(withMeterReading(typed.line, run->log, atS));
      if (!entry) return entry.error();
      if (Status added = book->addEvent(id, eventOf(*entry, atS)); !added) return added;
    }
    m_clock.advance(lastS + 420);
    return incident == nullptr || incident->voidReason.empty() ? Status() : book->voidRun(id, incident->voidReason);
  }

  // "?" stands for what a meter showed then: the noise as it was, or a panel between case air and room.
  static std::string withMeterReading(std::string line, const Log& log, double atS) {
    const size_t mark = line.find('?');
    if (mark == std::string::npos) return line;
    const auto row = static_cast<size_t>(std::lower_bound(log.timeS.begin(), log.timeS.end(), atS) - log.timeS.begin());
    const auto at = [&](const char* name) {
      const Channel* channel = log.find(name);
      return channel == nullptr ? kMissing : channel->values[std::min(row, log.timeS.size() - 1)];
    };
    const double value =
        line.starts_with("noise") ? at("noise") : at("room.temp") + 0.55 * (at("case.temp") - at("room.temp"));
    return line.replace(mark, 1, fmt::format("{:.1f}", value));
  }

  std::string m_bookPath;
  DemoStudy m_demo;
  StudioClock m_clock;
  std::function<void()> m_onRun;
  int m_count = 0;
};

int runCount(const std::vector<DemoStudy>& studies) {
  size_t count = 0;
  for (const DemoStudy& demo : studies) {
    count += demo.study.setups.size() * demo.study.loads.size() * static_cast<size_t>(demo.plan.repeats);
    for (const Incident& incident : demo.incidents) count += incident.voidReason.empty() ? 0 : 1;
  }
  return static_cast<int>(count);
}

}  // namespace

Status writeDemoBook(const std::string& path, const std::function<void(int, int)>& onProgress) {
  const std::string making = path + ".making";
  std::error_code error;
  if (std::filesystem::exists(path, error))
    return Error::badInput(fmt::format("{} is there already; give another name or remove it.", path));
  const auto removeAll = [&] {
    std::error_code ignored;
    for (const char* ending : {"", "-wal", "-shm"}) std::filesystem::remove(making + ending, ignored);
  };
  removeAll();
  const std::vector<DemoStudy> studies = demoStudies();
  const int all = runCount(studies) + kDemoLadderRuns;
  int done = 0;
  Status status;
  {
    const auto book = Book::create(making);
    if (!book) return book.error();
    for (const DemoStudy& demo : studies) {
      status = DemoRecorder(making, demo, [&] { onProgress(++done, all); }).record();
      if (!status) break;
    }
    if (status) status = recordDemoLadder(making, [&] { onProgress(++done, all); });
  }
  if (status) {
    std::filesystem::rename(making, path, error);
    if (error) status = Error::io("write", path, error.value());
  }
  if (!status) removeAll();
  return status;
}

}  // namespace ash
