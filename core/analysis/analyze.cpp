// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/analyze.h"

#include "analysis/energy/energy.h"
#include "analysis/heat/heat.h"
#include "analysis/quality/problems.h"
#include "analysis/run/channel_figures.h"
#include "analysis/run/context.h"
#include "analysis/run/second_sources.h"
#include "analysis/run/window.h"
#include "analysis/run/worked_device.h"
#include "analysis/sound/sound.h"
#include "analysis/throttling/drive_findings.h"
#include "analysis/throttling/throttling.h"

namespace ash {

Figures analyzeRun(const RunLog& run, std::optional<size_t> loadNumber) {
  Figures figures;
  figures.samples = run.log.timeS.size();
  if (figures.samples > 0) figures.durationS = run.log.timeS.back() - run.log.timeS.front();
  figures.problems = run.log.problems;
  RunContext context = makeContext(run, figures.problems, loadNumber);
  figures.intervalS = context.intervalS;
  figures.watched = context.watched;
  figures.phases = context.phases;
  figures.loads = context.loads;
  figures.load = context.load;
  figures.worked = workedDevice(context);
  context.watchedVerdict = settlingOf(context, context.watched);
  context.window = chooseWindow(context, context.watchedVerdict);
  figures.window = context.window;
  for (const Channel& channel : run.log.channels) figures.channels.push_back(figuresOfChannel(context, channel));
  figures.throttling = findThrottling(context);
  figures.energy = energyOf(context, figures.problems);
  figures.heat = heatOf(context, figures);
  figures.passes = passesOf(context);
  figures.battery = batteryOf(context);
  figures.efficiency = efficiencyOf(context);
  figures.fans = fansOf(context);
  figures.sound = soundOf(context);
  figures.seconds = secondSourcesOf(run.facts, figures);
  for (auto& found : {findGapProblems(context), findUnmoved(context), findExcursions(context), findImplausible(context),
                      findRunProblems(context, figures), findDriveChanges(context, figures.throttling),
                      findSecondSources(context, figures)}) {
    figures.problems.insert(figures.problems.end(), found.begin(), found.end());
  }
  return figures;
}

}  // namespace ash
