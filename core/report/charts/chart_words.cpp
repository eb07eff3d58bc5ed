// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/charts/chart_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "analysis/run/figures.h"
#include "model/number_text.h"
#include "report/answer/answer.h"

namespace ash {

std::string chartId(const StudyReport& report, const LoadStanding& load, const std::string& what) {
  for (size_t i = 1; i < report.loads.size(); ++i) {
    if (report.loads[i].load == load.load) return fmt::format("{}-{}", what, i + 1);
  }
  return what;
}

std::string chartSource(const StudyReport& report, const LoadStanding& load) {
  constexpr size_t kDay = 10;
  std::string first, last;
  std::set<std::string> setups;
  size_t runs = 0;
  bool isSim = false, isReal = false;
  for (const RunSummary& run : report.summaries) {
    if (run.info.load != load.load || run.info.outcome == Outcome::Void) continue;
    const std::string day = run.info.started.substr(0, kDay);
    if (!day.empty() && (first.empty() || day < first)) first = day;
    last = std::max(last, day);
    setups.insert(run.info.setup);
    (isSimulated(run.info.bench) ? isSim : isReal) = true;
    ++runs;
  }
  std::string words = report.study.name;
  words += fmt::format(" · {} {} of {} {}", runs, runs == 1 ? "run" : "runs", setups.size(),
                       setups.size() == 1 ? "setup" : "setups");
  if (!first.empty()) words += first == last ? ", " + first : fmt::format(", {} to {}", first, last);
  if (isSim) words += isReal ? " · partly a simulated bench" : " · simulated bench";
  return words + fmt::format(" · Ash Gauge, figures by method {}", kFiguresMethod);
}

std::vector<RunsOfSetup> runsBySetup(const StudyReport& report, const LoadStanding& load) {
  std::vector<RunsOfSetup> all;
  for (size_t i = 0; i < report.study.setups.size(); ++i) {
    RunsOfSetup of{report.study.setups[i].name, static_cast<int>(i), {}};
    for (const auto& run : report.runs) {
      const RunFacts& facts = run->run.facts;
      if (facts.load == load.load && facts.setup == of.setup && facts.outcome != Outcome::Void)
        of.runs.push_back(run.get());
    }
    // One that was cut short would cut the others with it.
    const auto isCut = [](const AnalyzedRun* run) {
      return run->run.facts.outcome && !ranWhole(*run->run.facts.outcome);
    };
    if (!std::all_of(of.runs.begin(), of.runs.end(), isCut)) std::erase_if(of.runs, isCut);
    if (!of.runs.empty()) all.push_back(std::move(of));
  }
  return all;
}

std::string levelWords(const Comparison& comparison) {
  if (!comparison.equalBy || !std::isfinite(comparison.equalAt)) return "";
  const Figure& by = *comparison.equalBy;
  return fmt::format(", at equal {}: {}", lowerFirst(by.title()), withUnit(comparison.equalAt, by.digits(), by.unit()));
}

std::string spokenList(const std::vector<std::string>& parts) {
  std::string words;
  for (const std::string& part : parts) words += (words.empty() ? "" : "; ") + part;
  return words + ".";
}

}  // namespace ash
