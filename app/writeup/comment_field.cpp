// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/comment_field.h"

#include <QFocusEvent>
#include <QKeyEvent>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {

CommentField::CommentField(const char* objectName, QWidget* parent) : QPlainTextEdit(parent) {
  constexpr int kRows = 3;
  setObjectName(QLatin1String(objectName));
  setAccessibleName(tr("Comment on the block"));
  setPlaceholderText(tr("your own words below this block"));
  setToolTip(
      tr("CommonMark: *emphasis*, **strong**, `code`, lists, [a link](https://…). Raw HTML stays text. Ctrl+Return "
         "keeps it, Esc gives it up."));
  setTabChangesFocus(true);
  setFont(look::font(12));
  setFixedHeight(kRows * fontMetrics().lineSpacing() + look::px(14));
}

void CommentField::keyPressEvent(QKeyEvent* event) {
  const bool isReturn = event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter;
  if (isReturn && event->modifiers().testFlag(Qt::ControlModifier)) return emit finished();
  if (event->key() == Qt::Key_Escape) return emit givenUp();
  QPlainTextEdit::keyPressEvent(event);
}

void CommentField::focusOutEvent(QFocusEvent* event) {
  QPlainTextEdit::focusOutEvent(event);
  if (event->reason() != Qt::PopupFocusReason && event->reason() != Qt::ActiveWindowFocusReason) emit finished();
}

}  // namespace ash

#include "moc_comment_field.cpp"
