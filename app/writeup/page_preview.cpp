// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/writeup/page_preview.h"

#include <QPainter>
#include <QScrollBar>
#include <QSvgRenderer>
#include <QTextDocument>
#include <QUrl>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "report/chart/stand_alone.h"
#include "report/markup/comment_text.h"

namespace ash {
using look::text;
namespace {

// The page's classes for the text document, which knows fewer of them than a browser.
QString pageStyle() {
  return QStringLiteral(
             "body{color:#24211E;background:#FFFFFF} h1{font-size:%1px;font-weight:700} "
             "h2{font-size:%2px;font-weight:600;margin-top:%3px} "
             ".answer{font-size:%2px;background-color:#F2F0EC} .comment{font-style:italic;margin-left:%3px} "
             ".soft{color:#5C554E;font-weight:400} "
             "th{text-align:right;font-weight:600;padding:3px} td{text-align:right;padding:3px} "
             "small{color:#5C554E;font-size:%4px} "
             ".group{font-weight:600;text-align:left} .figure{background-color:#E9E4DB}")
      .arg(look::px(22))
      .arg(look::px(14))
      .arg(look::px(14))
      .arg(look::px(11) + 1);
}

// The SVG inherits the page's fonts there; here they are written into it.
QByteArray standAlone(const QString& svg) {
  return QByteArray::fromStdString(standAloneSvg(svg.toStdString(), look::font(12).family().toStdString()));
}

}  // namespace

PagePreview::PagePreview(QWidget* parent) : QTextBrowser(parent) {
  setObjectName(QStringLiteral("preview"));
  setAccessibleName(tr("Preview of the page"));
  setOpenLinks(false);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  document()->setDocumentMargin(look::px(40));
}

QString PagePreview::withCharts(const QString& html, int chartWidth) {
  QString all = html;
  for (qsizetype from = all.indexOf(QStringLiteral("<svg")); from >= 0; from = all.indexOf(QStringLiteral("<svg"))) {
    const qsizetype end = all.indexOf(QStringLiteral("</svg>"), from) + 6;
    QSvgRenderer renderer(standAlone(all.mid(from, end - from)));
    const QSizeF size = renderer.defaultSize();
    const double ratio = devicePixelRatioF();
    const double width = std::min<double>(chartWidth, look::px(size.width()));
    QImage image((QSizeF(width, width * size.height() / std::max(1.0, size.width())) * ratio).toSize(),
                 QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::white);
    QPainter painter(&image);
    renderer.render(&painter);
    painter.end();
    image.setDevicePixelRatio(ratio);
    const QString name = QStringLiteral("chart:%1").arg(m_chartCount++);
    document()->addResource(QTextDocument::ImageResource, QUrl(name), image);
    all.replace(from, end - from, QStringLiteral("<p><img src=\"%1\"></p>").arg(name));
  }
  return all;
}

void PagePreview::show(const std::vector<PageBlock>& blocks, int chartWidth) {
  const int scrolled = verticalScrollBar()->value();
  document()->clear();
  document()->setDefaultStyleSheet(pageStyle());
  QFont font = look::font(13);
  document()->setDefaultFont(font);
  m_chartCount = 0;
  QString html;
  for (const PageBlock& block : blocks) {
    if (block.isLeftOut) continue;
    html += QStringLiteral("<a name=\"%1\"></a>").arg(text(block.id));
    if (block.hasHeading()) html += QStringLiteral("<h2>%1</h2>").arg(text(block.title).toHtmlEscaped());
    html += withCharts(text(block.body.str()), chartWidth);
    if (!block.comment.empty())
      html += QStringLiteral("<div class=\"comment\">%1<p class=\"soft\">%2</p></div>")
                  .arg(text(commentOf(block.comment).str()), tr("Comment by the tester"));
  }
  // A text document gives a table its width by attribute, and heads of the first column are read from the left.
  html.replace(QStringLiteral("<table "), QStringLiteral("<table width=\"100%\" "));
  html.replace(QStringLiteral("<tr><td"), QStringLiteral("<tr><td align=\"left\""));
  html.replace(QStringLiteral("<tr><th"), QStringLiteral("<tr><th align=\"left\""));
  setHtml(html);
  verticalScrollBar()->setValue(scrolled);
}

void PagePreview::goTo(const QString& block) { scrollToAnchor(block); }

}  // namespace ash

#include "moc_page_preview.cpp"
