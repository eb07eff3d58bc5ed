// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/bench_rows.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "model/number_text.h"
#include "model/role.h"
#include "readings/meaning/words.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kLowC = 20, kHighC = 110;
constexpr int kRowHigh = 28, kHeadHigh = 28, kGroupGap = 10;
constexpr int kGroupWide = 98, kBoxWide = 24, kAgeWide = 66, kNowWide = 72, kStripWide = 158, kSeenWide = 108;
constexpr int kLeftPercent = 60;  // of what is beside the groups

int splitAt(int width) { return px(kGroupWide) + (width - px(kGroupWide)) * kLeftPercent / 100; }

// Below its group's head a reading need not say the head's word again: "Processor package power" -> "Package power".
QString wordsBelowHead(const Reading& reading) {
  QString words = readingWords(reading);
  const QString head = text(heatPlaceWords(heatPlaceOf(reading))) + QLatin1Char(' ');
  if (!words.startsWith(head, Qt::CaseInsensitive)) return words;
  words.remove(0, head.size());
  if (words.startsWith(QLatin1Char('('))) words.remove(0, 1).remove(QLatin1Char(')'));
  words[0] = words[0].toUpper();
  return words;
}

std::optional<double> limitOf(const Reading& reading, std::initializer_list<const char*> names) {
  for (const char* name : names) {
    if (const auto found = reading.limits.find(name); found != reading.limits.end()) return found->second;
  }
  return std::nullopt;
}

double leftK(const ReadingNow& now) {
  const auto limit = limitOf(now.reading, {"throttle", "passive", "hot", "max", "critical"});
  return limit && std::isfinite(now.value) ? *limit - now.value : INFINITY;
}

bool isHot(const ReadingNow& now) { return leftK(now) < 1.5; }

}  // namespace

BenchRows::BenchRows(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("bench-rows"));
  setAccessibleName(tr("Readings along the way of the heat"));
  setFocusPolicy(Qt::StrongFocus);
}

void BenchRows::show(const std::shared_ptr<const MachineSnapshot>& readings) {
  m_readings = readings;
  arrange();
}

void BenchRows::setFilter(RowFilter filter) {
  m_filter = filter;
  arrange();
}

void BenchRows::setSearch(const QString& words) {
  m_search = words.trimmed();
  arrange();
}

bool BenchRows::isShown(const ReadingNow& now) const {
  const Reading& r = now.reading;
  if (!m_search.isEmpty()) {
    const QString all =
        readingWords(r) + QLatin1Char(' ') + text(r.device + " " + r.name + " " + r.role.text() + " " + r.driver);
    return all.contains(m_search, Qt::CaseInsensitive);
  }
  if (m_filter == RowFilter::All) return true;
  if (now.isHidden) return false;
  if (r.role.isOfSpectrum()) return false;
  if (m_filter == RowFilter::Moving) return std::isfinite(now.low) && now.high > now.low;
  // A core or CPU more or less is no news where their mean and hottest are told.
  const bool isOneOfMany = r.role.part() == Part::Core;
  return !isOneOfMany && (!r.role.empty() || r.quantity == Quantity::Temperature);
}

// Along the way of the heat; within a part the fewest kelvin left first, other units in the order they were found.
void BenchRows::arrange() {
  m_rows.clear();
  m_groups.clear();
  int y = px(kHeadHigh);
  const int split = splitAt(width());
  for (int place = 0; m_readings && place <= static_cast<int>(HeatPlace::Other); ++place) {
    std::vector<const ReadingNow*> hot, other;
    for (const ReadingNow& now : m_readings->readings) {
      if (static_cast<int>(heatPlaceOf(now.reading)) != place || !isShown(now)) continue;
      (now.reading.quantity == Quantity::Temperature ? hot : other).push_back(&now);
    }
    if (hot.empty() && other.empty()) continue;
    std::stable_sort(hot.begin(), hot.end(),
                     [](const ReadingNow* a, const ReadingNow* b) { return leftK(*a) < leftK(*b); });
    const int top = y;
    for (size_t i = 0; i < std::max(hot.size(), other.size()); ++i, y += px(kRowHigh)) {
      if (i < hot.size())
        m_rows.push_back({hot[i], true, QRect(px(kGroupWide), y, split - px(kGroupWide), px(kRowHigh))});
      if (i < other.size()) m_rows.push_back({other[i], false, QRect(split, y, width() - split, px(kRowHigh))});
    }
    m_groups.push_back({text(heatPlaceWords(static_cast<HeatPlace>(place))), QRect(0, top, width(), y - top)});
    y += px(kGroupGap);
  }
  m_height = y;
  setMinimumHeight(m_height);
  const ReadingNow* now = selected();
  setAccessibleDescription(now == nullptr ? QString()
                                          : readingWords(now->reading) + QLatin1Char(' ') + readingValue(*now));
  updateGeometry();
  update();
}

