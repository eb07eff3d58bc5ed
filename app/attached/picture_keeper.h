// SPDX-License-Identifier: GPL-3.0-or-later
// Takes pictures and other files into the book and draws them, from a thread of its own: decoding takes a while.
#pragma once

#include <QImage>
#include <QObject>
#include <QSize>
#include <QStringList>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "attach/picture_reader.h"
#include "model/attachment.h"

namespace ash {

/// What is to be kept, and with what.
struct AttachWish {
  QString book;
  Attachment owner;  ///< run and moment, or setup
  QStringList paths;
  QImage pasted;  ///< taken when there are no paths
};

/// Files of a book with their bytes, to be taken off and put back.
struct KeptFiles {
  QString book;
  std::vector<std::pair<Attachment, std::string>> files;
};

/// Lives on a worker thread; talked to by queued signals only.
class PictureKeeper : public QObject {
  Q_OBJECT
 public:
  PictureKeeper() : m_reader(PictureReader::beside()) {}

 public slots:
  void attach(const std::shared_ptr<const ash::AttachWish>& wish);
  void takeOff(const std::shared_ptr<const ash::KeptFiles>& files);
  void putBack(const std::shared_ptr<const ash::KeptFiles>& files);
  /// Takes one off whose bytes nobody holds yet; told by detached().
  void detach(const QString& book, long long id);
  /// Says something else of one; told by described().
  void describe(const QString& book, long long id, const QString& words);
  /// The same by undo or redo; told by changed().
  void describeAgain(const QString& book, long long id, const QString& words);
  /// Scaled to lie within `most` pixels; told by drawn().
  void draw(const QString& book, const std::shared_ptr<const ash::Attachment>& one, const QSize& most);
  /// Writes one out as a file.
  void write(const QString& book, long long id, const QString& path);

 signals:
  /// What is kept now, with sentences on what was done to it; or why it is not.
  void attached(const std::shared_ptr<const ash::KeptFiles>& files, const QString& remarks, const QString& refusal);
  void detached(const std::shared_ptr<const ash::KeptFiles>& files, const QString& refusal);
  void described(long long id, const QString& before, const QString& now, const QString& refusal);
  /// The book holds other files than before; or why not.
  void changed(const QString& refusal);
  void drawn(long long id, const QSize& most, const QImage& image, const QString& refusal);
  void written(const QString& path, const QString& refusal);

 private:
  PictureReader m_reader;
};

}  // namespace ash
