// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/attached/picture_strip.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QToolButton>

#include "app/attached/attachment_words.h"
#include "app/attached/pictures.h"
#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kSquarePx = 40;
constexpr size_t kMostSquares = 6;

// The middle of a picture, or the ending of a file's name, in a square.
QPixmap squareOf(const QPixmap& picture, const QString& ending, int side, qreal ratio) {
  QPixmap square(QSize(side, side) * ratio);
  square.setDevicePixelRatio(ratio);
  square.fill(theme().ground);
  QPainter painter(&square);
  if (picture.isNull()) {
    painter.setPen(theme().softInk);
    painter.setFont(look::font(12));
    painter.drawText(QRect(0, 0, side, side), Qt::AlignCenter, ending.left(4));
    return square;
  }
  const int shorter = std::min(picture.width(), picture.height());
  const QRect middle((picture.width() - shorter) / 2, (picture.height() - shorter) / 2, shorter, shorter);
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  painter.drawPixmap(QRect(0, 0, side, side), picture, middle);
  return square;
}

}  // namespace

PictureStrip::PictureStrip(Pictures& pictures, QWidget* parent)
    : QWidget(parent), m_pictures(pictures), m_add(new QToolButton(this)), m_row(new QHBoxLayout(this)) {
  setObjectName(QStringLiteral("picture-strip"));
  m_row->setContentsMargins(0, 0, 0, 0);
  m_row->setSpacing(px(4));
  m_add->setObjectName(QStringLiteral("add-picture"));
  m_add->setProperty("role", "quiet");
  m_add->setFont(look::font(12));
  m_add->setText(tr("Add a picture …"));
  m_add->setToolTip(
      tr("A picture or another file that is kept with this setup. It can also be dropped here or pasted (Ctrl+V); a\n"
         "picture is scaled to 2560 pixels and freed of what its camera wrote into it."));
  m_row->addWidget(m_add);
  m_row->addStretch(1);
  connect(m_add, &QToolButton::clicked, this,
          [this] { emit m_pictures.addWanted(std::make_shared<const Attachment>(m_owner)); });
  connect(&pictures, &Pictures::ready, this, [this](long long id) {
    for (size_t i = 0; i < m_squares.size(); ++i) {
      if (m_files[i].id == id) drawSquare(i);
    }
  });
}

void PictureStrip::show(const std::vector<Attachment>& files, const Attachment& owner) {
  m_owner = owner;
  const auto isSame = [](const Attachment& a, const Attachment& b) { return a.id == b.id && a.hash == b.hash; };
  if (std::equal(files.begin(), files.end(), m_files.begin(), m_files.end(), isSame)) return;
  m_files = files;
  fill();
}

void PictureStrip::fill() {
  for (QToolButton* square : m_squares) square->deleteLater();
  m_squares.clear();
  for (size_t i = 0; i < std::min(m_files.size(), kMostSquares); ++i) {
    auto* square = new QToolButton(this);
    square->setObjectName(QStringLiteral("picture-square"));
    square->setProperty("role", "quiet");
    square->setIconSize({px(kSquarePx), px(kSquarePx)});
    square->setFixedSize(px(kSquarePx + 4), px(kSquarePx + 4));
    square->setAccessibleName(attachmentWords(m_files[i]));
    square->setToolTip(attachmentWords(m_files[i]));
    connect(square, &QToolButton::clicked, this, [this, id = m_files[i].id] { emit m_pictures.openWanted(id); });
    m_row->insertWidget(static_cast<int>(i), square);
    m_squares.push_back(square);
    drawSquare(i);
  }
  m_add->setText(m_files.empty()                     ? tr("Add a picture …")
                 : m_files.size() > m_squares.size() ? tr("and %1 more · Add …").arg(m_files.size() - m_squares.size())
                                                     : tr("Add …"));
}

void PictureStrip::drawSquare(size_t index) {
  const Attachment& one = m_files[index];
  const qreal ratio = devicePixelRatioF();
  // Twice the side, so that the middle of a wide picture has enough of it.
  const QSize most = QSize(px(kSquarePx), px(kSquarePx)) * ratio * 2;
  const QPixmap picture = isPicture(one) ? m_pictures.within(one, most) : QPixmap();
  const QString name = text(one.name);
  const qsizetype dot = name.lastIndexOf(QLatin1Char('.'));
  const QString ending = isPicture(one) && m_pictures.refusal(one.id).isEmpty() ? QStringLiteral("…")
                         : dot < 0                                              ? QStringLiteral("?")
                                                                                : name.mid(dot + 1);
  m_squares[index]->setIcon(squareOf(picture, ending, px(kSquarePx), ratio));
}

}  // namespace ash

#include "moc_picture_strip.cpp"
