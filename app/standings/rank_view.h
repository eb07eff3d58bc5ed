// SPDX-License-Identifier: GPL-3.0-or-later
// Ranked budget columns of the setups with their margins, repeats as marks, price below.
#pragma once

#include <QWidget>

#include "report/answer/projected_setups.h"
#include "report/answer/weighing.h"
#include "report/study/study_report.h"

namespace ash {

class RankView : public QWidget {
  Q_OBJECT
 public:
  explicit RankView(QWidget* parent);
  /// Shows a load's standing by one figure; a null report empties it.
  void show(const std::shared_ptr<const StudyReport>& report, int load, const Figure& metric);
  /// Shows where setups would settle (°C), with their limits and the chance that they throttle.
  void showProjected(const std::vector<ProjectedSetup>& setups);
  /// Shows what setups cost in kelvin, at what noise and price are worth.
  void showWeighed(const Weighing& weighing);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Column {
    std::string setup;
    int setupIndex = 0;
    double value = 0, low = 0, high = 0;
    std::optional<double> limit;
    std::vector<double> repeats;
    bool isAtLimit = false, isBound = false, hasWarning = false;
    bool isEarlier = false;  ///< of other work: shown beside, not ranked
    QString figure, margin, runs, left, price, study;
    std::optional<double> part;  ///< of the value, below a line: warmth alone
    struct Said {
      double low, high;
      bool isClaim;
    };
    std::vector<Said> said;  // what was expected, and what others claim
  };
  void fill();
  void showColumns(std::vector<Column> columns, const QString& unit);
  Column columnOf(const ComparisonRow& row, const std::vector<std::shared_ptr<const AnalyzedRun>>& runs) const;
  void addSaid(const LoadStanding& load, Column& column, QStringList& spoken) const;
  void fillEarlier(const LoadStanding& load, QStringList& spoken);
  double pitch() const;
  size_t ownColumns() const;
  bool hasLongNames() const;
  double scaleTop() const;
  void paintScale(QPainter& painter, double foot, double pxPerUnit) const;
  void paintSaid(QPainter& painter, const Column& column, double x, double foot, double pxPerUnit) const;
  void paintColumn(QPainter& painter, const Column& column, int rank, double x, double foot, double pxPerUnit) const;

  std::shared_ptr<const StudyReport> m_report;
  int m_load = 0;
  Figure m_metric = FigureId::Other;
  QString m_unit;
  int m_leastPitch = 72;  ///< px of a column at 100 %
  std::vector<Column> m_columns;
};

}  // namespace ash
