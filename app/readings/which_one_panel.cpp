// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/readings/which_one_panel.h"

#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/readings/bench_rows.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
namespace {

constexpr double kRestS = 6, kWarmS = 8, kCoolS = 14;
constexpr int kShown = 6, kCandidateHigh = 52, kPlotWide = 96;
constexpr double kTooHotK = 2;  // below a limit: the warming is ended

}  // namespace

MovedList::MovedList(QWidget* parent) : QWidget(parent) { setAccessibleName(tr("What moved")); }

void MovedList::show(std::shared_ptr<const WarmTrial> trial, std::vector<Movement> movements, size_t asked) {
  m_trial = std::move(trial);
  m_asked = asked;
  m_movements.clear();
  // Temperatures only; the one in question always, whatever it did.
  for (const Movement& movement : movements) {
    if (m_trial->readings[movement.reading].quantity != Quantity::Temperature) continue;
    const bool isAsked = movement.reading == asked;
    if (isAsked || static_cast<int>(m_movements.size()) < kShown - 1) m_movements.push_back(movement);
  }
  QStringList words;
  for (const Movement& movement : m_movements)
    words << readingWords(m_trial->readings[movement.reading]) + QLatin1Char(' ') +
                 text(withUnit(movement.rise, 1, "K"));
  setAccessibleDescription(words.join(QStringLiteral(", ")));
  updateGeometry();
  setMinimumHeight(sizeHint().height());
  update();
}

QSize MovedList::sizeHint() const { return {px(300), px(kCandidateHigh) * static_cast<int>(m_movements.size())}; }

void MovedList::paintCourse(QPainter& painter, const QRectF& plot, const Movement& movement) const {
  const auto& t = theme();
  const auto& values = m_trial->values[movement.reading];
  double low = INFINITY, high = -INFINITY;
  for (const double value : values) {
    if (!std::isfinite(value)) continue;
    low = std::min(low, value);
    high = std::max(high, value);
  }
  if (!(high >= low)) return;
  const double span = std::max(high - low, 2.0), middle = (high + low) / 2;
  const double first = m_trial->timeS.front(), last = std::max(m_trial->timeS.back(), first + 1);
  const auto x = [&](double s) { return plot.left() + (s - first) / (last - first) * plot.width(); };
  const auto y = [&](double v) { return plot.center().y() - (v - middle) / span * (plot.height() - px(8)); };
  painter.fillRect(
      QRectF(x(m_trial->warmStartS), plot.top(), x(m_trial->warmEndS) - x(m_trial->warmStartS), plot.height()),
      t.shade2);
  painter.setPen(QPen(t.line));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(plot);
  QPainterPath course;
  bool isOpen = false;
  for (size_t i = 0; i < values.size(); ++i) {
    if (!std::isfinite(values[i])) continue;
    const QPointF point(x(m_trial->timeS[i]), y(values[i]));
    isOpen ? course.lineTo(point) : course.moveTo(point);
    isOpen = true;
  }
  painter.setPen(QPen(t.ink, movement.reading == m_asked ? px(2) : 1));
  painter.drawPath(course);
}

void MovedList::paintEvent(QPaintEvent*) {
  if (!m_trial) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  int top = 0;
  for (const Movement& movement : m_movements) {
    const bool isAsked = movement.reading == m_asked;
    const QRect row(0, top, width(), px(kCandidateHigh));
    const int names = row.width() - px(kPlotWide + 92);
    painter.setPen(t.ink);
    painter.setFont(look::font(12, isAsked ? QFont::DemiBold : QFont::Normal));
    const Reading& reading = m_trial->readings[movement.reading];
    painter.drawText(QRect(0, top, names, px(26)), Qt::AlignLeft | Qt::AlignBottom,
                     painter.fontMetrics().elidedText(readingWords(reading), Qt::ElideRight, names));
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    painter.drawText(QRect(0, top + px(26), names, px(20)), Qt::AlignLeft | Qt::AlignTop,
                     painter.fontMetrics().elidedText(text(reading.name), Qt::ElideRight, names));
    paintCourse(painter, QRectF(names + px(6), top + px(4), px(kPlotWide), px(kCandidateHigh - 8)), movement);
    painter.setPen(t.ink);
    painter.setFont(look::font(12, QFont::DemiBold));
    const QString rise = QLatin1String(movement.rise >= 0 ? "+" : "") + text(withUnit(movement.rise, 1, "K"));
    painter.drawText(QRect(row.right() - px(82), top, px(80), px(26)), Qt::AlignRight | Qt::AlignBottom, rise);
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    painter.drawText(QRect(row.right() - px(82), top + px(26), px(80), px(20)), Qt::AlignRight | Qt::AlignTop,
                     movement.times < kMovedTimes
                         ? tr("within noise")
                         : tr("%1 × noise").arg(std::lround(std::min(movement.times, 9999.0))));
    painter.setPen(t.line);
    painter.drawLine(0, row.bottom(), row.right(), row.bottom());
    top += px(kCandidateHigh);
  }
}

