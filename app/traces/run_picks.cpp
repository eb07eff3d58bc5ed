// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/traces/run_picks.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {
constexpr double kNames = 106, kBoxPitch = 25, kSide = 20, kPickHigh = 28;
}

RunPicks::RunPicks(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("run-picks"));
  setAccessibleName(tr("Runs to show"));
}

void RunPicks::show(const std::shared_ptr<const StudyReport>& report, const std::string& load,
                    const std::set<std::string>& picked) {
  m_rows.clear();
  m_picked = picked;
  if (report) {
    for (size_t i = 0; i < report->study.setups.size(); ++i) {
      Row row{report->study.setups[i].name, static_cast<int>(i), {}};
      for (const RunSummary& run : report->summaries) {
        if (run.info.setup == row.setup && run.info.load == load)
          row.boxes.push_back({run.info.id, run.info.repeat, run.info.outcome});
      }
      m_rows.push_back(std::move(row));
    }
    for (const EarlierSetup& earlier : report->earlier) {
      Row row{earlier.label, -1, {}};
      for (const auto& run : earlier.runs) {
        if (run->run.facts.load == load)
          row.boxes.push_back({run->run.name, static_cast<int>(row.boxes.size()) + 1, Outcome::Completed});
      }
      if (!row.boxes.empty()) m_rows.push_back(std::move(row));
    }
  }
  m_mostBoxes = 1;
  m_longestName = 0;
  const QFontMetrics metrics(look::font(13, QFont::DemiBold));
  for (const Row& row : m_rows) {
    m_mostBoxes = std::max(m_mostBoxes, row.boxes.size());
    m_longestName = std::max<double>(m_longestName, metrics.horizontalAdvance(text(row.setup)) + px(30));
  }
  m_row = std::clamp(m_row, 0, std::max(0, static_cast<int>(m_rows.size()) - 1));
  speak();
  updateGeometry();
  update();
}

QSize RunPicks::sizeHint() const {
  return {px(208), px(kPickHigh * std::max<double>(1, static_cast<double>(m_rows.size())) + 4)};
}

// Names take what the boxes leave: whole where there is room.
double RunPicks::namesWidth() const {
  const double room = width() - px(kBoxPitch) * static_cast<double>(m_mostBoxes);
  return std::clamp(m_longestName, px(kNames) * 1.0, std::max<double>(px(kNames), room));
}

QRectF RunPicks::boxRect(size_t row, size_t box) const {
  const double pitch = std::min<double>(
      px(kBoxPitch), (width() - namesWidth()) / std::max<double>(1, static_cast<double>(m_rows[row].boxes.size())));
  const double side = std::min<double>(px(kSide), pitch - 3);
  return {namesWidth() + pitch * static_cast<double>(box), px(kPickHigh) * static_cast<double>(row) + px(4), side,
          side};
}

void RunPicks::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  for (size_t r = 0; r < m_rows.size(); ++r) {
    const Row& row = m_rows[r];
    const double y = px(kPickHigh) * static_cast<double>(r);
    look::paintSetupSign(painter, row.setupIndex, {static_cast<double>(px(7)), y + px(14)}, px(9));
    painter.setFont(look::font(12, QFont::DemiBold));
    painter.setPen(t.ink);
    painter.drawText(
        QRectF(px(20), y, (namesWidth() - px(22)), px(kPickHigh)), Qt::AlignVCenter,
        painter.fontMetrics().elidedText(text(row.setup), Qt::ElideRight, static_cast<int>(namesWidth() - px(24))));
    for (size_t b = 0; b < row.boxes.size(); ++b) {
      const Box& box = row.boxes[b];
      const QRectF rect = boxRect(r, b);
      const bool isShown = m_picked.contains(box.run);
      const QColor colour = t.series(row.setupIndex);
      painter.setPen(QPen(isShown ? colour : t.strongLine, isShown ? 2 : 1));
      painter.setBrush(Qt::NoBrush);
      painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
      const QRectF inner = rect.adjusted(5, 5, -5, -5);
      if (box.outcome == Outcome::Void) {
        painter.drawLine(rect.bottomLeft() + QPointF(4, -4), rect.topRight() + QPointF(-4, 4));
      } else if (box.outcome == Outcome::MachineWentDown || box.outcome == Outcome::RecorderDied) {
        QPolygonF teeth;
        teeth << inner.bottomLeft() << inner.topLeft() << QPointF(inner.left() + inner.width() / 4, inner.center().y())
              << QPointF(inner.center().x(), inner.top())
              << QPointF(inner.right() - inner.width() / 4, inner.center().y()) << inner.topRight()
              << inner.bottomRight();
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawPolygon(teeth);
      } else {
        painter.fillRect(inner, isShown ? colour : t.strongLine);
      }
    }
  }
  if (!hasFocus() || m_rows.empty()) return;
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(t.ink, 1));
  const auto row = static_cast<size_t>(m_row);
  const QRectF mark =
      m_column < 0 || m_rows[row].boxes.empty()
          ? QRectF(0, px(kPickHigh) * m_row + 1, namesWidth() - 4, px(kPickHigh) - 2)
          : boxRect(row, static_cast<size_t>(std::min<int>(m_column, static_cast<int>(m_rows[row].boxes.size()) - 1)))
                .adjusted(-2, -2, 2, 2);
  painter.drawRoundedRect(mark, 4, 4);
}

