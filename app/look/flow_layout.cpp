// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/flow_layout.h"

#include <algorithm>

namespace ash::look {

FlowLayout::FlowLayout(QWidget* parent, int spacingPx) : QLayout(parent) { setSpacing(spacingPx); }
FlowLayout::~FlowLayout() = default;

void FlowLayout::addItem(QLayoutItem* item) { m_items.emplace_back(item); }

QLayoutItem* FlowLayout::itemAt(int index) const {
  return index >= 0 && index < count() ? m_items[static_cast<size_t>(index)].get() : nullptr;
}

QLayoutItem* FlowLayout::takeAt(int index) {
  if (itemAt(index) == nullptr) return nullptr;
  QLayoutItem* item = m_items[static_cast<size_t>(index)].release();
  m_items.erase(m_items.begin() + index);
  return item;
}

int FlowLayout::heightForWidth(int width) const { return place({0, 0, width, 0}, false); }

// All in one row.
QSize FlowLayout::sizeHint() const {
  QSize size;
  for (const auto& item : m_items) {
    const QSize hint = item->isEmpty() ? QSize() : item->sizeHint();
    size = {size.width() + hint.width() + (size.isEmpty() ? 0 : spacing()), std::max(size.height(), hint.height())};
  }
  return size.grownBy(contentsMargins());
}

QSize FlowLayout::minimumSize() const {
  QSize size;
  for (const auto& item : m_items) {
    if (!item->isEmpty()) size = size.expandedTo(item->sizeHint());
  }
  return size.grownBy(contentsMargins());
}

void FlowLayout::setGeometry(const QRect& rect) {
  QLayout::setGeometry(rect);
  place(rect, true);
}

int FlowLayout::place(const QRect& rect, bool areMoved) const {
  const QRect room = rect.marginsRemoved(contentsMargins());
  int x = room.x(), y = room.y(), rowHeight = 0;
  for (const auto& item : m_items) {
    if (item->isEmpty()) continue;
    const QSize size = item->sizeHint();
    if (x > room.x() && x + size.width() > room.x() + room.width()) {
      x = room.x();
      y += rowHeight + spacing();
      rowHeight = 0;
    }
    if (areMoved) item->setGeometry({{x, y}, size});
    x += size.width() + spacing();
    rowHeight = std::max(rowHeight, size.height());
  }
  return y + rowHeight - rect.y() + contentsMargins().bottom();
}

}  // namespace ash::look

#include "moc_flow_layout.cpp"
