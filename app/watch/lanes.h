// SPDX-License-Identifier: GPL-3.0-or-later
// The lanes: temperature, clock, power, fans and noise, work rate over one time axis.
#pragma once

#include <QTimer>
#include <QWidget>
#include <memory>
#include <vector>

class QCustomPlot;

namespace ash {

class Lane;
class LiveModel;

class Lanes : public QWidget {
  Q_OBJECT
 public:
  Lanes(const LiveModel& model, QWidget* parent);
  ~Lanes() override;

  /// How many lanes have something to show now.
  int visibleLaneCount() const;

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void rebuild();
  void refresh();
  double zeroS() const;

  const LiveModel& m_model;
  QCustomPlot* m_plot;
  std::vector<std::unique_ptr<Lane>> m_lanes;
  QTimer m_soon;  // news are drawn together, a few times a second
};

}  // namespace ash
