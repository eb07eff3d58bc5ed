// SPDX-License-Identifier: GPL-3.0-or-later
// The run that is watched over the whole screen: to be read from across the room, or as a clean picture for a
// recording.
#pragma once

#include <QStringList>
#include <QWidget>

namespace ash {

class LiveModel;

/// Across: the budget column of the watched device, what is left of it, phase and time. Figures: readings that were
/// chosen, large, and nothing else.
enum class FarForm { Across, Figures };

class FarView : public QWidget {
  Q_OBJECT
 public:
  FarView(const LiveModel& model, FarForm form, QWidget* parent);

  FarForm form() const { return m_form; }
  /// What was chosen before.
  void choose(const QStringList& readings) { m_chosen = readings; }
  /// The readings that Figures shows, by name; those of before where they are there, else what a run is asked for most.
  QStringList chosen() const;

 signals:
  void left();
  /// Others were chosen, by a person.
  void chosenAnew(const QStringList& readings);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  void paintAcross(QPainter& painter) const;
  void paintFigures(QPainter& painter) const;
  void paintNothing(QPainter& painter, const QString& words) const;
  void toggle(const QString& reading);

  const LiveModel& m_model;
  FarForm m_form;
  QStringList m_chosen;
};

/// "CPU 47.3 K left", "at its limit": what Across says large; for who hears it, too.
QString farWords(const LiveModel& model);

}  // namespace ash
