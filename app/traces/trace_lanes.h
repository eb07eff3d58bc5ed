// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes with several runs laid over each other, one time axis, a cursor that reads all of them.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>
#include <utility>

#include "app/traces/trace_groups.h"

class QCPAbstractItem;
class QCPAxisRect;
class QCustomPlot;

namespace ash {

class TraceLanes : public QWidget {
  Q_OBJECT
 public:
  explicit TraceLanes(QWidget* parent);

  /// Draws the groups of a report. The time range stays where it was unless `resetsRange`.
  void show(const std::shared_ptr<const StudyReport>& report, const TraceChoice& choice, bool resetsRange);
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
  /// Where the lanes begin and end, in pixels of this widget.
  std::pair<double, double> plotEdges() const;

 signals:
  /// The axis shows another range, or the lanes have another place.
  void moved();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  struct Line {
    QString label;
    QColor colour;
    int setupIndex = 0;
    bool isHollow = false;
    Series mean;
    double endS = 0;  ///< of the load; what comes after does not set the scale
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
  struct LaneSpec {
    QString title, unit;
    std::string channel;
    double factor = 1;
    int digits = 1, stretch = 1;
    bool isDifference = false;
  };
  std::vector<LaneSpec> specs() const;
  void rebuild();
  Lane makeLane(const LaneSpec& spec, int row, bool isLowest);
  void drawGroup(Lane& lane, const LaneSpec& spec, const TraceGroup& group);
  void drawLostWork(Lane& lane, const LaneSpec& spec, const TraceGroup& group);
  void drawLimit(Lane& lane, const LaneSpec& spec);
  void fitRange(Lane& lane);
  void fitToShown();
  bool isZoomed() const;
  void drawCursor();
  void addText(QCPAxisRect* rect, double xPx, double yPx, const QString& words, int alignment, const QColor& colour,
               double size, bool isBold);
  Band bandFor(const LaneSpec& spec, const TraceGroup& group) const;

  QCustomPlot* m_plot;
  std::shared_ptr<const StudyReport> m_report;
  TraceChoice m_choice;
  std::vector<TraceGroup> m_groups;
  std::vector<Lane> m_lanes;
  std::vector<QCPAbstractItem*> m_cursorItems;
  std::optional<double> m_cursor;
  double m_firstS = 0, m_lastS = 1;  // of all data
  bool m_isStale = false;            // changed while hidden
  bool m_resetsRange = true;
  bool m_holdsScale = false;
};

}  // namespace ash
