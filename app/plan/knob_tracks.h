// SPDX-License-Identifier: GPL-3.0-or-later
// Knobs as short tracks from least to most, with marks for how they are delivered, stand now, are asked for and were
// read back. docs/knobs.md.
#pragma once

#include <QWidget>
#include <map>
#include <vector>

#include "knobs/knob.h"

class QLineEdit;

namespace ash {

/// What is known of the knobs of a setup.
struct KnobsOfSetup {
  std::vector<Knob> knobs;
  std::map<std::string, std::string> asked;     ///< by id: what its runs turn it to
  std::map<std::string, std::string> readBack;  ///< by id: what the last run of it got
};

class KnobTracks : public QWidget {
  Q_OBJECT
 public:
  explicit KnobTracks(QWidget* parent);

  void show(KnobsOfSetup knobs);
  /// The selected one; null where there is none.
  const Knob* current() const;
  bool isAsked() const;
  /// Opens the line for the value of the selected one.
  void type();
  /// Leaves the selected one as it is.
  void leave();
  QSize sizeHint() const override;

 signals:
  /// A knob is to be turned so by the setup's runs; an empty value leaves it as it is.
  void asked(const QString& knob, const QString& value);
  void currentChanged();
  /// Why the selected one cannot be turned so.
  void problem(const QString& sentence);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QRectF rowRect(int row) const;
  QRectF trackRect(int row) const;
  QRectF wordRect(int row, size_t word) const;
  double xOf(int row, double value) const;
  double valueAt(int row, double x) const;
  double stepOf(const Knob& knob) const;
  /// What stands asked for, while it is dragged that.
  std::string askedOf(const Knob& knob) const;
  QString stateWords(const Knob& knob) const;
  void paintTrack(QPainter& painter, int row) const;
  void paintWords(QPainter& painter, int row) const;
  void choose(int row);
  void moveBy(double steps);
  void ask(const Knob& knob, const std::string& value);
  void closeLine(bool isKept);

  KnobsOfSetup m_of;
  int m_row = 0;
  std::string m_dragged;  // the value while the mouse holds it
  QLineEdit* m_line;
};

}  // namespace ash
