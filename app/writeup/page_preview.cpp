// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/page_preview.h"

#include <QAbstractTextDocumentLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextCursor>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kMargin = 40, kHandleLeft = 14, kHandleWide = 12, kHandleHigh = 18;

// Where an anchor of that name begins; none in a page without it.
std::optional<double> topOf(const QTextDocument& page, const QString& anchor) {
  for (QTextBlock block = page.begin(); block.isValid(); block = block.next()) {
    // An anchor without words of its own goes to the paragraph.
    bool isHere = block.charFormat().anchorNames().contains(anchor);
    for (auto part = block.begin(); !part.atEnd(); ++part)
      isHere |= part.fragment().charFormat().anchorNames().contains(anchor);
    if (isHere) return page.documentLayout()->blockBoundingRect(block).top();
  }
  return std::nullopt;
}

}  // namespace

PagePreview::PagePreview(QWidget* parent) : QTextBrowser(parent), m_page(new PageDocument(this)) {
  setObjectName(QStringLiteral("preview"));
  setAccessibleName(tr("Preview of the page"));
  setDocument(m_page);
  setOpenLinks(false);
  setMouseTracking(true);
  viewport()->setMouseTracking(true);
  connect(this, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) { emit linkChosen(link.toString()); });
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_page->setDocumentMargin(px(kMargin));
  connect(m_page->documentLayout(), &QAbstractTextDocumentLayout::documentSizeChanged, this,
          [this] { m_placed.clear(); });
}

void PagePreview::show(const std::vector<PageBlock>& blocks, int chartWidth) {
  const int before = verticalScrollBar()->value();
  const auto pxOf = [](double design) { return double(px(design)); };
  m_page->fill(blocks, {look::font(13), pxOf, double(chartWidth)});
  m_blocks.clear();
  m_placed.clear();
  for (const PageBlock& block : blocks) {
    if (!block.isLeftOut) m_blocks.push_back({text(block.id), !block.leads()});
  }
  // Whoever fills a document leaves its cursor at the end, and the view follows the cursor.
  setTextCursor(QTextCursor(m_page));
  verticalScrollBar()->setValue(before);
}

void PagePreview::goTo(const QString& block) { scrollToAnchor(block); }

double PagePreview::scrolled() const { return verticalScrollBar()->value(); }

const std::vector<PagePreview::Shown>& PagePreview::places() {
  std::vector<Shown>& all = m_placed;
  if (!all.empty()) return all;
  for (Shown block : m_blocks) {
    const auto top = topOf(*m_page, block.id);
    if (!top) continue;
    block.top = *top;
    if (!all.empty()) all.back().foot = *top;
    all.push_back(block);
  }
  if (!all.empty()) all.back().foot = m_page->size().height();
  return all;
}

std::optional<PagePreview::Shown> PagePreview::blockAt(const QPointF& inView) {
  const double y = inView.y() + scrolled();
  for (const Shown& block : places()) {
    if (y >= block.top && y < block.foot) return block;
  }
  return std::nullopt;
}

QRectF PagePreview::handleOf(const Shown& block) const {
  return {double(px(kHandleLeft)), block.top - scrolled() + px(4), double(px(kHandleWide)), double(px(kHandleHigh))};
}

void PagePreview::writeIn(QWidget* field, const QString& block) {
  m_field = field;
  m_fieldBlock = block;
  for (const Shown& each : places()) {
    if (each.id != block) continue;
    const double most = each.foot - viewport()->height() + field->height() + px(8);
    if (scrolled() < most || scrolled() > each.foot) verticalScrollBar()->setValue(static_cast<int>(most));
  }
  placeField();
}

void PagePreview::placeField() {
  if (m_field == nullptr) return;
  for (const Shown& each : places()) {
    if (each.id != m_fieldBlock) continue;
    m_field->setGeometry(px(kMargin), static_cast<int>(each.foot - scrolled()) - px(8),
                         viewport()->width() - px(2 * kMargin), m_field->height());
  }
}

void PagePreview::resizeEvent(QResizeEvent* event) {
  QTextBrowser::resizeEvent(event);
  placeField();
}

// The field is a part of the view, which would be moved by the pixels and then stand where it was not.
void PagePreview::scrollContentsBy(int dx, int dy) {
  QTextBrowser::scrollContentsBy(dx, dy);
  placeField();
}

void PagePreview::paintEvent(QPaintEvent* event) {
  QTextBrowser::paintEvent(event);
  QPainter painter(viewport());
  for (const Shown& block : places()) {
    const bool isTarget = !m_dragged.isEmpty() && block.id == m_target;
    if (isTarget) {
      painter.setPen(QPen(theme().ink, 2));
      const double y = (m_isAfter ? block.foot : block.top) - scrolled();
      painter.drawLine(QPointF(px(kHandleLeft), y), QPointF(viewport()->width() - px(kHandleLeft), y));
    }
    if (!block.canMove || (block.id != m_pointed && block.id != m_dragged)) continue;
    painter.setPen(QPen(theme().softInk, 1));
    const QRectF handle = handleOf(block);
    for (const double at : {0.2, 0.5, 0.8}) {
      const double y = handle.top() + at * handle.height();
      painter.drawLine(QPointF(handle.left(), y), QPointF(handle.right(), y));
    }
  }
}

void PagePreview::mousePressEvent(QMouseEvent* event) {
  const auto block = blockAt(event->position());
  if (event->button() == Qt::LeftButton && block && block->canMove && handleOf(*block).contains(event->position())) {
    m_dragged = m_target = block->id;
    setFocus(Qt::MouseFocusReason);  // Esc gives it up
    return viewport()->update();
  }
  QTextBrowser::mousePressEvent(event);
}

void PagePreview::mouseMoveEvent(QMouseEvent* event) {
  const auto block = blockAt(event->position());
  const QString id = block ? block->id : QString();
  if (!m_dragged.isEmpty()) {
    if (block && block->canMove) {
      m_target = id;
      m_isAfter = event->position().y() + scrolled() > (block->top + block->foot) / 2;
    }
    return viewport()->update();
  }
  if (id != m_pointed) viewport()->update();
  m_pointed = id;
  const bool isOnHandle = block && block->canMove && handleOf(*block).contains(event->position());
  QTextBrowser::mouseMoveEvent(event);
  if (isOnHandle) viewport()->setCursor(Qt::SizeVerCursor);
}

void PagePreview::mouseReleaseEvent(QMouseEvent* event) {
  if (m_dragged.isEmpty()) return QTextBrowser::mouseReleaseEvent(event);
  const QString moved = std::exchange(m_dragged, {}), target = std::exchange(m_target, {});
  viewport()->update();
  if (moved != target) emit blockMoved(moved, target, m_isAfter);
}

void PagePreview::keyPressEvent(QKeyEvent* event) {
  if (event->key() != Qt::Key_Escape || m_dragged.isEmpty()) return QTextBrowser::keyPressEvent(event);
  m_dragged.clear();
  m_target.clear();
  viewport()->update();
}

void PagePreview::mouseDoubleClickEvent(QMouseEvent* event) {
  if (const auto block = blockAt(event->position())) emit blockOpened(block->id);
}

void PagePreview::leaveEvent(QEvent* event) {
  m_pointed.clear();
  viewport()->update();
  QTextBrowser::leaveEvent(event);
}

}  // namespace ash

#include "moc_page_preview.cpp"
