// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/page_host.h"

#include <QEvent>
#include <QLayout>
#include <QResizeEvent>
#include <algorithm>

namespace ash {

void PageHost::hold(QWidget* page) {
  m_page = page;
  page->setParent(this);
  page->setGeometry(rect());
  page->show();
  updateGeometry();
}

QSize PageHost::sizeHint() const { return m_page == nullptr ? QSize(0, 0) : m_page->sizeHint(); }

// With the lines that its words take at this width: a page that is not given them lays one thing over the other.
QSize PageHost::minimumSizeHint() const {
  if (m_page == nullptr) return {0, 0};
  QSize least = m_page->minimumSizeHint().expandedTo(m_page->minimumSize());
  if (const QLayout* layout = m_page->layout(); layout != nullptr && layout->hasHeightForWidth())
    least.setHeight(std::max(least.height(), layout->minimumHeightForWidth(std::max(width(), least.width()))));
  return least;
}

bool PageHost::event(QEvent* event) {
  // What the page needs has changed.
  if (event->type() == QEvent::LayoutRequest) updateGeometry();
  return QWidget::event(event);
}

void PageHost::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (m_page == nullptr) return;
  m_page->setGeometry(rect());
  if (event->oldSize().width() != width()) updateGeometry();
}

}  // namespace ash

#include "moc_page_host.cpp"
