// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/page_preview.h"

#include <QScrollBar>
#include <QTextCursor>

#include "app/look/theme.h"

namespace ash {

PagePreview::PagePreview(QWidget* parent) : QTextBrowser(parent), m_page(new PageDocument(this)) {
  setObjectName(QStringLiteral("preview"));
  setAccessibleName(tr("Preview of the page"));
  setDocument(m_page);
  setOpenLinks(false);
  connect(this, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) { emit linkChosen(link.toString()); });
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  m_page->setDocumentMargin(look::px(40));
}

void PagePreview::show(const std::vector<PageBlock>& blocks, int chartWidth) {
  const int scrolled = verticalScrollBar()->value();
  const auto px = [](double design) { return double(look::px(design)); };
  m_page->fill(blocks, {look::font(13), px, double(chartWidth)});
  // Whoever fills a document leaves its cursor at the end, and the view follows the cursor.
  setTextCursor(QTextCursor(m_page));
  verticalScrollBar()->setValue(scrolled);
}

void PagePreview::goTo(const QString& block) { scrollToAnchor(block); }

}  // namespace ash

#include "moc_page_preview.cpp"
