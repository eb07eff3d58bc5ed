// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/study_outlook.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "analysis/analyze.h"
#include "analysis/catalogue/metrics.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr size_t kMostRuns = 12;

// What the study runs on, as its runs will say it; simulated benches by name, this machine by not being one.
bool isOfBench(const RunInfo& run, const StudyPlan& plan) {
  if (plan.bench.empty()) return !isSimulated(run.bench);
  return isSimulated(run.bench) && valueIn(run.bench, "name", "") == plan.bench;
}

// The latest of the study itself, or of others on its bench.
std::vector<const RunSummary*> runsOfBench(const std::vector<RunSummary>& runs, const StudyPlan& plan,
                                           const std::string& study, bool isOwn) {
  std::vector<const RunSummary*> found;
  for (auto run = runs.rbegin(); run != runs.rend() && found.size() < kMostRuns; ++run) {
    const RunInfo& info = run->info;
    if (info.outcome == Outcome::Completed &&
        (isOwn ? info.study == study : info.study != study && isOfBench(info, plan)))
      found.push_back(&*run);
  }
  return found;
}

struct Evidence {
  std::vector<AnalyzedRun> analyzed;  // those that were not known
  std::map<std::string, RepeatGroup> groups;
  double sumS = 0;
  int count = 0;
};

Status gather(const Book& book, const std::vector<const RunSummary*>& runs, const KnownFigures& known,
              Evidence& evidence) {
  evidence.analyzed.reserve(runs.size());  // so that pointers into it stay
  for (const RunSummary* run : runs) {
    const RunInfo& info = run->info;
    const AnalyzedRun* figures = known ? known(info.id) : nullptr;
    if (figures == nullptr) {
      auto log = book.readRun(info.id);
      if (!log) return log.error();
      evidence.analyzed.push_back({std::move(*log), {}});
      evidence.analyzed.back().figures = analyzeRun(evidence.analyzed.back().run);
      figures = &evidence.analyzed.back();
    }
    evidence.groups[info.study + '\n' + info.setup + '\n' + info.load].push_back(figures);
    if (!std::isfinite(run->lastSampleS)) continue;
    evidence.sumS += run->lastSampleS;
    ++evidence.count;
  }
  return {};
}

RepeatScatter scatterIn(const Evidence& evidence, const Figure& figure) {
  std::vector<RepeatGroup> groups;
  for (const auto& [name, group] : evidence.groups) groups.push_back(group);
  return scatterOf(groups, figure);
}

// The plan's, else that of the device which the study's runs watch.
Figure figureOf(const StudyPlan& plan, const Evidence& own) {
  if (!plan.figure.empty()) return plan.figure;
  for (const auto& [name, group] : own.groups) {
    const Device device = Role(group.front()->figures.watched).device();
    if (!device.empty()) return {device, FigureId::OverRoom};
  }
  return RunEvidence{}.figure;
}

double longestRunS(const StudyPlan& plan) {
  double sum = 0;
  if (const auto procedure = parsePhases(plan.phases)) {
    for (const Phase& phase : procedure->phases) sum += reckonedPhaseS(phase);
  }
  return sum;
}

double typicalValue(const Evidence& evidence, const Figure& figure) {
  for (const auto& [name, group] : evidence.groups) {
    for (const AnalyzedRun* run : group) {
      const MetricValues values = metricsOf(run->run, run->figures);
      if (const auto found = values.find(figure); found != values.end()) return std::abs(found->second.value);
    }
  }
  return 0;
}

std::string costWords(const StudyOutlook& outlook, int repeats) {
  const int runs = outlook.setups * outlook.loads * repeats;
  return fmt::format("{} run{}, about {}", runs, runs == 1 ? "" : "s",
                     roughDurationWords(3600 * outlook.hours(repeats)));
}

std::string amountWords(const StudyOutlook& outlook, double amount) {
  const double shown = outlook.figure.kind().scale * amount;
  constexpr int kMostPlaces = 6;
  // Two digits that tell something, whatever the unit.
  const int places = shown > 0 ? std::clamp(1 - static_cast<int>(std::floor(std::log10(shown))), 0, kMostPlaces)
                               : outlook.figure.digits();
  return withUnit(shown, places, outlook.figure.differenceUnit());
}

}  // namespace

