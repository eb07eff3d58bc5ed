// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/track.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/theme.h"
#include "app/watch/live_model.h"
#include "app/watch/watch_words.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::theme;

TrackView::TrackView(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  setAccessibleName(tr("Phases of the run"));
}

QSize TrackView::sizeHint() const { return {px(184), px(336)}; }

namespace {

constexpr size_t kPlainParts = 4;  // all in sight, as a rule
constexpr size_t kMostParts = 7;   // more are too many to look through
constexpr int kLeastPartPx = 52;   // three lines of text

/// How far a phase has come, 0 to 1, and whether it was reached at all.
struct PhasePart {
  double share = 0;
  bool isReached = false;
  bool isCurrent = false;
  bool isSkipped = false;  ///< the run ended before it
  QString line;
};

PhasePart partOf(const LiveModel& model, size_t index) {
  PhasePart part;
  const auto& phases = model.phases();
  const Phase& planned = model.info().procedure.phases[index];
  const bool isOver = !model.isGoingOn();
  part.isReached = index < phases.size();
  part.isSkipped = isOver && !part.isReached;
  if (!part.isReached) return part;
  const PhaseSpan& span = phases[index];
  part.isCurrent = !isOver && index + 1 == phases.size();
  const double elapsed = (part.isCurrent ? model.lastTimeS() : std::min(span.endS, model.lastTimeS())) - span.startS;
  part.share = part.isCurrent ? std::clamp(elapsed / std::max(1.0, reckonedPhaseS(planned)), 0.0, 1.0) : 1.0;
  part.line = QString::fromStdString(clockText(std::max(0.0, elapsed))) +
              (part.isCurrent ? QObject::tr(" so far") : QObject::tr(" done"));
  const size_t all = model.info().procedure.phases.size();
  if (all > kPlainParts) part.line += QObject::tr(", %1 of %2").arg(index + 1).arg(all);
  return part;
}

}  // namespace

void TrackView::paintEvent(QPaintEvent*) {
  if (!m_model.hasRun()) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  const auto& all = m_model.info().procedure.phases;
  if (all.empty()) return;
  const double x = px(8), barWidth = px(16), top = px(6), bottom = height() - px(6);
  // Of many the ones around that which goes on now.
  const auto room = static_cast<size_t>(std::max(1.0, (bottom - top) / px(kLeastPartPx)));
  const size_t shown = std::min({all.size(), room, kMostParts});
  const size_t reached = m_model.phases().empty() ? 0 : m_model.phases().size() - 1;
  const size_t first = std::min(reached > 1 && shown > 2 ? reached - 1 : reached, all.size() - shown);
  const std::vector<Phase> planned(all.begin() + static_cast<std::ptrdiff_t>(first),
                                   all.begin() + static_cast<std::ptrdiff_t>(first + shown));
  // Parts are as high as their longest time, but never too low for their three lines of text.
  std::vector<double> weight;
  double sum = 0;
  for (const Phase& phase : planned) {
    weight.push_back(std::sqrt(reckonedPhaseS(phase) / 60));
    sum += weight.back();
  }
  double y = top;
  for (size_t i = 0; i < planned.size(); ++i) {
    const double h = px(kLeastPartPx) +
                     std::max(0.0, bottom - top - px(kLeastPartPx) * static_cast<double>(shown)) * weight[i] / sum;
    const PhasePart part = partOf(m_model, first + i);
    painter.setPen(QPen(t.strongLine, 1, part.isSkipped ? Qt::DashLine : Qt::SolidLine));
    painter.drawRect(QRectF(x, y, barWidth, h));
    const QColor fill = isUnderLoad(planned[i].kind) ? t.series(m_model.info().setupIndex) : t.strongLine;
    if (part.isReached) painter.fillRect(QRectF(x + 3, y + 1, barWidth - 6, std::max(1.0, (h - 2) * part.share)), fill);
    if (part.isCurrent) {
      const double now = y + 1 + (h - 2) * part.share;
      painter.setPen(QPen(t.ink, 1.5));
      painter.drawLine(QPointF(x - px(6), now), QPointF(x + barWidth + px(6), now));
    }
    const int left = px(40);
    QFont head = look::font(13, part.isCurrent ? QFont::Bold : QFont::DemiBold);
    head.setStrikeOut(part.isSkipped);
    painter.setFont(head);
    painter.setPen(part.isSkipped ? t.softInk : t.ink);
    const int lineHeight = px(16);
    int textY = static_cast<int>(y);
    painter.drawText(QRect(left, textY, width() - left, lineHeight), Qt::AlignVCenter, phaseTitle(planned[i].kind));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    for (const QString& line : {phaseEnding(planned[i]), part.isSkipped ? tr("not reached") : part.line}) {
      textY += lineHeight;
      const QRect place(left, textY, width() - left, lineHeight);
      painter.drawText(place, Qt::AlignVCenter, painter.fontMetrics().elidedText(line, Qt::ElideRight, place.width()));
    }
    y += h;
  }
}

TrackPanel::TrackPanel(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(12), px(16), px(12));
  column->setSpacing(px(6));
  auto* head = new QHBoxLayout;
  m_title = new QLabel(this);
  m_title->setTextFormat(Qt::PlainText);
  m_title->setFont(look::font(13, QFont::DemiBold));
  m_started = new QLabel(this);
  m_started->setTextFormat(Qt::PlainText);
  m_started->setFont(look::font(12));
  m_started->setProperty("soft", true);
  head->addWidget(m_title);
  head->addStretch(1);
  head->addWidget(m_started);
  column->addLayout(head);
  m_track = new TrackView(model, this);
  column->addWidget(m_track, 1);
  m_verdictHead = new QLabel(this);
  m_verdictHead->setTextFormat(Qt::PlainText);
  m_verdictHead->setFont(look::font(12));
  m_verdictHead->setProperty("soft", true);
  m_verdict = new QLabel(this);
  m_verdict->setTextFormat(Qt::PlainText);
  m_verdict->setObjectName(QStringLiteral("settling-verdict"));
  m_verdict->setFont(look::font(20, QFont::Medium));
  m_verdictRest = new QLabel(this);
  m_verdictRest->setTextFormat(Qt::PlainText);
  m_verdictRest->setFont(look::font(12));
  m_verdictRest->setWordWrap(true);
  for (QLabel* label : {m_verdictHead, m_verdict, m_verdictRest}) column->addWidget(label);
  m_endPhase = new QPushButton(tr("End phase now"), this);
  m_endPhase->setObjectName(QStringLiteral("end-phase"));
  connect(m_endPhase, &QPushButton::clicked, this, &TrackPanel::endPhasePressed);
  column->addWidget(m_endPhase);
  connect(&model, &LiveModel::changed, this, &TrackPanel::refresh);
  refresh();  // a run may be there already
}

void TrackPanel::refresh() {
  if (!m_model.hasRun()) return;
  m_title->setText(tr("Run %1").arg(QString::fromStdString(m_model.info().id)));
  m_started->setText(startedWords(m_model.info().started));
  m_started->setToolTip(QString::fromStdString(m_model.info().started));
  const SettlingWords words = settlingWords(m_model);
  m_verdictHead->setText(words.head);
  m_verdict->setText(words.figure);
  m_verdictRest->setText(words.rest);
  m_verdict->setVisible(!words.figure.isEmpty());
  m_endPhase->setVisible(m_model.isGoingOn());
  m_endPhase->setToolTip(endPhaseWords(m_model));
  m_track->update();
}

}  // namespace ash

#include "moc_track.cpp"
