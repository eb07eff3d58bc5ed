// SPDX-License-Identifier: GPL-3.0-or-later
// The Standings station: verdict, ranking, figures against the reference, trade-off, like for like.
#pragma once

#include <QThreadPool>

#include "app/study/study_station.h"
#include "report/study/study_report.h"

class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QTableWidget;

namespace ash {

class RankView;
class StudyDesk;
class TradeOffPlane;
class WhatIfBar;

/// "2 warnings", "nothing to rank yet": the station's line in the trail.
QString standingsLine(const StudyDesk& desk);

class StandingsStation : public StudyStation {
  Q_OBJECT
 public:
  StandingsStation(StudyDesk& desk, QWidget* parent);

 signals:
  /// A check was followed to the runs it means.
  void runsWanted(const QStringList& runs);
  /// A figure's name was pressed: how is it defined?
  void figureAsked(const QString& code);
  /// The meaning of a row that is no figure of the catalogue; CommonMark.
  void wordsAsked(const QString& title, const QString& words);
  /// Something of earlier work is to stand beside.
  void alsoShowWanted();

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  static constexpr int kOwnWords = Qt::UserRole + 1;  ///< of a row that is no figure of the catalogue
  QWidget* buildBar();
  QWidget* buildMiddle();
  QWidget* buildChecks();
  void refresh() override;
  void fillChoices();
  void fillLevel();
  void takeLevel();
  void fillVerdict();
  void fillRank();
  void project();
  void fitRank();
  void fillTable();
  void addPricesPer(const std::vector<std::pair<const ComparisonRow*, bool>>& columns);
  void addStated(const Figure& figure, const std::vector<std::pair<const ComparisonRow*, bool>>& columns);
  void fitNames();
  void fitNamesSoon();
  void fillChecks();
  void takeAcceptance(int row, const QString& typed);
  void fillPlane();
  const LoadStanding* load() const;
  Figure chosenFigure() const;

  std::shared_ptr<const StudyReport> m_report;
  QComboBox* m_load;
  QComboBox* m_figure;
  QComboBox* m_against;
  QComboBox* m_equal;
  QDoubleSpinBox* m_level;
  QLabel* m_progress;
  QLabel* m_verdict;
  QString m_saidVerdict;  // by a screen reader
  RankView* m_rank;
  WhatIfBar* m_whatIf;
  int m_wish = 0;
  QLabel* m_rankHead;
  QWidget* m_rankSide;
  QTableWidget* m_table;
  QComboBox* m_pair;
  TradeOffPlane* m_plane;
  QLabel* m_planeWords;
  QLabel* m_checksHead;
  QTableWidget* m_checks;
  std::vector<ComparisonCheck> m_shownChecks;  // of the study itself, as they are listed
  QThreadPool m_projecting;                    // of one thread; waits for it before the rest goes
};

}  // namespace ash
