// SPDX-License-Identifier: GPL-3.0-or-later
// Charts of the core, drawn in the window.
#pragma once

#include <QWidget>
#include <memory>
#include <optional>
#include <vector>

#include "report/drawing/chart.h"

class QSvgRenderer;

namespace ash {

/// One chart as wide as there is room, in the colours of the window. Ctrl+C copies it as a picture and as SVG.
class ChartPicture : public QWidget {
  Q_OBJECT
 public:
  explicit ChartPicture(QWidget* parent);
  ~ChartPicture() override;
  /// Shows a chart; none shows why there is none.
  void show(const std::optional<Chart>& chart, const QString& whyNot);
  /// The drawing as it stands alone; empty without a chart.
  QByteArray svg() const;
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void draw();
  QRectF place() const;
  std::optional<Chart> m_chart;
  QString m_whyNot;
  std::unique_ptr<QSvgRenderer> m_renderer;
};

/// Charts side by side.
class PlaneRow : public QWidget {
  Q_OBJECT
 public:
  explicit PlaneRow(QWidget* parent);
  void show(const std::vector<std::optional<Chart>>& charts, const QString& whyNot);

 private:
  std::vector<ChartPicture*> m_pictures;
};

}  // namespace ash
