// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes with several runs laid over each other, one time axis, a cursor that reads all of them.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>
#include <utility>

#include "analysis/run/setting_steps.h"
#include "app/traces/trace_cache.h"
#include "app/traces/trace_groups.h"
#include "model/attachment.h"

class QCPAbstractItem;
class QCPAxisRect;
class QCPGraph;
class QCPItemLine;
class QCPItemText;
class QCPItemPixmap;
class QCustomPlot;

namespace ash {

class TraceLanes : public QWidget {
  Q_OBJECT
 public:
  explicit TraceLanes(QWidget* parent);

  /// Draws the groups of a report. The time range stays where it was unless `resetsRange`.
  void show(const std::shared_ptr<const StudyReport>& report, const TraceChoice& choice, bool resetsRange);
  /// Files that belong to moments of runs: a flag each on its run's trace, once show() draws.
  void setFlags(const std::vector<Attachment>& files) { m_files = files; }
  /// How many of them stand there now.
  int flagCount() const { return static_cast<int>(m_flags.size()); }
  /// Where a flag stands, in pixels of this widget.
  QPointF flagPlace(int index) const;
  /// The run whose trace is nearest to a place of the screen, with the moment there; at the cursor without a place.
  Attachment momentAt(std::optional<QPoint> onScreen) const;
  /// Where a moment of the axis lies, in pixels of this widget; and back.
  double pixelOf(double t) const;
  double timeAt(double pixel) const;
  int laneCount() const { return static_cast<int>(m_lanes.size()); }
  std::optional<double> cursor() const { return m_cursor; }
  void setCursor(std::optional<double> t);
  void resetRange();
  /// Lanes keep the scale they have instead of being fitted to what is shown.
  void holdScale(bool holds);
  bool holdsScale() const { return m_holdsScale; }
  /// Lowest and highest value that a lane shows.
  std::pair<double, double> valueRange(int lane) const;
  /// What stands below a lane: work lost to heat, a step of a setting.
  QString note(int lane) const { return m_lanes.at(static_cast<size_t>(lane)).note; }
  /// Where the lanes begin and end, in pixels of this widget.
  std::pair<double, double> plotEdges() const;

 signals:
  /// The axis shows another range, or the lanes have another place.
  void moved();
  /// A file's flag was pressed.
  void flagPressed(long long id);

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  /// More of them are drawn without smooth edges, so that they can be moved.
  static constexpr int kManyLines = 48;
  struct Line {
    QString label;
    QColor colour;
    int setupIndex = 0;
    bool isHollow = false;
    std::shared_ptr<const TracedGroup> traced;
    QCPGraph *graph = nullptr, *lowGraph = nullptr, *highGraph = nullptr;
    double endS = 0;  ///< of the load; what comes after does not set the scale
    const Series& values() const { return traced->mean.series(); }
  };
  /// Where a line is at the cursor, or at its end.
  struct EndValue {
    double yPx, value;
    const Line* line;
  };
  /// How a run ended before its time, at its last reading.
  struct EndMark {
    QCPItemText* item = nullptr;
    QString words;
  };
  struct Lane {
    QCPAxisRect* rect = nullptr;
    QString unit;
    int digits = 1;
    double factor = 1;
    std::vector<Line> lines;
    QString note;
    std::string channel;
    bool isDifference = false;
  };
  struct Flag {
    long long id = 0;
    double t = 0;
    QCPItemLine* pole = nullptr;
    QCPItemPixmap* sign = nullptr;
    QString words;
  };
  struct LaneSpec {
    QString title, unit;
    std::string channel;
    double factor = 1;
    int digits = 1, stretch = 1;
    bool isDifference = false;
  };
  std::vector<LaneSpec> specs() const;
  std::vector<std::pair<LaneSpec, std::vector<std::shared_ptr<const TracedGroup>>>> lanesToDraw();
  std::shared_ptr<const TracedGroup> tracedOf(const LaneSpec& spec, const TraceGroup& group);
  void rebuild();
  Lane makeLane(const LaneSpec& spec, int row, bool isLowest);
  void drawGroup(Lane& lane, const TraceGroup& group, const std::shared_ptr<const TracedGroup>& traced);
  void drawLostWork(Lane& lane, const LaneSpec& spec, const TraceGroup& group);
  void drawLimit(Lane& lane, const LaneSpec& spec);
  /// A single run whose settings were changed under load.
  struct SteppedRun {
    size_t group = 0;
    std::vector<SettingStep> steps;
    bool isNamed = false;  ///< what was changed has been said
  };
  void findSteps();
  void drawSteps(Lane& lane);
  QStringList drawStepsOf(SteppedRun& run, Lane& lane);
  QCPItemLine* drawUpright(Lane& lane, double t, const QColor& colour);
  void drawMean(Lane& lane, const TimeSpan& span, double value, const QColor& colour);
  void fitRange(Lane& lane);
  void fitToShown();
  void fillShown();
  int lineCount() const;
  void drawFast();
  bool isZoomed() const;
  void drawCursor();
  void drawFlags();
  void placeFlags();
  void placeEndMarks();
  static void keepWhatHasRoom(std::vector<EndValue>& values, size_t room);
  const Flag* flagAt(const QPointF& place) const;
  void openNearestFlag();
  void addText(QCPAxisRect* rect, double xPx, double yPx, const QString& words, int alignment, const QColor& colour,
               double size, bool isBold);
  Band bandFor(const LaneSpec& spec, const TraceGroup& group) const;

  QCustomPlot* m_plot;
  std::shared_ptr<const StudyReport> m_report;
  TraceChoice m_choice;
  std::vector<TraceGroup> m_groups;
  std::vector<SteppedRun> m_stepped;
  TraceCache m_cache;
  std::vector<Lane> m_lanes;
  std::vector<Attachment> m_files;
  std::vector<Flag> m_flags;
  std::vector<EndMark> m_endMarks;
  std::vector<QCPAbstractItem*> m_cursorItems;
  std::optional<double> m_cursor;
  double m_firstS = 0, m_lastS = 1;  // of all data
  bool m_isStale = false;            // changed while hidden
  bool m_resetsRange = true;
  bool m_holdsScale = false;
  bool m_follows = false;  // lanes are brought to the range of the one that was moved
};

}  // namespace ash
