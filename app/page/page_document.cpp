// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/page/page_document.h"

#include <QAbstractTextDocumentLayout>
#include <QPainter>
#include <QSvgRenderer>
#include <QTextObjectInterface>
#include <memory>
#include <vector>

#include "app/page/chart_texts.h"

namespace ash {

/// Draws the charts of a document; each stands in it as a picture whose name is its number.
class ChartObjects : public QObject, public QTextObjectInterface {
  Q_OBJECT
  Q_INTERFACES(QTextObjectInterface)
 public:
  using QObject::QObject;
  struct Chart {
    std::unique_ptr<QSvgRenderer> renderer;
    std::vector<WrittenText> texts;
    QSizeF size;
    QFont font;
  };

  QSizeF intrinsicSize(QTextDocument*, int, const QTextFormat& format) override {
    const Chart* chart = find(format);
    return chart == nullptr ? QSizeF() : chart->size;
  }
  void drawObject(QPainter* painter, const QRectF& rect, QTextDocument*, int, const QTextFormat& format) override {
    const Chart* chart = find(format);
    if (chart == nullptr) return;
    chart->renderer->render(painter, rect);
    const double scale = rect.width() / std::max(1.0, chart->renderer->viewBoxF().width());
    painter->save();
    painter->translate(rect.topLeft());
    painter->scale(scale, scale);
    writeTexts(*painter, chart->texts, chart->font);
    painter->restore();
  }

  std::vector<Chart> charts;

 private:
  const Chart* find(const QTextFormat& format) const {
    bool isNumber = false;
    const size_t number = format.toImageFormat().name().toULongLong(&isNumber);
    return isNumber && number < charts.size() ? &charts[number] : nullptr;
  }
};

namespace {

// The page's classes for the text document, which knows fewer of them than a browser.
QString pageStyle(const std::function<double(double)>& px) {
  return QStringLiteral(
             "body{color:#24211E;background:#FFFFFF} h1{font-size:%1px;font-weight:700} "
             "h2{font-size:%2px;font-weight:600;margin-top:%3px} h3{font-size:%5px;font-weight:600} "
             ".answer{font-size:%2px;background-color:#F2F0EC} .comment{font-style:italic;margin-left:%3px} "
             ".soft{color:#5C554E;font-weight:400} "
             "th{text-align:right;font-weight:600;padding:3px} td{text-align:right;padding:3px} "
             "small{color:#5C554E;font-size:%4px} a{color:#24211E;text-decoration:none} "
             ".group{font-weight:600;text-align:left} .figure{background-color:#E9E4DB}")
      .arg(px(22))
      .arg(px(14))
      .arg(px(14))
      .arg(px(11) + 1)
      .arg(px(13));
}

}  // namespace

PageDocument::PageDocument(QObject* parent) : QTextDocument(parent), m_charts(new ChartObjects(this)) {
  documentLayout()->registerHandler(QTextFormat::ImageObject, m_charts);
}

QString PageDocument::withCharts(const QString& html, const PageMeasures& measures) {
  static const QString kEnd = QStringLiteral("</svg>");
  QString all = html;
  qsizetype from = all.indexOf(QStringLiteral("<svg"));
  for (; from >= 0; from = all.indexOf(QStringLiteral("<svg"), from)) {
    const qsizetype end = all.indexOf(kEnd, from) + kEnd.size();
    QString svg = all.mid(from, end - from);
    const bool isMark = svg.left(svg.indexOf(QLatin1Char('>'))).contains(QStringLiteral("class='mark'"));
    std::vector<WrittenText> texts = takeTexts(svg);
    auto renderer = std::make_unique<QSvgRenderer>(svg.toUtf8());
    const QSizeF size = renderer->viewBoxF().size();
    const double width = std::min(measures.chartWidth, measures.px(size.width()));
    const QSizeF drawn(width, width * size.height() / std::max(1.0, size.width()));
    const QString image = QStringLiteral("<img src=\"%1\">").arg(m_charts->charts.size());
    m_charts->charts.push_back({std::move(renderer), std::move(texts), drawn, measures.font});
    const QString stands = isMark ? image : QStringLiteral("<p>%1</p>").arg(image);
    all.replace(from, end - from, stands);
    from += stands.size();
  }
  return all;
}

void PageDocument::fill(const std::vector<PageBlock>& blocks, const PageMeasures& measures) {
  clear();
  m_charts->charts.clear();
  setDefaultStyleSheet(pageStyle(measures.px));
  setDefaultFont(measures.font);
  QString html;
  for (const PageBlock& block : blocks) {
    if (block.isLeftOut) continue;
    html += QStringLiteral("<a name=\"%1\"></a>").arg(QString::fromStdString(block.id));
    if (block.hasHeading())
      html += QStringLiteral("<h2>%1</h2>").arg(QString::fromStdString(block.title).toHtmlEscaped());
    html += withCharts(QString::fromStdString(block.body.str()), measures);
    if (!block.comment.empty())
      html += QStringLiteral("<div class=\"comment\">%1<p class=\"soft\">%2</p></div>")
                  .arg(QString::fromStdString(block.commentBody.str()), tr("Comment by the tester"));
  }
  // A text document gives a table its width by attribute, and heads of the first column are read from the left.
  html.replace(QStringLiteral("<table "), QStringLiteral("<table width=\"100%\" "));
  html.replace(QStringLiteral("<tr><td"), QStringLiteral("<tr><td align=\"left\""));
  html.replace(QStringLiteral("<tr><th"), QStringLiteral("<tr><th align=\"left\""));
  setHtml(html);
}

}  // namespace ash

#include "moc_page_document.cpp"
#include "page_document.moc"
