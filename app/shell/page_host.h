// SPDX-License-Identifier: GPL-3.0-or-later
// Holds a page inside its scroll area: the page has all the room there is and is scrolled only below its least size. A
// layout in this place would ask for the height that it would like best.
#pragma once

#include <QWidget>

namespace ash {

class PageHost : public QWidget {
  Q_OBJECT
 public:
  explicit PageHost(QWidget* parent) : QWidget(parent) {}
  /// Takes the page; null before the first.
  void hold(QWidget* page);
  QWidget* page() const { return m_page; }
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 protected:
  bool event(QEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  QWidget* m_page = nullptr;
};

}  // namespace ash
