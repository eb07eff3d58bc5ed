// SPDX-License-Identifier: GPL-3.0-or-later
// What is laid over each other: single runs, and all repeats of a setup as one band.
#pragma once

#include <QPen>
#include <QString>
#include <QStringList>
#include <set>

#include "analysis/comparison/overlay.h"
#include "report/study/study_report.h"

namespace ash {

/// What the person has chosen to see.
struct TraceChoice {
  std::set<std::string> runs;
  Align align = Align::LoadStart;
  Scale scale = Scale::OverRoom;
  double smoothS = 5;
  std::string subtract;  ///< a setup; empty = nothing
  WindowChoice window;
  QStringList lanes;  ///< channels beside the usual ones
  double epochS = 0;  ///< zero of ClockTime
};

struct TraceGroup {
  QString label;       ///< "Mesh, repeats 1 to 3"
  QString shortLabel;  ///< "1 to 3 Mesh": what tells it apart stands first
  std::string setup;
  int setupIndex = 0;  ///< below zero: of another study or book
  std::vector<const AnalyzedRun*> runs;
  bool isVoid = false;
  QString endMark;  ///< "went down", "void": what is written where the line ends; empty for a completed run
  int dash = 0;     ///< single runs of a setup differ by their dashes

  QPen pen(double width) const;
};

/// Groups of the shown runs, in the order of the setups. Completed repeats of a setup become one band where there are
/// two or more. Points into `report`.
std::vector<TraceGroup> traceGroups(const StudyReport& report, const TraceChoice& choice);

/// A channel of a group: the run's own readings, or the mean and the spread of its repeats.
Band traceOf(const TraceGroup& group, const std::string& channel, const TraceChoice& choice);

/// Figures of a group in its window, repeats averaged; `halfK` is the 95 % half width of its over-room figure.
struct GroupFigures {
  WindowFigures mean;
  double halfK = kMissing;
  int runs = 0;
  std::optional<TimeSpan> span;  ///< of the first run, aligned
};
GroupFigures figuresOf(const TraceGroup& group, const TraceChoice& choice);

}  // namespace ash
