// SPDX-License-Identifier: GPL-3.0-or-later
// One lane: an axis rectangle with its lines, limits, shading and labels.
#pragma once

#include <QColor>
#include <QPen>
#include <QString>
#include <optional>
#include <string>
#include <vector>

#include "model/samples.h"

class QCPAbstractItem;
class QCPAxis;
class QCPAxisRect;
class QCPGraph;
class QCustomPlot;

namespace ash {

class LiveModel;

enum class LaneKind { Temperature, Clock, Power, Fans, Work };

struct LaneLine {
  std::string column;
  QString label;
  QPen pen;
};

/// What a lane shows of a run; empty lines = the lane is left out.
struct LaneSpec {
  LaneKind kind = LaneKind::Temperature;
  QString title, unit;
  int stretch = 1;
  std::vector<LaneLine> lines;
  double factor = 1;  ///< stored unit -> shown unit
  int digits = 1;
  bool isOverRoom = false;
};

/// The lanes a run has, top to bottom.
std::vector<LaneSpec> laneSpecs(const LiveModel& model);

/// Times on the axis are relative to load start. Lives as long as its plot.
class Lane {
 public:
  Lane(QCustomPlot* plot, QCPAxisRect* rect, LaneSpec spec, bool isLowest);

  struct Frame {
    double zeroS = 0;              ///< bench time of the axis' zero
    double firstS = 0, lastS = 1;  ///< of the axis, relative
    bool isFirst = false;
  };
  void refresh(const LiveModel& model, const Frame& frame);
  const LaneSpec& spec() const { return m_spec; }

 private:
  struct ValueRange {
    double low = 0, high = 1;
  };
  Series shownSeries(const LiveModel& model, const LaneLine& line, double zeroS) const;
  std::optional<double> shownLimit(const LiveModel& model) const;
  ValueRange rangeOf(const LiveModel& model, const std::vector<Series>& series, double zeroS) const;
  void drawEarlier(const LiveModel& model);
  void drawPhases(const LiveModel& model, const Frame& frame);
  void drawLimit(const LiveModel& model, const ValueRange& range);
  void drawForecast(const LiveModel& model, const Frame& frame);
  void drawThrottling(const LiveModel& model, const Frame& frame, const Series& clock);
  void drawEvents(const LiveModel& model, const Frame& frame);
  void drawLabels(const LiveModel& model, const std::vector<Series>& series, const ValueRange& range);
  void drawNow(const LiveModel& model, const Frame& frame);
  void drawOutside(const std::vector<Series>& series, const ValueRange& range);
  void addText(double xPx, double yRatio, const QString& text, int alignment, const QColor& colour, double sizePx,
               bool isBold);
  void addRect(double x0, double y0, double x1, double y1, const QColor& fill, bool isRatioY);
  void addVertical(double x, const QPen& pen);

  QCustomPlot* m_plot;
  QCPAxisRect* m_rect;
  LaneSpec m_spec;
  bool m_isLowest;
  std::vector<QCPGraph*> m_graphs;
  QCPGraph* m_earlier = nullptr;  // an earlier repeat, behind
  QCPGraph* m_held = nullptr;     // clock where it was held down, for the filled gap
  QCPGraph* m_shouldHold = nullptr;
  std::vector<QCPAbstractItem*> m_items;  // made anew at each refresh
};

}  // namespace ash
