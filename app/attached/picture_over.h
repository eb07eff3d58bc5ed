// SPDX-License-Identifier: GPL-3.0-or-later
// A picture (or what is known of a file) over the page, with what it belongs to; Esc closes.
#pragma once

#include <QWidget>
#include <vector>

#include "model/attachment.h"

class QLabel;
class QLineEdit;
class QPushButton;

namespace ash {

class Pictures;

class PictureOver : public QWidget {
  Q_OBJECT
 public:
  PictureOver(Pictures& pictures, QWidget* page);
  /// Shows one of them; the arrow keys go through the others.
  void open(const std::vector<Attachment>& files, long long id);
  /// The book holds these files now: what is shown is told anew, or closed when it is gone.
  void takeChanged(const std::vector<Attachment>& files);

 signals:
  void removeWanted(long long id);
  void writeWanted(long long id, const QString& name);
  /// Words, or a reading, were typed for it.
  void said(long long id, const QString& words);
  void closed();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void step(int by);
  void fill();
  QRect pictureArea() const;
  const Attachment* one() const;

  Pictures& m_pictures;
  std::vector<Attachment> m_files;
  size_t m_index = 0;
  QLabel *m_name, *m_about;
  QLineEdit* m_said;
  QPushButton *m_remove, *m_write, *m_close;
};

}  // namespace ash
