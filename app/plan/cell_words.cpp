// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/cell_words.h"

#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "load/load_options.h"
#include "model/load_way.h"
#include "model/owed_readings.h"
#include "model/role.h"
#include "model/text.h"
#include "report/answer/answer.h"
#include "report/charts/run_figures.h"
#include "runner/run_queue.h"

namespace ash {
using look::text;
namespace {

// Roles that an instrument told in the window: nobody need type them.
std::set<std::string> measuredOf(const Figures& figures, const Json& bench) {
  const std::set<std::string> told = toldByInstruments(bench);
  std::set<std::string> roles;
  for (const ChannelFigures& channel : figures.channels) {
    if (channel.window.n > 0 && told.contains(channel.name)) roles.insert(channel.name);
  }
  return roles;
}

const LoadStanding* loadReport(const StudyDesk& desk, const std::string& load) {
  if (!desk.report()) return nullptr;
  for (const LoadStanding& report : desk.report()->loads) {
    if (report.load == load) return &report;
  }
  return nullptr;
}

// That this setup carries the load out otherwise than the others.
QString wayWords(const StudyDesk& desk, const std::string& setup, const std::string& load) {
  for (const Load& known : desk.study()->loads) {
    if (known.name != load) continue;
    const Json way = wayOf(known, setup);
    const auto asked = loadFromJson("", way);
    if (!way.empty() && asked) return QObject::tr("by %1").arg(text(loadKindText(*asked)));
  }
  return {};
}

}  // namespace

CellWords cellWords(const StudyDesk& desk, const std::string& setup, const std::string& load) {
  CellWords words;
  int done = 0, notSettled = 0;
  size_t stillOpen = 0;
  QStringList others;
  double slowedShare = 0, sinceS = INFINITY;
  for (const RunSummary& run : desk.runs()) {
    if (run.info.setup != setup || run.info.load != load) continue;
    done += countsAsDone(run.info.outcome);
    if (!ranWhole(run.info.outcome)) {
      QString line = text(std::string(outcomeText(run.info.outcome)));
      if (run.info.outcome == Outcome::Void && !run.info.reason.empty())
        line += QStringLiteral(": ") + text(run.info.reason);
      others << line;
    }
    const AnalyzedRun* worked = desk.figuresOf(run.info.id);
    if (worked == nullptr || run.info.outcome == Outcome::Void) continue;
    const ChannelFigures* watched = worked->figures.channel(worked->figures.watched);
    if (run.info.outcome == Outcome::Completed) {
      stillOpen += owedBy(desk.plan(), worked->run.facts, measuredOf(worked->figures, run.info.bench)).size();
    }
    notSettled += watched != nullptr && watched->settled && !watched->settled->isSettled;
    for (const Throttling& throttling : worked->figures.throttling) {
      if (throttling.device != Role(worked->figures.watched).device()) continue;
      slowedShare = std::max(slowedShare, throttling.shareThermal);
      sinceS = std::min(sinceS, throttling.timeToLimitS.value_or(INFINITY));
    }
  }
  words.lines << (desk.isDecided(setup, load) ? QObject::tr("decided after %1").arg(done)
                                              : QObject::tr("%1 of %2 done").arg(done).arg(desk.plan().repeats));
  if (const QString way = wayWords(desk, setup, load); !way.isEmpty()) words.lines << way;
  if (slowedShare > 0.005) {
    words.isHot = true;
    words.lines << QObject::tr("slowed by heat %1 %,").arg(std::lround(100 * slowedShare));
    words.lines << QObject::tr("since %1").arg(text(clockText(sinceS)));
  }
  if (stillOpen > 0) words.lines << text(openWords(stillOpen));
  if (notSettled > 0) words.lines << QObject::tr("%1 not settled").arg(notSettled);
  for (const QString& line : others) words.lines << line;
  const LoadStanding* report = loadReport(desk, load);
  if (report == nullptr) return words;
  const Figure metric = leadingMetric(*desk.report(), report->comparison);
  for (const ComparisonRow& row : report->comparison.rows) {
    if (row.setup != setup || !row.metrics.contains(metric)) continue;
    words.figure = text(valueText(row, metric));
    if (slowedShare > 0.005 && metric.unit() == kKelvin) words.bound = QObject::tr("at least");
  }
  return words;
}

}  // namespace ash
