// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/trail.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/budget_column.h"
#include "app/look/theme.h"
#include "model/number_text.h"

namespace ash {
using look::px;
using look::theme;

TrailButton::TrailButton(const QString& name, const QString& shortcut, QWidget* parent)
    : QAbstractButton(parent), m_name(name) {
  setCheckable(true);
  setAutoExclusive(true);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  setText(name);
  setAccessibleName(name);
  setToolTip(QStringLiteral("%1 (%2)").arg(name, shortcut));
  setObjectName(QStringLiteral("station-") + name);
  setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
}

void TrailButton::setStateLine(const QString& line, bool isEmber) {
  m_state = line;
  m_isEmber = isEmber;
  setAccessibleDescription(line);
  update();
}

QSize TrailButton::sizeHint() const { return {px(132), px(56)}; }
QSize TrailButton::minimumSizeHint() const {
  return {QFontMetrics(look::font(13, QFont::Bold)).horizontalAdvance(m_name) + px(18), px(56)};
}

void TrailButton::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  painter.setPen(QPen(t.strongLine, 1.5));
  const double y = height() / 2.0 - px(6);
  painter.drawPolyline(QPolygonF() << QPointF(2, y - 4) << QPointF(6, y) << QPointF(2, y + 4));
  const int left = px(14);
  painter.setFont(look::font(13, isChecked() ? QFont::Bold : QFont::Normal));
  painter.setPen(t.ink);
  painter.drawText(QRect(left, px(12), width() - left, px(20)), Qt::AlignLeft | Qt::AlignVCenter, m_name);
  painter.setFont(look::font(12, m_isEmber ? QFont::DemiBold : QFont::Normal));
  painter.setPen(m_isEmber ? t.ember : t.softInk);
  const QString line = painter.fontMetrics().elidedText(m_state, Qt::ElideRight, width() - left - px(4));
  painter.drawText(QRect(left, px(30), width() - left, px(18)), Qt::AlignLeft | Qt::AlignVCenter, line);
  if (isChecked()) painter.fillRect(QRect(left, height() - 3, width() - left - px(14), 3), t.ink);
  if (hasFocus()) {
    painter.setPen(QPen(t.ink, 1));
    painter.drawRoundedRect(QRectF(px(9), px(6) + 0.5, width() - px(14), height() - px(12)), 4, 4);
  }
}

NearestHeadroom::NearestHeadroom(QWidget* parent) : QWidget(parent) {
  setToolTip(tr("Headroom: throttle limit minus temperature, of the device that has least of it."));
}

QSize NearestHeadroom::sizeHint() const { return {px(150), px(56)}; }

void NearestHeadroom::show(const QString& device, double usedK, std::optional<double> limitK, const QColor& fill) {
  m_device = device;
  m_usedK = usedK;
  m_limitK = limitK;
  m_fill = fill;
  m_isShown = true;
  setAccessibleName(limitK ? tr("Nearest headroom %1 K, %2").arg(*limitK - usedK, 0, 'f', 1).arg(device) : QString());
  update();
}

void NearestHeadroom::clear() {
  m_isShown = false;
  update();
}

void NearestHeadroom::paintEvent(QPaintEvent*) {
  if (!m_isShown || !m_limitK || *m_limitK <= 0) return;
  QPainter painter(this);
  const auto& t = theme();
  look::ColumnSpec column;
  column.usedK = m_usedK;
  column.limitK = m_limitK;
  column.fill = m_fill;
  column.state = look::stateOfHeadroom(m_usedK, m_limitK);
  look::paintBudgetColumn(painter, column, px(6), px(46), px(12), px(34) / *m_limitK, t);
  const bool isHot = column.state != look::ColumnState::Live;
  painter.setFont(look::font(13, QFont::DemiBold));
  painter.setPen(isHot ? t.ember : t.ink);
  const QString figure = QString::fromStdString(withUnit(*m_limitK - m_usedK, 1, "K"));
  painter.drawText(QRect(px(30), px(12), width() - px(30), px(20)), Qt::AlignVCenter,
                   figure + QStringLiteral(" ") + m_device);
  painter.setFont(look::font(12));
  painter.setPen(t.softInk);
  painter.drawText(QRect(px(30), px(30), width() - px(30), px(18)), Qt::AlignVCenter, tr("nearest headroom"));
}

TrailCorner::TrailCorner(const QString& name, const QString& tip, bool isStation, QWidget* parent)
    : QAbstractButton(parent), m_isStation(isStation) {
  setCheckable(isStation);
  setAutoExclusive(isStation);
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  setAccessibleName(name);
  setToolTip(tip);
  setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
}

void TrailCorner::setLines(const QString& first, const QString& second) {
  m_first = first;
  m_second = second;
  setAccessibleDescription(first + QStringLiteral(", ") + second);
  update();
}

QSize TrailCorner::sizeHint() const { return {px(m_isStation ? 104 : 148), px(56)}; }
QSize TrailCorner::minimumSizeHint() const { return {px(28), px(56)}; }