QSize BenchRows::sizeHint() const { return {px(820), std::max(px(120), m_height)}; }

void BenchRows::resizeEvent(QResizeEvent*) { arrange(); }

const ReadingNow* BenchRows::selected() const {
  if (!m_readings) return nullptr;
  for (const ReadingNow& now : m_readings->readings) {
    if (text(now.reading.id) == m_selected) return &now;
  }
  return nullptr;
}

QRect BenchRows::rowOf(const QString& id) const {
  for (const Row& row : m_rows) {
    if (text(row.now->reading.id) == id) return row.place;
  }
  return {};
}

void BenchRows::select(const QString& id) {
  if (m_selected == id) return;
  m_selected = id;
  arrange();
  if (const QRect row = rowOf(id); !row.isEmpty()) emit rowWanted(row);
  emit selectionChanged();
}

const BenchRows::Row* BenchRows::rowAt(const QPoint& point) const {
  for (const Row& row : m_rows) {
    if (row.place.contains(point)) return &row;
  }
  return nullptr;
}

QRect BenchRows::boxOf(const Row& row) const {
  const int side = px(14);
  return {row.place.left() + px(8), row.place.center().y() - side / 2, side, side};
}

void BenchRows::mousePressEvent(QMouseEvent* event) {
  const Row* row = rowAt(event->pos());
  if (row == nullptr) return;
  const QString id = text(row->now->reading.id);
  const bool isOnBox = boxOf(*row).adjusted(-px(4), -px(4), px(4), px(4)).contains(event->pos());
  select(id);
  if (isOnBox) emit logToggled(id);
}

void BenchRows::moveSelection(int step) {
  if (m_rows.empty()) return;
  // Down a column first: rows of one side follow each other.
  std::vector<const Row*> order;
  for (const Row& row : m_rows) order.push_back(&row);
  std::stable_sort(order.begin(), order.end(),
                   [](const Row* a, const Row* b) { return a->isTemperature > b->isTemperature; });
  const auto at = std::find_if(order.begin(), order.end(),
                               [this](const Row* row) { return text(row->now->reading.id) == m_selected; });
  const auto count = static_cast<long>(order.size());
  const long now = at == order.end() ? (step > 0 ? -1 : count) : at - order.begin();
  select(text(order[static_cast<size_t>(std::clamp<long>(now + step, 0, count - 1))]->now->reading.id));
}

void BenchRows::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Down:
      return moveSelection(1);
    case Qt::Key_Up:
      return moveSelection(-1);
    case Qt::Key_PageDown:
      return moveSelection(10);
    case Qt::Key_PageUp:
      return moveSelection(-10);
    case Qt::Key_Space:
      if (!m_selected.isEmpty()) emit logToggled(m_selected);
      return;
    default:
      QWidget::keyPressEvent(event);
  }
}

bool BenchRows::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  const Row* row = rowAt(help->pos());
  if (row == nullptr) {
    QToolTip::hideText();
    return true;
  }
  const Reading& r = row->now->reading;
  QStringList lines = {text(meaningWords(r)), tr("%1, its own label: %2").arg(text(r.device), text(r.name)),
                       text(r.path)};
  if (!r.role.empty()) lines << tr("kept as %1").arg(text(r.role.text()));
  if (!row->now->fault.empty()) lines << text(row->now->fault);
  for (const auto& [name, value] : r.limits) {
    const auto origin = r.origins.find(name);
    lines << tr("%1: %2%3")
                 .arg(text(name), text(withUnit(value, usualDigits(r.unit), r.unit)),
                      origin == r.origins.end() ? QString() : tr(", from %1").arg(text(origin->second)));
  }
  lines.removeAll(QString());
  QToolTip::showText(help->globalPos(), lines.join(QLatin1Char('\n')), this, row->place);
  return true;
}