WhichOnePanel::WhichOnePanel(QString program, QWidget* parent) : QWidget(parent), m_program(std::move(program)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(6));
  column->addWidget(look::rule(this));
  column->addWidget(look::label(tr("Which one is this?"), 14, QFont::DemiBold, this));
  m_state = look::softLabel({}, this);
  m_state->setWordWrap(true);
  column->addWidget(m_state);
  m_warm = new QPushButton(tr("Warm the processor for 8 s"), this);
  m_warm->setObjectName(QStringLiteral("warm"));
  m_warm->setToolTip(
      tr("Reads for 6 s at rest, loads all cores for 8 s, and reads for 14 s more. It stops when a limit comes near."));
  column->addWidget(m_warm, 0, Qt::AlignLeft);
  m_words = look::label({}, 14, QFont::DemiBold, this);
  m_words->setObjectName(QStringLiteral("most-likely"));
  m_words->setWordWrap(true);
  column->addWidget(m_words);
  m_reason = look::label({}, 12, QFont::Normal, this);
  m_reason->setWordWrap(true);
  column->addWidget(m_reason);
  m_movedHead = look::label(tr("What moved"), 12, QFont::DemiBold, this);
  column->addWidget(m_movedHead);
  m_moved = new MovedList(this);
  column->addWidget(m_moved);
  m_movedHead->hide();
  m_words->hide();
  m_reason->hide();
  connect(m_warm, &QPushButton::clicked, this, &WhichOnePanel::begin);
  connect(&m_load, &QProcess::errorOccurred, this, [this](QProcess::ProcessError error) {
    if (error == QProcess::FailedToStart)
      end(tr("Cannot start %1, which does the warming; install the program again.").arg(m_program));
  });
  refreshButton();
}

WhichOnePanel::~WhichOnePanel() { stopWarming(); }

void WhichOnePanel::select(const ReadingNow* now) {
  const std::string id = now == nullptr || now->isHidden ? std::string() : now->reading.id;
  if (m_step == Step::Idle) m_asked = id;
  refreshButton();
}

void WhichOnePanel::setRunGoesOn(bool goesOn) {
  m_runGoesOn = goesOn;
  if (goesOn && m_step != Step::Idle) end(tr("A run has begun; nothing is warmed beside it."));
  refreshButton();
}

void WhichOnePanel::refreshButton() {
  const bool canWarm = m_step == Step::Idle && !m_asked.empty() && !m_runGoesOn;
  // Left to itself the focus would go on to the trail.
  if (!canWarm && m_warm->hasFocus()) focusPreviousChild();
  m_warm->setEnabled(canWarm);
  if (m_step != Step::Idle) return;
  if (m_runGoesOn)
    m_state->setText(tr("A run is going on; nothing is warmed beside it."));
  else if (m_asked.empty())
    m_state->setText(
        tr("Choose a reading first. One device is then warmed for some seconds, and what moves with it is told."));
  else if (!m_trial)
    m_state->setText(tr("One device is warmed for some seconds, and what moves with it is told."));
}

void WhichOnePanel::begin() {
  m_trial = std::make_shared<WarmTrial>();
  m_trial->warmStartS = m_trial->warmEndS = INFINITY;
  m_step = Step::Resting;
  m_stepS = 0;
  m_words->hide();
  m_reason->hide();
  refreshButton();
}

void WhichOnePanel::startWarming(double nowS) {
  m_step = Step::Warming;
  m_stepS = nowS;
  m_trial->warmStartS = nowS;
  m_load.start(m_program, {QStringLiteral("load"), QStringLiteral("vector"), QStringLiteral("--seconds"),
                           QString::number(kWarmS)});
}