Result<RunEvidence> evidenceFor(const Book& book, const Study& study, const KnownFigures& known) {
  const auto runs = book.runs();
  if (!runs) return runs.error();
  const StudyPlan plan = planFromJson(study.plan);
  Evidence own, others;
  if (Status gathered = gather(book, runsOfBench(*runs, plan, study.name, true), known, own); !gathered)
    return gathered.error();
  RunEvidence evidence;
  evidence.figure = figureOf(plan, own);
  evidence.scatter = scatterIn(own, evidence.figure);
  if (evidence.scatter.runs == 0) {
    if (Status gathered = gather(book, runsOfBench(*runs, plan, study.name, false), known, others); !gathered)
      return gathered.error();
    evidence.scatter = scatterIn(others, evidence.figure);
    evidence.isOfOtherStudies = evidence.scatter.runs > 0;
  }
  const Evidence& timed = own.count > 0 ? own : others;
  if (timed.count > 0) evidence.runS = timed.sumS / timed.count;
  evidence.typical = typicalValue(timed, evidence.figure);
  return evidence;
}

Result<std::string> evidenceKey(const Book& book, const Study& study) {
  const auto runs = book.runs();
  if (!runs) return runs.error();
  const StudyPlan plan = planFromJson(study.plan);
  std::string key = study.name + '\n' + plan.bench + '\n' + plan.figure;
  for (const RunSummary& run : *runs)
    key += '\n' + run.info.id + ' ' + run.info.setup + ' ' + std::string(outcomeText(run.info.outcome));
  return key;
}

StudyOutlook outlookOf(const Study& study, const RunEvidence& evidence) {
  const StudyPlan plan = planFromJson(study.plan);
  StudyOutlook outlook;
  outlook.figure = evidence.figure;
  outlook.scatter = evidence.scatter;
  outlook.isOfOtherStudies = evidence.isOfOtherStudies;
  outlook.setups = static_cast<int>(study.setups.size());
  outlook.loads = static_cast<int>(study.loads.size());
  outlook.repeats = plan.repeats;
  outlook.runS = std::isfinite(evidence.runS) ? evidence.runS : longestRunS(plan);
  if (plan.marginK && outlook.figure.isTemperature()) outlook.margin = *plan.marginK;
  if (outlook.scatter.runs == 0) {
    const bool isStated = plan.repeatabilityK && outlook.figure.isTemperature();
    outlook.scatter = {isStated ? *plan.repeatabilityK : assumedSdOf(outlook.figure, evidence.typical), INFINITY, 0};
  }
  const int against = outlook.setups - 1;
  outlook.toldNow = differenceTold(plan.repeats, outlook.scatter.sd, against);
  if (outlook.margin > 0) outlook.repeatsForMargin = repeatsToTell(outlook.margin, outlook.scatter.sd, against);
  return outlook;
}

StudyOutlook outlookWithin(StudyOutlook outlook, double hours) {
  constexpr double kMostRepeats = 1000;
  const double round = outlook.hours(1);
  outlook.repeats = round > 0 ? static_cast<int>(std::min(kMostRepeats, hours / round)) : 0;
  outlook.margin = kMissing;
  outlook.repeatsForMargin = 0;
  outlook.toldNow = differenceTold(outlook.repeats, outlook.scatter.sd, outlook.setups - 1);
  return outlook;
}

std::string outlookWords(const StudyOutlook& outlook) {
  if (outlook.setups < 2 || outlook.loads < 1) return "";
  std::string words;
  if (std::isfinite(outlook.toldNow)) {
    words = fmt::format("{} repeats tell {} or more in 9 of 10 studies ({}).", outlook.repeats,
                        amountWords(outlook, outlook.toldNow), costWords(outlook, outlook.repeats));
  } else {
    words = fmt::format("One run each tells no scatter ({}).", costWords(outlook, 1));
  }
  if (!(outlook.margin > 0)) return words;
  if (outlook.repeatsForMargin == 0) {
    words += fmt::format(" The margin of {} would take more than 100 repeats.", amountWords(outlook, outlook.margin));
  } else if (outlook.repeatsForMargin != outlook.repeats) {
    words += fmt::format(" The margin of {} takes {} ({}).", amountWords(outlook, outlook.margin),
                         outlook.repeatsForMargin, costWords(outlook, outlook.repeatsForMargin));
  }
  return words;
}

std::string scatterWords(const StudyOutlook& outlook) {
  const std::string sd = amountWords(outlook, outlook.scatter.sd);
  if (outlook.scatter.runs == 0)
    return fmt::format("Repeats are taken to scatter by {} (standard deviation): this bench has no repeats yet.", sd);
  return fmt::format("Repeats scatter by {} (standard deviation of {} runs of {}).", sd, outlook.scatter.runs,
                     outlook.isOfOtherStudies ? "other studies on this bench" : "this study");
}

}  // namespace ash
