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
  /// The room of its name; the line below is shortened.
  QSize minimumSizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString m_name, m_state;
  bool m_isEmber = false;
};

/// Two lines that lead somewhere: the machine and its readings, the book and its study.
class TrailCorner : public QAbstractButton {
  Q_OBJECT
 public:
  TrailCorner(const QString& name, const QString& tip, bool isStation, QWidget* parent);
  void setLines(const QString& first, const QString& second);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString m_first, m_second;
  bool m_isStation;  ///< its first line leads, and it carries the mark of where one is
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
  void bookPressed();
  void stopPressed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void fit();
  bool m_isOn = false;
  TrailCorner* m_machine;
  TrailCorner* m_book;
  std::vector<TrailButton*> m_stations;
  bool m_isSetting = false;
  NearestHeadroom* m_headroom;
  QPushButton* m_stop;
  QLabel* m_off;
};

}  // namespace ash
