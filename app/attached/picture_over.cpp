// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/attached/picture_over.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/attached/attachment_words.h"
#include "app/attached/pictures.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kEdgePx = 24, kFootPx = 92;

QString sizeWords(const Attachment& one) {
  const int width = valueIn(one.extra, "width", 0), height = valueIn(one.extra, "height", 0);
  const QString kB = QObject::tr("%1 kB").arg(std::max(1LL, one.sizeB / 1000));
  return width > 0 ? QObject::tr("%1 × %2 pixels, %3").arg(width).arg(height).arg(kB) : kB;
}

}  // namespace

PictureOver::PictureOver(Pictures& pictures, QWidget* page) : QWidget(page), m_pictures(pictures) {
  setObjectName(QStringLiteral("picture-over"));
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_NoMousePropagation);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(kEdgePx), px(kEdgePx), px(kEdgePx), px(10));
  column->addStretch(1);
  auto* foot = new QHBoxLayout;
  foot->setSpacing(px(8));
  auto* words = new QVBoxLayout;
  words->setSpacing(px(2));
  m_name = look::label({}, 13, QFont::DemiBold, this);
  m_about = look::softLabel({}, this);
  m_about->setWordWrap(true);
  m_said = new QLineEdit(this);
  m_said->setObjectName(QStringLiteral("picture-said"));
  m_said->setFont(look::font(12));
  m_said->setAccessibleName(tr("What it shows"));
  words->addWidget(m_name);
  words->addWidget(m_about);
  words->addWidget(m_said);
  foot->addLayout(words, 1);
  const auto add = [&](const QString& title, const char* name, const QString& tip) {
    auto* button = new QPushButton(title, this);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    button->setFocusPolicy(Qt::TabFocus);
    foot->addWidget(button, 0, Qt::AlignBottom);
    return button;
  };
  m_remove = add(tr("Take off"), "picture-remove", tr("It is no longer kept; Ctrl+Z puts it back (Del)"));
  m_write = add(tr("Save as …"), "picture-write", tr("Writes it out as a file"));
  m_close = add(tr("Close"), "picture-close", tr("Esc"));
  column->addLayout(foot);
  connect(m_said, &QLineEdit::returnPressed, this, [this] {
    if (one() == nullptr || m_said->text().trimmed().isEmpty()) return;
    emit said(one()->id, m_said->text().trimmed());
    m_said->clear();
    setFocus();
  });
  connect(m_close, &QPushButton::clicked, this, &QWidget::hide);
  connect(m_remove, &QPushButton::clicked, this, [this] {
    if (one() != nullptr) emit removeWanted(one()->id);
    hide();
  });
  connect(m_write, &QPushButton::clicked, this, [this] {
    if (one() != nullptr) emit writeWanted(one()->id, text(one()->name));
  });
  connect(&pictures, &Pictures::ready, this, qOverload<>(&QWidget::update));
  page->installEventFilter(this);
  hide();
}

const Attachment* PictureOver::one() const { return m_index < m_files.size() ? &m_files[m_index] : nullptr; }

void PictureOver::takeChanged(const std::vector<Attachment>& files) {
  if (!isVisible() || one() == nullptr) return;
  const long long id = one()->id;
  const auto found = std::find_if(files.begin(), files.end(), [&](const Attachment& file) { return file.id == id; });
  if (found == files.end()) return hide();
  if (found->text == one()->text) return;
  m_files[m_index] = *found;
  fill();
}

void PictureOver::open(const std::vector<Attachment>& files, long long id) {
  m_files = files;
  const auto found = std::find_if(files.begin(), files.end(), [&](const Attachment& file) { return file.id == id; });
  if (found == files.end()) return;
  m_index = static_cast<size_t>(found - files.begin());
  setGeometry(parentWidget()->rect());
  fill();
  show();
  raise();
  setFocus();
}

void PictureOver::step(int by) {
  const auto count = static_cast<int>(m_files.size());
  m_index = static_cast<size_t>((static_cast<int>(m_index) + by + count) % count);
  fill();
  update();
}

void PictureOver::fill() {
  const Attachment& file = *one();
  m_name->setText(file.text.empty() ? text(file.name) : text(file.text));
  QStringList about = {ownerWords(m_pictures.desk(), file)};
  if (!file.text.empty()) about << text(file.name);
  const QString taken = text(valueIn(file.extra, "taken", std::string()));
  if (!taken.isEmpty())
    about << tr("taken %1 by its camera's clock").arg(QString(taken).replace(QLatin1Char('T'), QLatin1Char(' ')));
  about << sizeWords(file);
  if (m_files.size() > 1) about << tr("%1 of %2 (arrow keys)").arg(m_index + 1).arg(m_files.size());
  about.removeAll(QString());
  m_about->setText(about.join(QStringLiteral(" · ")));
  const bool isMoment = !file.run.empty() && std::isfinite(file.atS);
  m_said->clear();
  m_said->setPlaceholderText(isMoment ? tr("what it shows, or a value: surface hinge 47.5") : tr("what it shows"));
  m_said->setToolTip(isMoment
                         ? tr("Words, or a reading as the entry line takes it: it is kept at the picture's moment.")
                         : tr("Words that are kept with it."));
  setAccessibleName(m_name->text());
  setAccessibleDescription(m_about->text());
}

QRect PictureOver::pictureArea() const {
  return rect().adjusted(px(kEdgePx), px(kEdgePx), -px(kEdgePx), -px(kFootPx + kEdgePx));
}

void PictureOver::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme().ground);
  const Attachment* file = one();
  if (file == nullptr) return;
  const QRect area = pictureArea();
  QPixmap picture = isPicture(*file) ? m_pictures.within(*file, area.size() * devicePixelRatioF()) : QPixmap();
  if (!picture.isNull()) {
    picture.setDevicePixelRatio(devicePixelRatioF());
    const QSize size = picture.size() / devicePixelRatioF();
    painter.drawPixmap(area.center() - QPoint(size.width(), size.height()) / 2, picture);
    return;
  }
  const QString refusal = m_pictures.refusal(file->id);
  painter.setPen(theme().softInk);
  painter.setFont(look::font(13));
  painter.drawText(area, Qt::AlignCenter | Qt::TextWordWrap,
                   !isPicture(*file) ? tr("%1 is no picture that is drawn here (%2). Save it to open it elsewhere.")
                                           .arg(text(file->name), text(file->type))
                   : refusal.isEmpty() ? tr("drawing …")
                                       : refusal);
}

void PictureOver::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Escape:
      return hide();
    case Qt::Key_Left:
    case Qt::Key_Right:
      return step(event->key() == Qt::Key_Left ? -1 : 1);
    case Qt::Key_Delete:
      return m_remove->click();
    default:
      QWidget::keyPressEvent(event);
  }
}

// Beside the picture: back to the page.
void PictureOver::mousePressEvent(QMouseEvent* event) {
  if (event->position().y() < height() - px(kFootPx + 10)) hide();
}

void PictureOver::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  emit closed();
}

bool PictureOver::eventFilter(QObject* watched, QEvent* event) {
  if (watched == parentWidget() && event->type() == QEvent::Resize) setGeometry(parentWidget()->rect());
  return QWidget::eventFilter(watched, event);
}

}  // namespace ash

#include "moc_picture_over.cpp"
