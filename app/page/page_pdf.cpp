// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/page/page_pdf.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QDateTime>
#include <QFontDatabase>
#include <QPainter>
#include <QPdfWriter>
#include <QTextBlock>
#include <vector>

#include "app/page/page_document.h"
#include "app/page/pdf_finish.h"

namespace ash {
namespace {

constexpr int kLayoutDpi = 96, kPrintDpi = 1200;
constexpr double kPointsPerPx = 72.0 / kLayoutDpi, kFootPx = 34;
const QColor kSoft(0x5C, 0x55, 0x4E);

QString titleOf(const StudyReport& report) {
  return QString::fromStdString(report.study.question.empty() ? report.study.name : report.study.question);
}

// When the last run began: the page is as old as what it tells.
QString dateOf(const StudyReport& report) {
  std::string last;
  for (const RunSummary& run : report.summaries) last = std::max(last, run.info.started);
  const QDateTime when = QDateTime::fromString(QString::fromStdString(last), Qt::ISODate).toUTC();
  return when.isValid() ? when.toString(QStringLiteral("'D:'yyyyMMddHHmmss'Z'")) : QStringLiteral("D:19700101000000Z");
}

// One page of the document, with its foot.
void paintPage(QPainter& painter, const QTextDocument& document, const QSizeF& sheet, int page, const QString& title) {
  const double height = document.pageSize().height();
  const int pages = document.pageCount();
  painter.save();
  painter.scale(double(kPrintDpi) / kLayoutDpi, double(kPrintDpi) / kLayoutDpi);
  painter.save();
  const QRectF view(0, page * height, sheet.width(), height);
  painter.translate(0, -view.top());
  QAbstractTextDocumentLayout::PaintContext context;
  context.clip = view;
  context.palette.setColor(QPalette::Text, Qt::black);
  painter.setClipRect(view);
  document.documentLayout()->draw(&painter, context);
  painter.restore();
  painter.setFont(pageFont(11));
  painter.setPen(kSoft);
  const QRectF foot(0, sheet.height() - kFootPx / 2, sheet.width(), kFootPx / 2);
  const QString number = QObject::tr("%1 of %2").arg(page + 1).arg(pages);
  const double wide = painter.fontMetrics().horizontalAdvance(number) + 24;
  painter.drawText(foot, Qt::AlignRight | Qt::AlignBottom, number);
  painter.drawText(foot, Qt::AlignLeft | Qt::AlignBottom,
                   painter.fontMetrics().elidedText(title, Qt::ElideRight, int(foot.width() - wide)));
  painter.restore();
}

// Where each heading came to lie, in points from the page's upper edge.
std::vector<PdfBookmark> bookmarksOf(const QTextDocument& document, double topMarginPt) {
  std::vector<PdfBookmark> all;
  const double height = document.pageSize().height();
  for (QTextBlock block = document.begin(); block.isValid(); block = block.next()) {
    const int level = block.blockFormat().headingLevel();
    if (level == 0 || block.text().trimmed().isEmpty()) continue;
    const double top = document.documentLayout()->blockBoundingRect(block).top();
    const int page = int(top / height);
    all.push_back(
        {block.text().trimmed().toStdString(), level, page, topMarginPt + (top - page * height) * kPointsPerPx});
  }
  return all;
}

}  // namespace

QFont pageFont(int px) {
  const QString inter = QStringLiteral("Inter");
  QFont font(QFontDatabase::families().contains(inter) ? inter : QStringLiteral("sans-serif"));
  font.setPixelSize(px);
  // Forms that depend on their neighbours are glyphs without a character: what is copied would lack them.
  font.setStyleStrategy(QFont::PreferNoShaping);
  return font;
}

Result<QByteArray> pagePdf(const StudyReport& report, Paper paper) {
  QByteArray bytes;
  QBuffer buffer(&bytes);
  buffer.open(QIODevice::WriteOnly);
  QPdfWriter writer(&buffer);
  writer.setTitle(titleOf(report));
  writer.setCreator(QStringLiteral("Ash Gauge"));
  writer.setResolution(kPrintDpi);
  const QMarginsF margins(18, 16, 18, 14);
  writer.setPageLayout(QPageLayout(QPageSize(paper == Paper::A4 ? QPageSize::A4 : QPageSize::Letter),
                                   QPageLayout::Portrait, margins, QPageLayout::Millimeter));
  const QSizeF sheet = writer.pageLayout().paintRectPixels(kLayoutDpi).size();
  PageDocument document;
  document.setDocumentMargin(0);
  document.setPageSize({sheet.width(), sheet.height() - kFootPx});
  PageMeasures measures;
  measures.font = pageFont(13);
  measures.chartWidth = sheet.width();
  document.fill(pageBlocks(report), measures);
  document.setPageSize({sheet.width(), sheet.height() - kFootPx});
  QPainter painter(&writer);
  if (!painter.isActive()) return Error::badInput("The page cannot be drawn as PDF.");
  for (int page = 0; page < document.pageCount(); ++page) {
    if (page > 0) writer.newPage();
    paintPage(painter, document, sheet, page, titleOf(report));
  }
  painter.end();
  const double topMarginPt = writer.pageLayout().margins(QPageLayout::Point).top();
  return finishedPdf(bytes, bookmarksOf(document, topMarginPt), dateOf(report).toStdString());
}

}  // namespace ash
