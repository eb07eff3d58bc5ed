// SPDX-License-Identifier: GPL-3.0-or-later
// Widgets side by side that go on in the next row where the window is too narrow for them.
#pragma once

#include <QLayout>
#include <memory>
#include <vector>

namespace ash::look {

class FlowLayout : public QLayout {
  Q_OBJECT
 public:
  FlowLayout(QWidget* parent, int spacingPx);
  ~FlowLayout() override;
  void addItem(QLayoutItem* item) override;
  int count() const override { return static_cast<int>(m_items.size()); }
  QLayoutItem* itemAt(int index) const override;
  QLayoutItem* takeAt(int index) override;
  Qt::Orientations expandingDirections() const override { return {}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;
  QSize sizeHint() const override;
  QSize minimumSize() const override;
  void setGeometry(const QRect& rect) override;

 private:
  /// Places the items where they are to be moved; gives back the height that they take.
  int place(const QRect& rect, bool areMoved) const;
  std::vector<std::unique_ptr<QLayoutItem>> m_items;
};

}  // namespace ash::look
