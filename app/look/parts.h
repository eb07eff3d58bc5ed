// SPDX-License-Identifier: GPL-3.0-or-later
// Small parts that every station is built from: labels, rules, grounds, a choice of a few words, a setup's sign.
#pragma once

#include <QButtonGroup>
#include <QColor>
#include <QFont>
#include <QLabel>
#include <QPainter>
#include <QStringList>
#include <QWidget>
#include <string>

#include "app/look/words.h"

class QTableWidget;

namespace ash::look {

/// A label of plain text.
QLabel* label(const QString& words, double designPx, QFont::Weight weight, QWidget* parent);
/// In the softer ink.
QLabel* softLabel(const QString& words, QWidget* parent, double designPx = 12);
/// Has a screen reader say at once what the widget is named, wherever the keys are.
void announce(QWidget* widget);
/// A line of one pixel.
QWidget* rule(QWidget* parent);
/// Gives a widget a ground of its own; returns it.
QWidget* withGround(QWidget* widget, const QColor& colour);
/// A table without grid, frame and row heads: rows are read, selected and copied by keyboard (Ctrl+C as tab-separated
/// text).
QTableWidget* plainTable(const QStringList& heads, QWidget* parent);

/// Makes every label and tooltip of the application plain text that does not ask to be rich, whatever stands in it:
/// words may come out of a stranger's book. For the whole life of `application`; applyTheme() calls it.
void keepLabelsPlain(QObject* application);

/// True while a cell of the table is being typed into: it must not be filled anew then.
bool isBeingEdited(const QTableWidget* table);

/// Heads of the first column stand at the left, the others over their numbers at the right.
void alignHeads(QTableWidget* table);

/// Words in two lines of so many px, broken between words; what does not fit is elided.
QString inTwoLines(const QString& words, const QFont& font, int px);

/// The point shape of a setup (square, disc, diamond, …), filled or hollow, `size` px wide.
void paintSetupSign(QPainter& painter, int setupIndex, const QPointF& centre, double size, bool isFilled = true);

/// The sign as a widget, to stand before a name.
class SetupSign : public QWidget {
  Q_OBJECT
 public:
  explicit SetupSign(QWidget* parent);
  void setSetup(int index);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  int m_index = 0;
};

/// A choice of a few words side by side, one of them chosen; arrow keys move it.
class Segments : public QWidget {
  Q_OBJECT
 public:
  Segments(const QString& name, const QStringList& words, QWidget* parent);
  int chosen() const { return m_group.checkedId(); }
  void choose(int index);
  void setChoiceEnabled(int index, bool isEnabled, const QString& why);

 signals:
  void changed(int index);

 private:
  QButtonGroup m_group;
};

}  // namespace ash::look
