// SPDX-License-Identifier: GPL-3.0-or-later
// The trail across the top: book and study, the five stations in the order of the work, headroom and Stop load.
#pragma once

#include <QAbstractButton>
#include <QWidget>
#include <optional>
#include <vector>

class QPushButton;
class QLabel;

namespace ash {

/// One station of the trail: its name and a line of its own state.
class TrailButton : public QAbstractButton {
  Q_OBJECT
 public:
  TrailButton(const QString& name, const QString& shortcut, QWidget* parent);
  void setStateLine(const QString& line, bool isEmber);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString m_name, m_state;
  bool m_isEmber = false;
};

/// The headroom that is least, as a small column and in words.
class NearestHeadroom : public QWidget {
  Q_OBJECT
 public:
  explicit NearestHeadroom(QWidget* parent);
  void show(const QString& device, double usedK, std::optional<double> limitK, const QColor& fill);
  void clear();
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString m_device;
  double m_usedK = 0;
  std::optional<double> m_limitK;
  QColor m_fill;
  bool m_isShown = false;
};

class Trail : public QWidget {
  Q_OBJECT
 public:
  explicit Trail(QWidget* parent);

  void setMachine(const QString& name, const QString& readings);
  void setBook(const QString& book, const QString& study);
  void setStationLine(int station, const QString& line, bool isEmber = false);
  void setCurrent(int station);
  /// The corner at the right: only while a run is on, or just after it was stopped.
  void showLoad(bool isOn, bool wasStopped);
  NearestHeadroom* headroom() { return m_headroom; }

 signals:
  void stationChosen(int station);
  void stopPressed();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QLabel* m_machine;
  QLabel* m_readings;
  QLabel* m_book;
  QLabel* m_study;
  std::vector<TrailButton*> m_stations;
  NearestHeadroom* m_headroom;
  QPushButton* m_stop;
  QLabel* m_off;
};

}  // namespace ash
