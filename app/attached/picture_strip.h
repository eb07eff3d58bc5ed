// SPDX-License-Identifier: GPL-3.0-or-later
// Small squares side by side, one for each picture or file of a setup or a run; each opens over the page.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "model/attachment.h"

class QHBoxLayout;
class QToolButton;

namespace ash {

class Pictures;

class PictureStrip : public QWidget {
  Q_OBJECT
 public:
  PictureStrip(Pictures& pictures, QWidget* parent);
  /// What is shown, and to whom a file that is added belongs.
  void show(const std::vector<Attachment>& files, const Attachment& owner);

 private:
  void fill();
  void drawSquare(size_t index);

  Pictures& m_pictures;
  std::vector<Attachment> m_files;
  Attachment m_owner;
  std::vector<QToolButton*> m_squares;
  QToolButton* m_add;
  QHBoxLayout* m_row;
};

}  // namespace ash
