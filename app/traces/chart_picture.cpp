// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/chart_picture.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QImage>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QSvgRenderer>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "report/drawing/svg_chart.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr int kPlanes = 3;

ChartLook lookFor(int width) {
  // The phone's form as long as the page's would be shown smaller than two thirds.
  const double page = infoOf(ChartSize::Page).widthPx;
  ChartLook look;
  look.size = width < 2 * page / 3 ? ChartSize::Phone : ChartSize::Page;
  look.isDark = theme().isDark;
  look.hasPaper = true;
  return look;
}

}  // namespace

ChartPicture::ChartPicture(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setToolTip(tr("Ctrl+C copies this chart, as a picture and as SVG."));
}
ChartPicture::~ChartPicture() = default;

void ChartPicture::show(const std::optional<Chart>& chart, const QString& whyNot) {
  m_chart = chart;
  m_whyNot = whyNot;
  setAccessibleName(chart ? text(chart->finding) : whyNot);
  setAccessibleDescription(chart ? text(chart->spoken) : QString());
  draw();
}

void ChartPicture::draw() {
  m_renderer = m_chart ? std::make_unique<QSvgRenderer>(svg()) : nullptr;
  update();
}

QByteArray ChartPicture::svg() const {
  return m_chart ? QByteArray::fromStdString(svgChart(*m_chart, lookFor(width())).str()) : QByteArray();
}

QSize ChartPicture::sizeHint() const { return {px(320), px(340)}; }

void ChartPicture::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  draw();
}

QRectF ChartPicture::place() const {
  const QSizeF whole = m_renderer->viewBoxF().size();
  const double scale = std::min(width() / whole.width(), height() / whole.height());
  return {QPointF((width() - whole.width() * scale) / 2, 0), whole * scale};
}

void ChartPicture::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  if (m_renderer != nullptr) {
    m_renderer->render(&painter, place());
  } else {
    painter.setFont(look::font(12));
    painter.setPen(theme().softInk);
    painter.drawText(rect().adjusted(px(16), px(16), -px(16), -px(16)), Qt::AlignCenter | Qt::TextWordWrap, m_whyNot);
  }
  if (hasFocus()) {
    painter.setPen(QPen(theme().ink, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void ChartPicture::keyPressEvent(QKeyEvent* event) {
  if (event != QKeySequence::Copy || m_renderer == nullptr) return QWidget::keyPressEvent(event);
  constexpr double kSharp = 2;
  QImage image((m_renderer->viewBoxF().size() * kSharp).toSize(), QImage::Format_RGB32);
  image.fill(theme().panel);
  QPainter painter(&image);
  m_renderer->render(&painter, QRectF(QPointF(), QSizeF(image.size())));
  painter.end();
  auto* copied = new QMimeData;  // the clipboard takes it
  copied->setImageData(image);
  copied->setData(QStringLiteral("image/svg+xml"), svg());
  QGuiApplication::clipboard()->setMimeData(copied);
}

PlaneRow::PlaneRow(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("planes"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(px(12), px(4), px(12), px(8));
  row->setSpacing(px(8));
  for (int i = 0; i < kPlanes; ++i) {
    m_pictures.push_back(new ChartPicture(this));
    row->addWidget(m_pictures.back(), 1);
  }
  setFocusProxy(m_pictures.front());
}

void PlaneRow::show(const std::vector<std::optional<Chart>>& charts, const QString& whyNot) {
  for (size_t i = 0; i < m_pictures.size(); ++i)
    m_pictures[i]->show(i < charts.size() ? charts[i] : std::nullopt, whyNot);
}

}  // namespace ash

#include "moc_chart_picture.cpp"