void TrailCorner::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  const auto line = [&](int top, const QString& words, const QFont& font, const QColor& colour) {
    painter.setFont(font);
    painter.setPen(colour);
    painter.drawText(QRect(px(2), top, width() - px(6), px(19)), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(words, Qt::ElideRight, width() - px(6)));
  };
  const QFont lead = look::font(13, isChecked() || !m_isStation ? QFont::DemiBold : QFont::Medium);
  line(px(12), m_first, m_isStation ? lead : look::font(12), m_isStation ? t.ink : t.softInk);
  line(px(30), m_second, m_isStation ? look::font(12) : lead, m_isStation ? t.softInk : t.ink);
  if (isChecked()) painter.fillRect(QRect(0, height() - 3, width() - px(10), 3), t.ink);
  if (!hasFocus()) return;
  painter.setPen(QPen(t.ink, 1));
  painter.drawRoundedRect(QRectF(0.5, px(6) + 0.5, width() - 3, height() - px(12)), 4, 4);
}

Trail::Trail(QWidget* parent) : QWidget(parent) {
  setFixedHeight(px(56));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(px(14), 0, px(16), 0);
  row->setSpacing(0);
  m_machine = new TrailCorner(tr("Readings"), tr("The readings of the bench (Ctrl+6)"), true, this);
  m_machine->setObjectName(QStringLiteral("machine"));
  m_book = new TrailCorner(tr("Book and study"), tr("Another study of the book, or a new one"), false, this);
  m_book->setObjectName(QStringLiteral("book"));
  row->addWidget(m_machine);
  row->addSpacing(px(10));
  row->addWidget(m_book);
  connect(m_machine, &QAbstractButton::clicked, this, [this] { emit stationChosen(5); });
  connect(m_machine, &QAbstractButton::toggled, this, [this](bool isOn) {
    if (isOn && !m_isSetting) emit stationChosen(5);
  });
  connect(m_book, &QAbstractButton::clicked, this, &Trail::bookPressed);
  const QString names[] = {tr("Plan"), tr("Watch"), tr("Traces"), tr("Standings"), tr("Write-up")};
  for (int i = 0; i < 5; ++i) {
    auto* station = new TrailButton(names[i], QStringLiteral("Ctrl+%1").arg(i + 1), this);
    connect(station, &QAbstractButton::clicked, this, [this, i] { emit stationChosen(i); });
    // A screen reader checks it without a click.
    connect(station, &QAbstractButton::toggled, this, [this, i](bool isOn) {
      if (isOn && !m_isSetting) emit stationChosen(i);
    });
    row->addWidget(station);
    m_stations.push_back(station);
  }
  row->addStretch(1);
  m_headroom = new NearestHeadroom(this);
  m_headroom->setFixedSize(m_headroom->sizeHint());
  row->addWidget(m_headroom);
  m_stop = new QPushButton(tr("Stop load     Ctrl+."), this);
  m_stop->setAccessibleName(tr("Stop load"));
  m_stop->setProperty("role", "stop");
  m_stop->setObjectName(QStringLiteral("stop-load"));
  m_stop->setToolTip(tr("Ends the load and the run at once (Ctrl+.)"));
  m_stop->setFixedSize(px(160), px(34));
  connect(m_stop, &QPushButton::clicked, this, &Trail::stopPressed);
  row->addWidget(m_stop);
  m_off = new QLabel(tr("load is off"), this);
  m_off->setAlignment(Qt::AlignCenter);
  m_off->setFixedSize(px(160), px(32));
  m_off->setStyleSheet(QStringLiteral("border: 1px dashed %1; border-radius: 3px; color: %2;")
                           .arg(theme().strongLine.name(), theme().softInk.name()));
  row->addWidget(m_off);
  showLoad(false, false);
}

void Trail::setMachine(const QString& name, const QString& readings) { m_machine->setLines(name, readings); }
void Trail::setBook(const QString& book, const QString& study) { m_book->setLines(book, study); }

void Trail::setStationLine(int station, const QString& line, bool isEmber) {
  m_stations[static_cast<size_t>(station)]->setStateLine(line, isEmber);
}

void Trail::setCurrent(int station) {
  const auto index = static_cast<size_t>(station);
  m_isSetting = true;
  if (index < m_stations.size())
    m_stations[index]->setChecked(true);
  else
    m_machine->setChecked(true);
  m_isSetting = false;
}

void Trail::showLoad(bool isOn, bool wasStopped) {
  m_isOn = isOn;
  m_stop->setVisible(isOn);
  m_off->setVisible(!isOn && wasStopped);
  fit();
}

// In a narrow window the headroom goes first, then the key beside *Stop load*; the button itself never does.
void Trail::fit() {
  const int stations = static_cast<int>(m_stations.size());
  const int full = m_machine->sizeHint().width() + m_book->sizeHint().width() + stations * px(132) + px(40);
  const bool hasRoom = width() >= full + px(160), hasMore = width() >= full + px(160) + m_headroom->sizeHint().width();
  m_headroom->setVisible(m_isOn && hasMore);
  m_stop->setText(hasRoom ? tr("Stop load     Ctrl+.") : tr("Stop load"));
  const int words = QFontMetrics(look::font(13, QFont::Bold)).horizontalAdvance(tr("Stop load"));
  for (QWidget* corner : {static_cast<QWidget*>(m_stop), static_cast<QWidget*>(m_off)})
    corner->setFixedWidth(hasRoom ? px(160) : words + px(30));
}

void Trail::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  fit();
}

void Trail::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.fillRect(rect(), theme().panel);
  painter.setPen(theme().line);
  painter.drawLine(0, height() - 1, width(), height() - 1);
  painter.setPen(theme().strongLine);
  const int between = m_book->x() - px(5);
  painter.drawLine(between, px(12), between, px(44));
}

}  // namespace ash

#include "moc_trail.cpp"
