// SPDX-License-Identifier: GPL-3.0-or-later
// The list of the Readings page: along the way of the heat, temperatures as strips on one axis at the left, everything
// else at the right. Words first; who wants the device's own label selects the row.
#pragma once

#include <QWidget>

#include "app/readings/reading_words.h"

namespace ash {

/// Which of the readings are shown.
enum class RowFilter { WithMeaning, Moving, All };

class BenchRows : public QWidget {
  Q_OBJECT
 public:
  explicit BenchRows(QWidget* parent);
  void show(const std::shared_ptr<const MachineSnapshot>& readings);
  void setFilter(RowFilter filter);
  void setSearch(const QString& words);
  void select(const QString& id);
  /// The selected reading; null when none is.
  const ReadingNow* selected() const;
  int rowCount() const { return static_cast<int>(m_rows.size()); }
  /// Where a reading stands, for keys and tests; an empty rectangle when it is not shown.
  QRect rowOf(const QString& id) const;
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 signals:
  void selectionChanged();
  /// Logging of a reading is to be turned on or off.
  void logToggled(const QString& id);
  /// The row is to be seen (for the scroll area around).
  void rowWanted(const QRect& row);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Row {
    const ReadingNow* now = nullptr;
    bool isTemperature = false;
    QRect place;
  };
  struct Group {
    QString words;
    QRect place;
  };
  void arrange();
  bool isShown(const ReadingNow& now) const;
  void moveSelection(int step);
  const Row* rowAt(const QPoint& point) const;
  bool isTwice(const QString& words, const Row& of) const;
  QRect boxOf(const Row& row) const;
  double stripX(const Row& row, double celsius) const;
  void paintRow(QPainter& painter, const Row& row) const;
  void paintStrip(QPainter& painter, const Row& row) const;
  void paintEmpty(QPainter& painter) const;

  std::shared_ptr<const MachineSnapshot> m_readings;
  std::vector<Row> m_rows;
  std::vector<Group> m_groups;
  RowFilter m_filter = RowFilter::WithMeaning;
  QString m_search;
  QString m_selected;
  int m_height = 0;
};

}  // namespace ash
