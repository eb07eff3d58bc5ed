// SPDX-License-Identifier: GPL-3.0-or-later
// After a crash: the runs that were interrupted, why as far as it can be told, and their last minute.
#pragma once

#include <QWidget>
#include <memory>

#include "app/study/book_view.h"

class QVBoxLayout;

namespace ash {

/// The last 60 s of a run: a small curve for each reading that tells most, with its last value; a limit as a line in
/// ember where it was near.
class LastMinuteView : public QWidget {
  Q_OBJECT
 public:
  LastMinuteView(const InterruptedRun& run, QWidget* parent);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  InterruptedRun m_run;
};

/// Stands above the stations until it is dismissed; hidden while there is nothing to tell.
class InterruptedPanel : public QWidget {
  Q_OBJECT
 public:
  explicit InterruptedPanel(QWidget* parent);
  void show(const std::shared_ptr<const InterruptedRuns>& runs);

 signals:
  /// The run is to be looked at.
  void runWanted(const QString& run);

 private:
  QWidget* buildRun(const InterruptedRun& run);

  QVBoxLayout* m_column;
  QWidget* m_content = nullptr;
};

}  // namespace ash
