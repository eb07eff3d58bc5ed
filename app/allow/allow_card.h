// SPDX-License-Identifier: GPL-3.0-or-later
// Asks a person whether what came with a book may act, or count, on this machine.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "model/active_parts.h"

class QLabel;
class QPlainTextEdit;
class QPushButton;

namespace ash {

/// A strip across the window: what it is about, every part with its whole text, *Allow on this machine* and *Not now*.
/// Nothing is chosen beforehand: Enter does nothing until a button has the focus. Hidden until it is asked.
class AllowCard : public QWidget {
  Q_OBJECT
 public:
  explicit AllowCard(QWidget* parent);
  /// `head` is one sentence. `onAllow` is called once, when it is allowed; another question takes its place.
  void ask(const QString& head, std::vector<ActivePart> parts, std::function<void()> onAllow);
  void dismiss();
  const std::vector<ActivePart>& parts() const { return m_parts; }

 signals:
  void allowed(const std::vector<ash::ActivePart>& parts);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QLabel* m_head;
  QPlainTextEdit* m_whole;
  QPushButton *m_allow, *m_notNow;
  std::vector<ActivePart> m_parts;
  std::function<void()> m_onAllow;
};

}  // namespace ash
