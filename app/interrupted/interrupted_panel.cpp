// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/interrupted/interrupted_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr size_t kMostCurves = 5;
constexpr size_t kMostRuns = 2;
constexpr double kLeastSpreadK = 10;   // what the height of a curve stands for, at least
constexpr double kLeastSpread = 0.15;  // of the value, for other quantities

struct Range {
  double low = INFINITY, high = -INFINITY;
  void take(double value) {
    if (!std::isfinite(value)) return;
    low = std::min(low, value);
    high = std::max(high, value);
  }
};

double lastValue(const Channel& channel) {
  for (size_t i = channel.values.size(); i-- > 0;) {
    if (std::isfinite(channel.values[i])) return channel.values[i];
  }
  return kMissing;
}

}  // namespace

LastMinuteView::LastMinuteView(const InterruptedRun& run, QWidget* parent) : QWidget(parent), m_run(run) {
  setObjectName(QStringLiteral("last-minute"));
  QStringList words;
  for (const Channel* channel : tellingChannels(m_run.lastMinute, m_run.run.info.watched, kMostCurves))
    words << tr("%1 %2 at the end")
                 .arg(text(Role(channel->name).title()),
                      text(withUnit(lastValue(*channel), usualDigits(channel->unit), channel->unit)));
  setAccessibleName(tr("The last minute: %1").arg(words.join(QStringLiteral(", "))));
}

QSize LastMinuteView::sizeHint() const { return {px(600), px(72)}; }

void LastMinuteView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Log& log = m_run.lastMinute;
  const auto channels = tellingChannels(log, m_run.run.info.watched, kMostCurves);
  if (channels.empty() || log.timeS.size() < 2) {
    painter.setFont(look::font(12));
    painter.setPen(theme().softInk);
    painter.drawText(rect(), Qt::AlignVCenter, tr("No sample was recorded."));
    return;
  }
  const double pitch = static_cast<double>(width()) / static_cast<double>(std::max<size_t>(4, channels.size()));
  for (size_t i = 0; i < channels.size(); ++i) {
    const Channel& channel = *channels[i];
    const QRectF cell(pitch * static_cast<double>(i), 0, pitch - px(16), height());
    painter.setFont(look::font(12));
    painter.setPen(theme().softInk);
    painter.drawText(QRectF(cell.left(), 0, cell.width(), px(18)), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text(Role(channel.name).title()), Qt::ElideRight,
                                                      static_cast<int>(cell.width())));
    const QString value = text(withUnit(lastValue(channel), usualDigits(channel.unit), channel.unit));
    painter.setFont(look::font(13, QFont::DemiBold));
    const double valueWidth = painter.fontMetrics().horizontalAdvance(value) + px(6);
    painter.setPen(theme().ink);
    const QRectF plot(cell.left(), px(22), std::max(10.0, cell.width() - valueWidth), cell.height() - px(26));
    painter.drawText(QRectF(plot.right() + px(6), plot.top(), valueWidth, plot.height()),
                     Qt::AlignLeft | Qt::AlignVCenter, value);
    Range range;
    for (const double v : channel.values) range.take(v);
    // Noise of a steady reading must not look like an event.
    const double least =
        channel.quantity == Quantity::Temperature ? kLeastSpreadK : kLeastSpread * std::abs(range.high);
    const double spread = std::max({range.high - range.low, least, 1e-9});
    range.low -= (spread - (range.high - range.low)) / 2;
    const double from = log.timeS.front(), span = std::max(1e-9, log.timeS.back() - from);
    painter.setPen(QPen(theme().line, 1));
    painter.drawLine(plot.bottomLeft(), plot.bottomRight());
    QPolygonF line;
    painter.setPen(QPen(theme().ink, 1.4));
    for (size_t k = 0; k < channel.values.size(); ++k) {
      if (!std::isfinite(channel.values[k])) {
        painter.drawPolyline(line);
        line.clear();
        continue;
      }
      line << QPointF(plot.left() + plot.width() * (log.timeS[k] - from) / span,
                      plot.bottom() - plot.height() * (channel.values[k] - range.low) / spread);
    }
    painter.drawPolyline(line);
    if (!line.isEmpty()) {
      painter.setBrush(theme().ink);
      painter.drawEllipse(line.last(), 2.5, 2.5);
      painter.setBrush(Qt::NoBrush);
    }
  }
}

