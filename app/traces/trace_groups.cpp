// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/trace_groups.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/text.h"

namespace ash {
using look::text;
namespace {

const RunSummary* summaryOf(const StudyReport& report, const AnalyzedRun& run) {
  for (const RunSummary& summary : report.summaries) {
    if (summary.info.id == run.run.name) return &summary;
  }
  return nullptr;
}

QString repeatsText(const std::vector<int>& repeats) {
  QStringList words;
  for (const int repeat : repeats) words << QString::number(repeat);
  const bool isRow = repeats.size() > 2 && repeats.back() - repeats.front() == static_cast<int>(repeats.size()) - 1;
  return isRow ? QObject::tr("%1 to %2").arg(repeats.front()).arg(repeats.back()) : words.join(QStringLiteral(", "));
}

QString endMarkOf(const RunSummary& summary) {
  switch (summary.info.outcome) {
    case Outcome::Completed:
    case Outcome::TakenIn:
      return {};
    case Outcome::MachineWentDown:
      return QObject::tr("went down, %1").arg(text(clockText(summary.lastSampleS)));
    case Outcome::Void:
      return QObject::tr("void");
    default:
      return text(std::string(outcomeText(summary.info.outcome)));
  }
}

void addSingle(std::vector<TraceGroup>& groups, const StudyReport& report, const AnalyzedRun& run, int setupIndex,
               int dash) {
  const RunSummary* summary = summaryOf(report, run);
  TraceGroup group;
  group.setup = run.run.facts.setup;
  group.setupIndex = setupIndex;
  group.runs = {&run};
  group.dash = dash;
  group.label =
      text(group.setup) + (summary == nullptr ? QString() : QObject::tr(", repeat %1").arg(summary->info.repeat));
  group.shortLabel =
      (summary == nullptr ? QString() : QString::number(summary->info.repeat) + QLatin1Char(' ')) + text(group.setup);
  if (summary != nullptr) {
    group.endMark = endMarkOf(*summary);
    group.isVoid = summary->info.outcome == Outcome::Void;
  }
  groups.push_back(std::move(group));
}

// Earlier work, each setup a band or a line in the softer ink.
void addEarlier(std::vector<TraceGroup>& groups, const StudyReport& report, const TraceChoice& choice) {
  int dash = 1;
  for (const EarlierSetup& earlier : report.earlier) {
    TraceGroup group;
    for (const auto& run : earlier.runs) {
      if (choice.runs.contains(run->run.name)) group.runs.push_back(run.get());
    }
    if (group.runs.empty()) continue;
    group.setup = earlier.label;
    group.setupIndex = -1;  // of none of its setups
    group.label =
        text(earlier.label) + (group.runs.size() > 1 ? QObject::tr(", %1 runs").arg(group.runs.size()) : QString());
    group.shortLabel = group.label;
    group.dash = dash++;
    groups.push_back(std::move(group));
  }
}

}  // namespace

QPen TraceGroup::pen(double width) const {
  QPen made(isVoid ? look::theme().strongLine : look::theme().series(setupIndex), width);
  const QVector<qreal> dashes[] = {{}, {5, 3}, {2, 3}, {8, 3, 2, 3}};
  if (dash > 0) made.setDashPattern(dashes[std::min(dash, 3)]);
  return made;
}

std::vector<TraceGroup> traceGroups(const StudyReport& report, const TraceChoice& choice) {
  std::vector<TraceGroup> groups;
  for (size_t setup = 0; setup < report.study.setups.size(); ++setup) {
    std::vector<const AnalyzedRun*> completed, others;
    std::vector<int> repeats;
    for (const auto& run : report.runs) {
      if (run->run.facts.setup != report.study.setups[setup].name || !choice.runs.contains(run->run.name)) continue;
      const bool isWhole = ranWhole(run->run.facts.outcome.value_or(Outcome::TakenIn));
      (isWhole ? completed : others).push_back(run.get());
      const RunSummary* summary = summaryOf(report, *run);
      if (isWhole && summary != nullptr) repeats.push_back(summary->info.repeat);
    }
    const int index = static_cast<int>(setup);
    int dash = 0;
    if (completed.size() > 1) {
      TraceGroup group;
      group.setup = report.study.setups[setup].name;
      group.setupIndex = index;
      group.runs = completed;
      group.label = text(group.setup) + QObject::tr(", repeats %1").arg(repeatsText(repeats));
      group.shortLabel = repeatsText(repeats) + QLatin1Char(' ') + text(group.setup);
      groups.push_back(std::move(group));
      ++dash;
    } else {
      for (const AnalyzedRun* run : completed) addSingle(groups, report, *run, index, dash++);
    }
    for (const AnalyzedRun* run : others) addSingle(groups, report, *run, index, dash++);
  }
  addEarlier(groups, report, choice);
  return groups;
}

Band traceOf(const TraceGroup& group, const std::string& channel, const TraceChoice& choice) {
  std::vector<Series> all;
  for (const AnalyzedRun* run : group.runs) {
    Series series = tracedSeries(*run, channel, choice.align, choice.scale, choice.smoothS, choice.epochS);
    if (!series.empty()) all.push_back(std::move(series));
  }
  // Repeats soak for different times: after the shortest load their mean would mix load with recovery.
  if (group.runs.size() > 1) {
    double endS = INFINITY;
    for (const AnalyzedRun* run : group.runs) {
      if (run->figures.load) endS = std::min(endS, run->figures.load->endS - zeroOf(*run, choice.align, choice.epochS));
    }
    for (Series& series : all) series = slice(series, {-INFINITY, endS});
    std::erase_if(all, [](const Series& series) { return series.empty(); });
  }
  if (all.size() == 1) return {all[0].t, all[0].v, all[0].v, all[0].v};
  return bandOf(all);
}

GroupFigures figuresOf(const TraceGroup& group, const TraceChoice& choice) {
  GroupFigures result;
  std::vector<WindowFigures> all;
  for (const AnalyzedRun* run : group.runs) {
    const auto window = windowOfRun(*run, choice.window, choice.align, choice.epochS);
    if (!window) continue;
    all.push_back(figuresIn(*run, *window));
    const double zero = zeroOf(*run, choice.align, choice.epochS);
    if (!result.span && std::isfinite(zero)) result.span = TimeSpan{window->startS - zero, window->endS - zero};
  }
  result.runs = static_cast<int>(all.size());
  if (all.empty()) return result;
  const RepeatedFigures repeats = averaged(all);
  result.mean = repeats.mean;
  result.halfK = repeats.overRoomHalfK;
  return result;
}

}  // namespace ash
