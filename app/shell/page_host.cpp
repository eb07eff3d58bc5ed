// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/page_host.h"

#include <QEvent>

namespace ash {

void PageHost::hold(QWidget* page) {
  m_page = page;
  page->setParent(this);
  page->setGeometry(rect());
  page->show();
  updateGeometry();
}

QSize PageHost::sizeHint() const { return m_page == nullptr ? QSize(0, 0) : m_page->sizeHint(); }

QSize PageHost::minimumSizeHint() const {
  return m_page == nullptr ? QSize(0, 0) : m_page->minimumSizeHint().expandedTo(m_page->minimumSize());
}

bool PageHost::event(QEvent* event) {
  // What the page needs has changed.
  if (event->type() == QEvent::LayoutRequest) updateGeometry();
  return QWidget::event(event);
}

void PageHost::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (m_page != nullptr) m_page->setGeometry(rect());
}

}  // namespace ash

#include "moc_page_host.cpp"