InterruptedPanel::InterruptedPanel(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("interrupted"));
  look::withGround(this, theme().selected);
  m_column = new QVBoxLayout(this);
  m_column->setContentsMargins(0, 0, 0, 0);
  m_column->setSpacing(0);
  hide();
}

QWidget* InterruptedPanel::buildRun(const InterruptedRun& run) {
  const RunInfo& info = run.run.info;
  auto* box = new QWidget(m_content);
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(px(24));
  auto* words = new QVBoxLayout;
  words->setSpacing(px(2));
  QLabel* head = look::label(tr("<b>%1 · %2</b> · repeat %3: %4")
                                 .arg(text(info.setup).toHtmlEscaped(), text(info.load).toHtmlEscaped())
                                 .arg(info.repeat)
                                 .arg(text(std::string(outcomeText(info.outcome)))),
                             13, QFont::Normal, box);
  head->setTextFormat(Qt::RichText);
  QLabel* why = look::label(text(info.reason), 12, QFont::Normal, box);
  why->setObjectName(QStringLiteral("interrupted-reason"));
  why->setWordWrap(true);
  why->setTextFormat(Qt::PlainText);
  QLabel* kept =
      look::softLabel(std::isfinite(run.run.lastSampleS)
                          ? tr("Everything up to %1 is in the book.").arg(text(clockText(run.run.lastSampleS)))
                          : tr("It ended before its first sample."),
                      box);
  for (QLabel* label : {head, why, kept}) words->addWidget(label);
  words->addStretch(1);
  auto* wordsBox = new QWidget(box);
  wordsBox->setLayout(words);
  words->setContentsMargins(0, 0, 0, 0);
  wordsBox->setFixedWidth(px(400));
  row->addWidget(wordsBox);
  row->addWidget(new LastMinuteView(run, box), 1);
  auto* look = new QPushButton(tr("Look at it"), box);
  look->setObjectName(QStringLiteral("interrupted-look"));
  look->setToolTip(tr("Shows the run on Watch, up to its last sample"));
  const QString id = text(info.id);
  connect(look, &QPushButton::clicked, this, [this, id] { emit runWanted(id); });
  row->addWidget(look, 0, Qt::AlignVCenter);
  return box;
}

void InterruptedPanel::show(const std::shared_ptr<const InterruptedRuns>& runs) {
  delete m_content;
  m_content = new QWidget(this);
  auto* column = new QVBoxLayout(m_content);
  column->setContentsMargins(px(16), px(10), px(16), px(10));
  column->setSpacing(px(10));
  auto* head = new QHBoxLayout;
  const QString count = runs->size() == 1 ? tr("A run was interrupted. Its last minute:")
                                          : tr("%1 runs were interrupted. Their last minutes:").arg(runs->size());
  head->addWidget(look::label(count, 13, QFont::DemiBold, m_content), 1);
  auto* seen = new QPushButton(tr("Seen"), m_content);
  seen->setObjectName(QStringLiteral("interrupted-seen"));
  seen->setProperty("role", "quiet");
  seen->setToolTip(tr("Puts this away; the runs stay in the book with their outcome"));
  connect(seen, &QPushButton::clicked, this, &QWidget::hide);
  head->addWidget(seen);
  column->addLayout(head);
  for (size_t i = 0; i < std::min(kMostRuns, runs->size()); ++i) column->addWidget(buildRun((*runs)[i]));
  if (runs->size() > kMostRuns)
    column->addWidget(
        look::softLabel(tr("%1 more stand in the plan with their outcome.").arg(runs->size() - kMostRuns), m_content));
  column->addWidget(look::rule(m_content));
  m_column->addWidget(m_content);
  QWidget::show();
}

}  // namespace ash

#include "moc_interrupted_panel.cpp"
