// SPDX-License-Identifier: GPL-3.0-or-later
// Where a comment is written: several lines, kept when one leaves it or presses Ctrl+Return, given up with Esc.
#pragma once

#include <QPlainTextEdit>

namespace ash {

class CommentField : public QPlainTextEdit {
  Q_OBJECT
 public:
  CommentField(const char* objectName, QWidget* parent);

 signals:
  void finished();
  void givenUp();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
};

}  // namespace ash