bool BenchRows::isTwice(const QString& words, const Row& of) const {
  int count = 0;
  for (const Row& row : m_rows) {
    const bool isBeside = heatPlaceOf(row.now->reading) == heatPlaceOf(of.now->reading);
    count += isBeside && wordsBelowHead(row.now->reading) == words ? 1 : 0;
  }
  return count > 1;
}

double BenchRows::stripX(const Row& row, double celsius) const {
  const double right = row.place.right() - px(kNowWide) - px(kAgeWide), left = right - px(kStripWide);
  return left + (std::clamp(celsius, kLowC, kHighC) - kLowC) / (kHighC - kLowC) * (right - left);
}

void BenchRows::paintStrip(QPainter& painter, const Row& row) const {
  const auto& t = theme();
  const ReadingNow& now = *row.now;
  const double middle = row.place.center().y();
  const double left = stripX(row, kLowC), right = stripX(row, kHighC);
  painter.fillRect(QRectF(left, middle - px(4), right - left, px(8)), t.shade2);
  if (std::isfinite(now.low))
    painter.fillRect(
        QRectF(stripX(row, now.low), middle - px(4), stripX(row, now.high) - stripX(row, now.low) + 1, px(8)),
        t.strongLine);
  if (const auto limit = limitOf(now.reading, {"throttle", "passive", "hot", "max"}))
    painter.fillRect(QRectF(stripX(row, *limit) - 1, middle - px(8), 2, px(16)), isHot(now) ? t.ember : t.softInk);
  // Where the default stop rule ends a load.
  const auto stop =
      now.reading.role.isLoadedTemperature() ? limitOf(now.reading, {"emergency", "critical"}) : std::nullopt;
  if (stop) {
    const double x = stripX(row, *stop), y = middle - px(11);
    painter.setPen(QPen(t.softInk, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolygon(QPolygonF({{x - px(4), y}, {x + px(4), y}, {x, y + px(6)}}));
  }
  if (std::isfinite(now.value))
    painter.fillRect(QRectF(stripX(row, now.value) - 1.5, middle - px(7), 3, px(14)), isHot(now) ? t.ember : t.ink);
}

void BenchRows::paintRow(QPainter& painter, const Row& row) const {
  const auto& t = theme();
  const ReadingNow& now = *row.now;
  const bool isSelected = text(now.reading.id) == m_selected;
  if (isSelected) painter.fillRect(row.place, t.selected);
  if (isSelected) painter.fillRect(QRect(row.place.left(), row.place.top(), px(3), row.place.height()), t.ink);
  const QRect box = boxOf(row);
  painter.setPen(now.isHidden ? t.strongLine : t.ink);
  painter.setBrush(now.isHidden ? QBrush(Qt::NoBrush) : QBrush(t.ink));
  painter.drawRoundedRect(box, px(2), px(2));
  if (!now.isHidden) {
    painter.setPen(QPen(t.onInk(), px(2)));
    const QRectF tick(box);
    painter.drawPolyline(
        QPolygonF({QPointF(tick.left() + px(3), tick.center().y()), QPointF(tick.left() + px(6), tick.bottom() - px(4)),
                   QPointF(tick.right() - px(3), tick.top() + px(4))}));
  }
  const int textLeft = row.place.left() + px(kBoxWide) + px(6);
  const int numbers = row.isTemperature ? px(kStripWide + kNowWide + kAgeWide + 12) : px(kSeenWide + kNowWide);
  const QRect name(textLeft, row.place.top(), row.place.right() - numbers - textLeft, row.place.height());
  painter.setFont(look::font(12));
  painter.setPen(now.isHidden ? t.softInk : t.ink);
  const QString words = wordsBelowHead(now.reading);
  const QFontMetrics metrics = painter.fontMetrics();
  painter.drawText(name, Qt::AlignLeft | Qt::AlignVCenter, metrics.elidedText(words, Qt::ElideRight, name.width()));
  // The device as a tag where the words are an own label or stand there twice; its own label on the selected row only.
  const bool needsDevice = words == text(now.reading.name) || isTwice(words, row);
  const QString tag = isSelected ? text(now.reading.name) : needsDevice ? text(now.reading.device) : QString();
  const int left = metrics.horizontalAdvance(words) + px(8);
  painter.setPen(t.softInk);
  if (name.width() - left > px(24) && tag != words)
    painter.drawText(name.adjusted(left, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     metrics.elidedText(tag, Qt::ElideRight, name.width() - left));
  const QRect value(row.place.right() - (row.isTemperature ? px(kNowWide + kAgeWide) : px(kNowWide)), row.place.top(),
                    px(kNowWide) - px(4), row.place.height());
  if (row.isTemperature) {
    paintStrip(painter, row);
    painter.setPen(t.softInk);
    painter.drawText(
        QRect(row.place.right() - px(kAgeWide), row.place.top(), px(kAgeWide) - px(10), row.place.height()),
        Qt::AlignRight | Qt::AlignVCenter, ageText(now));
  } else {
    painter.setPen(t.softInk);
    const QString age = ageText(now);
    painter.drawText(QRect(value.left() - px(kSeenWide), row.place.top(), px(kSeenWide) - px(6), row.place.height()),
                     Qt::AlignRight | Qt::AlignVCenter,
                     metrics.elidedText(age.isEmpty() ? seenText(now) : age, Qt::ElideLeft, px(kSeenWide) - px(6)));
  }
  painter.setFont(look::font(12, QFont::DemiBold));
  painter.setPen(isHot(now) && row.isTemperature ? t.ember : t.ink);
  painter.drawText(value, Qt::AlignRight | Qt::AlignVCenter, now.isHidden ? QStringLiteral("–") : readingValue(now));
}

void BenchRows::paintEmpty(QPainter& painter) const {
  painter.setFont(look::font(13));
  painter.setPen(theme().softInk);
  const QString words =
      !m_readings           ? tr("Looking at the machine …")
      : !m_search.isEmpty() ? tr("No reading has “%1” in its words, label or device.").arg(m_search)
      : m_readings->readings.empty()
          ? tr("Nothing can be read here; below is why. Runs go on without, and what you read yourself can be "
               "typed: room 22.4, surface hinge 47.5.")
          : tr("Nothing of that kind here; “all” shows the rest.");
  painter.drawText(rect().adjusted(px(16), px(40), -px(16), 0), Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, words);
}

void BenchRows::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  if (m_rows.empty()) return paintEmpty(painter);
  painter.setFont(look::font(12, QFont::DemiBold));
  painter.setPen(t.ink);
  const int split = splitAt(width());
  const Row left{nullptr, true, QRect(px(kGroupWide), 0, split - px(kGroupWide), px(kHeadHigh))};
  painter.drawText(left.place.adjusted(px(kBoxWide) + px(6), 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                   tr("Temperature"));
  painter.drawText(QRect(split + px(kBoxWide) + px(6), 0, px(200), px(kHeadHigh)), Qt::AlignLeft | Qt::AlignVCenter,
                   tr("Everything else"));
  painter.setFont(look::font(12));
  painter.setPen(t.softInk);
  for (const double tick : {20.0, 40.0, 60.0, 80.0, 100.0})
    painter.drawText(QRectF(stripX(left, tick) - px(30), 0, px(60), px(kHeadHigh)), Qt::AlignCenter,
                     tick == 100 ? text(withUnit(tick, 0, "°C")) : text(numberText(tick, 0)));
  painter.drawText(QRect(split - px(kNowWide + kAgeWide), 0, px(kNowWide) - px(4), px(kHeadHigh)),
                   Qt::AlignRight | Qt::AlignVCenter, tr("now"));
  painter.drawText(QRect(width() - px(kNowWide), 0, px(kNowWide) - px(5), px(kHeadHigh)),
                   Qt::AlignRight | Qt::AlignVCenter, tr("now"));
  painter.drawText(QRect(width() - px(kNowWide + kSeenWide), 0, px(kSeenWide) - px(6), px(kHeadHigh)),
                   Qt::AlignRight | Qt::AlignVCenter, tr("seen"));
  for (const Group& group : m_groups) {
    painter.setPen(t.strongLine);
    painter.drawLine(group.place.left(), group.place.top(), group.place.right(), group.place.top());
    painter.setPen(t.ink);
    painter.setFont(look::font(12, QFont::DemiBold));
    painter.drawText(QRect(0, group.place.top(), px(kGroupWide) - px(6), px(kRowHigh)),
                     Qt::AlignLeft | Qt::AlignVCenter, group.words);
  }
  for (const Row& row : m_rows) paintRow(painter, row);
  painter.setPen(t.line);
  painter.drawLine(split, px(kHeadHigh), split, m_height - px(kGroupGap));
}

}  // namespace ash

#include "moc_bench_rows.cpp"
