// SPDX-License-Identifier: GPL-3.0-or-later
// The procedure as a vertical track that fills, with the settling verdict below.
#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace ash {

class LiveModel;

/// The track itself: a part per phase.
class TrackView : public QWidget {
  Q_OBJECT
 public:
  TrackView(const LiveModel& model, QWidget* parent);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const LiveModel& m_model;
};

/// Track, verdict and *End phase now*.
class TrackPanel : public QWidget {
  Q_OBJECT
 public:
  TrackPanel(const LiveModel& model, QWidget* parent);

 signals:
  void endPhasePressed();

 private:
  void refresh();

  const LiveModel& m_model;
  QLabel* m_title;
  QLabel* m_started;
  TrackView* m_track;
  QLabel* m_verdictHead;
  QLabel* m_verdict;
  QLabel* m_verdictRest;
  QPushButton* m_endPhase;
};

}  // namespace ash
