// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/run_column.h"

#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "report/charts/run_figures.h"

namespace ash {
namespace {

constexpr double kAssumedRoomC = 20;

}  // namespace

look::ColumnSpec columnOfRun(const StudyDesk& desk, const RunSummary& run) {
  look::ColumnSpec column;
  column.fill = look::theme().series(setupIndexIn(*desk.study(), run.info.setup));
  column.state = look::ColumnState::Done;
  if (const AnalyzedRun* worked = desk.figuresOf(run.info.id)) {
    if (const ChannelFigures* watched = worked->figures.channel(worked->figures.watched)) {
      const double foot = watched->overAmbientK ? watched->window.mean - *watched->overAmbientK : kAssumedRoomC;
      if (watched->window.n > 0) column.usedK = watched->window.mean - foot;
      if (watched->limit) column.limitK = *watched->limit - foot;
    }
    const Device device = Role(worked->figures.watched).device();
    if (wasAtLimit(*worked, {device, FigureId::Temperature})) column.state = look::ColumnState::AtLimit;
  }
  if (run.info.outcome == Outcome::StoppedByRule) column.state = look::ColumnState::Tripped;
  if (run.info.outcome == Outcome::MachineWentDown || run.info.outcome == Outcome::RecorderDied)
    column.state = look::ColumnState::WentDown;
  if (run.info.outcome == Outcome::Running) column.state = look::ColumnState::Live;
  if (run.info.outcome == Outcome::Void) column.state = look::ColumnState::Void;
  return column;
}

}  // namespace ash
