// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/attached/pictures.h"

#include "app/study/study_desk.h"

namespace ash {
namespace {
constexpr int kMostDrawn = 200;
}

Pictures::Pictures(StudyDesk& desk, QObject* parent) : QObject(parent), m_desk(desk) {}

QPixmap Pictures::within(const Attachment& one, QSize most) {
  if (m_book != m_desk.bookPath() || m_drawn.size() > kMostDrawn) {
    m_drawn.clear();
    m_refusals.clear();
    m_book = m_desk.bookPath();
  }
  const Key key{one.id, most.width(), most.height()};
  const auto known = m_drawn.constFind(key);
  if (known != m_drawn.constEnd()) return *known;
  m_drawn.insert(key, {});
  emit drawWanted(m_book, std::make_shared<const Attachment>(one), most);
  return {};
}

void Pictures::takeDrawn(long long id, QSize most, const QImage& image, const QString& refusal) {
  const Key key{id, most.width(), most.height()};
  if (!m_drawn.contains(key)) return;  // of a book that is no longer in hand
  m_drawn[key] = QPixmap::fromImage(image);
  if (!refusal.isEmpty()) m_refusals[id] = refusal;
  emit ready(id);
}

}  // namespace ash

#include "moc_pictures.cpp"