void WhichOnePanel::stopWarming() {
  if (m_load.state() == QProcess::NotRunning) return;
  m_load.terminate();
  if (!m_load.waitForFinished(500)) m_load.kill();
}

void WhichOnePanel::addValues(const MachineSnapshot& readings) {
  m_trial->timeS.push_back(readings.timeS);
  for (const ReadingNow& now : readings.readings) {
    if (now.isHidden || now.reading.quantity != Quantity::Temperature) continue;
    size_t row = 0;
    while (row < m_trial->readings.size() && m_trial->readings[row].id != now.reading.id) ++row;
    if (row == m_trial->readings.size()) {
      m_trial->readings.push_back(now.reading);
      m_trial->values.emplace_back(m_trial->timeS.size() - 1, kMissing);
    }
    // Between two looks at a slow device there is nothing new.
    m_trial->values[row].resize(m_trial->timeS.size() - 1, kMissing);
    m_trial->values[row].push_back(now.ageS < 1 ? now.value : kMissing);
  }
  for (auto& values : m_trial->values) values.resize(m_trial->timeS.size(), kMissing);
}

bool WhichOnePanel::isTooHot(const MachineSnapshot& readings) const {
  return std::any_of(readings.readings.begin(), readings.readings.end(), [](const ReadingNow& now) {
    const auto limit = now.reading.limits.find("throttle");
    return now.reading.role.isLoadedTemperature() && limit != now.reading.limits.end() &&
           now.value > limit->second - kTooHotK;
  });
}

void WhichOnePanel::take(const MachineSnapshot& readings) {
  if (m_step == Step::Idle) return;
  if (m_stepS == 0) m_stepS = readings.timeS;
  addValues(readings);
  const double passedS = readings.timeS - m_stepS;
  const auto left = [&](double allS) { return QString::number(std::max(0L, std::lround(allS - passedS))); };
  switch (m_step) {
    case Step::Resting:
      m_state->setText(tr("At rest, %1 s left …").arg(left(kRestS)));
      if (passedS >= kRestS) startWarming(readings.timeS);
      return;
    case Step::Warming:
      m_state->setText(tr("Warming the processor, %1 s left …").arg(left(kWarmS)));
      if (passedS < kWarmS && !isTooHot(readings)) return;
      stopWarming();
      m_trial->warmEndS = readings.timeS;
      m_step = Step::Cooling;
      m_stepS = readings.timeS;
      return;
    case Step::Cooling:
      m_state->setText(tr("Cooling, %1 s left …").arg(left(kCoolS)));
      if (passedS >= kCoolS) finish();
      return;
    case Step::Idle:
      return;
  }
}

size_t WhichOnePanel::hottestOfProcessor() const {
  for (size_t i = 0; i < m_trial->readings.size(); ++i) {
    if (m_trial->readings[i].role == roles::kCpuTemp) return i;
  }
  // No processor temperature is known: what moved most was the one that was warmed.
  const auto moved = whatMoved(*m_trial);
  return moved.empty() ? m_trial->readings.size() : moved.front().reading;
}

void WhichOnePanel::end(const QString& sentence) {
  stopWarming();
  m_step = Step::Idle;
  m_state->setText(sentence);
  refreshButton();
}

void WhichOnePanel::finish() {
  size_t asked = 0;
  while (asked < m_trial->readings.size() && m_trial->readings[asked].id != m_asked) ++asked;
  const size_t warmed = hottestOfProcessor();
  if (asked == m_trial->readings.size() || warmed == m_trial->readings.size())
    return end(tr("The reading gave no temperature in that time; only temperatures can be told by warming."));
  const LikelyMeaning likely =
      asked == warmed ? LikelyMeaning{"The processor itself", "It is the reading that the warming is told by.", ""}
                      : whatItIs(*m_trial, asked, warmed);
  m_words->setText(tr("Most likely: %1").arg(text(likely.words)));
  m_reason->setText(text(likely.reason));
  m_words->show();
  m_reason->show();
  m_movedHead->show();
  m_moved->show(m_trial, whatMoved(*m_trial), asked);
  end(tr("Warmed for %1 s (shaded); each against its own noise.")
          .arg(std::lround(m_trial->warmEndS - m_trial->warmStartS)));
  emit roleSuggested(text(likely.role.text()));
}

}  // namespace ash

#include "moc_which_one_panel.cpp"