void RunPicks::press(int row, int column) {
  if (row < 0 || row >= static_cast<int>(m_rows.size())) return;
  const Row& now = m_rows[static_cast<size_t>(row)];
  m_row = row;
  m_column = column;
  if (column >= 0 && column < static_cast<int>(now.boxes.size())) {
    emit toggled(text(now.boxes[static_cast<size_t>(column)].run));
  } else if (column < 0) {
    QStringList runs;
    bool areAllOn = true;
    for (const Box& box : now.boxes) {
      runs << text(box.run);
      areAllOn &= m_picked.contains(box.run);
    }
    emit setupToggled(runs, !areAllOn);
  }
  speak();
  update();
}

void RunPicks::speak() {
  if (m_rows.empty()) return;
  const Row& row = m_rows[static_cast<size_t>(m_row)];
  QString words = text(row.setup);
  if (m_column >= 0 && m_column < static_cast<int>(row.boxes.size())) {
    const Box& box = row.boxes[static_cast<size_t>(m_column)];
    words += tr(", repeat %1, %2, %3")
                 .arg(box.repeat)
                 .arg(text(std::string(outcomeText(box.outcome))),
                      m_picked.contains(box.run) ? tr("shown") : tr("not shown"));
  }
  setAccessibleDescription(words);
}

void RunPicks::mousePressEvent(QMouseEvent* event) {
  const int row = static_cast<int>(event->position().y() / px(kPickHigh));
  if (row < 0 || row >= static_cast<int>(m_rows.size())) return;
  if (event->position().x() < namesWidth()) return press(row, -1);
  for (size_t box = 0; box < m_rows[static_cast<size_t>(row)].boxes.size(); ++box) {
    if (boxRect(static_cast<size_t>(row), box).adjusted(-2, -2, 2, 2).contains(event->position()))
      return press(row, static_cast<int>(box));
  }
}

void RunPicks::keyPressEvent(QKeyEvent* event) {
  if (m_rows.empty()) return QWidget::keyPressEvent(event);
  const int last = static_cast<int>(m_rows[static_cast<size_t>(m_row)].boxes.size()) - 1;
  switch (event->key()) {
    case Qt::Key_Up:
      m_row = std::max(0, m_row - 1);
      break;
    case Qt::Key_Down:
      m_row = std::min(static_cast<int>(m_rows.size()) - 1, m_row + 1);
      break;
    case Qt::Key_Left:
      m_column = std::max(-1, m_column - 1);
      break;
    case Qt::Key_Right:
      m_column = std::min(last, m_column + 1);
      break;
    case Qt::Key_Space:
    case Qt::Key_Return:
      return press(m_row, m_column);
    default:
      return QWidget::keyPressEvent(event);
  }
  speak();
  update();
}

void RunPicks::focusInEvent(QFocusEvent*) { update(); }
void RunPicks::focusOutEvent(QFocusEvent*) { update(); }

bool RunPicks::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  auto* help = static_cast<QHelpEvent*>(event);
  QString words = tr("A click shows or hides a run; on a setup's name all of its runs.");
  for (size_t row = 0; row < m_rows.size(); ++row) {
    for (size_t box = 0; box < m_rows[row].boxes.size(); ++box) {
      if (!boxRect(row, box).contains(help->pos())) continue;
      const Box& run = m_rows[row].boxes[box];
      words = tr("%1, repeat %2 (%3): %4")
                  .arg(text(m_rows[row].setup))
                  .arg(run.repeat)
                  .arg(text(run.run), text(std::string(outcomeText(run.outcome))));
    }
  }
  QToolTip::showText(help->globalPos(), words, this);
  return true;
}

}  // namespace ash

#include "moc_run_picks.cpp"
