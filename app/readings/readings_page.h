// SPDX-License-Identifier: GPL-3.0-or-later
// The state of the bench (Ctrl+6): temperatures with the fewest kelvin left first, each as a strip; the rest below;
// what was skipped and why.
#pragma once

#include <QWidget>

#include "app/readings/bench_reader.h"

class QLabel;
class QTableWidget;

namespace ash {

/// Temperatures as strips from 20 to 110 °C: where it has been, where it is, its limit.
class TemperatureStrips : public QWidget {
  Q_OBJECT
 public:
  explicit TemperatureStrips(QWidget* parent);
  void show(std::vector<ReadingNow> readings);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<ReadingNow> m_readings;
};

class ReadingsPage : public QWidget {
  Q_OBJECT
 public:
  explicit ReadingsPage(QWidget* parent);
  void show(const std::shared_ptr<const BenchReadings>& readings);

 signals:
  /// The page is seen (true) or no longer.
  void looking(bool isSeen);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  QLabel* m_head;
  TemperatureStrips* m_strips;
  QTableWidget* m_others;
  QLabel* m_skippedHead;
  QTableWidget* m_skipped;
};

}  // namespace ash
