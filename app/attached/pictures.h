// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of the book in hand, drawn once for all who show them; on the interface's thread.
#pragma once

#include <QHash>
#include <QObject>
#include <QPixmap>
#include <QSize>
#include <memory>

#include "model/attachment.h"

namespace ash {

class StudyDesk;

class Pictures : public QObject {
  Q_OBJECT
 public:
  Pictures(StudyDesk& desk, QObject* parent);

  StudyDesk& desk() { return m_desk; }
  /// The picture within `most` pixels of the screen; null while it is not drawn: then it is asked for, and ready()
  /// tells.
  QPixmap within(const Attachment& one, QSize most);
  /// Why it cannot be drawn; empty while that is not known.
  QString refusal(long long id) const { return m_refusals.value(id); }
  void takeDrawn(long long id, QSize most, const QImage& image, const QString& refusal);

 signals:
  void ready(long long id);
  /// Somebody wants to look at it over the page.
  void openWanted(long long id);
  /// Files are to be chosen for this owner.
  void addWanted(const std::shared_ptr<const ash::Attachment>& owner);
  // To the keeper of pictures.
  void drawWanted(const QString& book, const std::shared_ptr<const ash::Attachment>& one, const QSize& most);

 private:
  struct Key {
    long long id;
    int width, height;
    bool operator==(const Key&) const = default;
    friend size_t qHash(const Key& key, size_t seed) { return qHashMulti(seed, key.id, key.width, key.height); }
  };
  StudyDesk& m_desk;
  QString m_book;
  QHash<Key, QPixmap> m_drawn;  // null = asked for
  QHash<long long, QString> m_refusals;
};

}  // namespace ash
