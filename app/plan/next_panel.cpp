// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plan/next_panel.h"

#include <QDateTime>
#include <QHBoxLayout>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/study/study_desk.h"
#include "model/text.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
OrderStrip::OrderStrip(const StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  setAccessibleName(tr("Order of the runs"));
  setToolTip(
      tr("All runs in their order: every other round goes through the setups backwards, so that a drift of the "
         "room does not pose as a result."));
}

QSize OrderStrip::sizeHint() const { return {px(424), px(26)}; }

void OrderStrip::paintEvent(QPaintEvent*) {
  const Study* study = m_desk.study();
  if (study == nullptr) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& t = theme();
  const auto toDo = m_desk.runsToDo();
  const double count = std::max<double>(1, static_cast<double>(m_desk.runs().size() + toDo.size()));
  const double pitch = std::min<double>(px(20), (width() - px(4)) / count);
  double x = 1;
  const double side = std::max(4.0, pitch - px(4));
  for (const RunSummary& run : m_desk.runs()) {
    const QRectF box(x, px(4), side, side);
    const QColor colour = t.series(std::max(0, setupIndexIn(*study, run.info.setup)));
    if (countsAsDone(run.info.outcome)) {
      painter.fillRect(box, colour);
    } else {
      painter.setPen(t.softInk);
      painter.drawRect(box);
      painter.drawLine(box.bottomLeft(), box.topRight());
    }
    x += pitch;
  }
  for (size_t i = 0; i < toDo.size(); ++i) {
    painter.setPen(i == 0 ? QPen(t.ink, 2)
                          : QPen(t.series(std::max(0, setupIndexIn(*study, toDo[i].setup))), 1, Qt::DashLine));
    painter.drawRect(QRectF(x, px(4), side, side));
    x += pitch;
  }
}

NextPanel::NextPanel(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {
  look::withGround(this, theme().ground);
  auto* all = new QVBoxLayout(this);
  all->setContentsMargins(px(16), px(10), px(16), px(8));
  all->setSpacing(px(4));
  // Over the whole width: why a start was refused is read to its end.
  m_problem = look::softLabel({}, this);
  m_problem->setProperty("problem", true);
  m_problem->setWordWrap(true);
  m_problem->setTextInteractionFlags(Qt::TextSelectableByMouse);
  m_problem->setObjectName(QStringLiteral("plan-start-problem"));
  m_problem->hide();
  all->addWidget(m_problem);
  auto* row = new QHBoxLayout;
  row->setSpacing(px(16));
  all->addLayout(row, 1);
  row->addWidget(buildHand(), 5);
  auto* middle = new QVBoxLayout;
  m_remarksHead = look::label({}, 13, QFont::DemiBold, this);
  m_remarksHead->setTextFormat(Qt::RichText);
  m_checks = look::label({}, 12, QFont::Normal, this);
  m_checks->setObjectName(QStringLiteral("readiness"));
  m_checks->setTextFormat(Qt::RichText);
  m_checks->setWordWrap(true);
  m_checks->setAlignment(Qt::AlignTop);
  middle->addWidget(m_remarksHead);
  // However many remarks there are, all can be reached.
  auto* scroll = new QScrollArea(this);
  scroll->setObjectName(QStringLiteral("readiness-scroll"));
  scroll->setAccessibleName(tr("What still speaks against the run"));
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setStyleSheet(QStringLiteral("#readiness-scroll, #readiness { background: %1; }").arg(theme().ground.name()));
  m_checks->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
  scroll->setWidget(m_checks);
  middle->addWidget(scroll, 1);
  row->addLayout(middle, 6);
  auto* right = new QVBoxLayout;
  m_waits = look::label({}, 13, QFont::DemiBold, this);
  m_start = new QPushButton(tr("Start"), this);
  m_start->setObjectName(QStringLiteral("plan-start"));
  m_start->setMinimumHeight(px(36));
  m_queue = new QPushButton(tr("Start all that are left"), this);
  m_queue->setObjectName(QStringLiteral("plan-queue"));
  m_queue->setProperty("role", "quiet");
  m_queue->setToolTip(
      tr("A queue: one run after the other until all are done, one is not completed, or something must be "
         "changed by hand. A run whose readings nobody took stays open, and the queue goes on."));
  connect(m_queue, &QPushButton::clicked, this, &NextPanel::queueWanted);
  m_when = look::softLabel({}, this);
  m_when->setTextFormat(Qt::RichText);
  m_when->setWordWrap(true);
  for (QWidget* widget : std::initializer_list<QWidget*>{m_waits, m_start, m_queue, m_when}) right->addWidget(widget);
  right->addStretch(1);
  auto* rightBox = new QWidget(this);
  rightBox->setLayout(right);
  right->setContentsMargins(0, 0, 0, 0);
  rightBox->setFixedWidth(px(232));
  row->addWidget(rightBox);
  connect(m_start, &QPushButton::clicked, this, &NextPanel::startWanted);
  connect(&desk, &StudyDesk::changed, this, &NextPanel::refresh);
  connect(&desk, &StudyDesk::readinessChanged, this, &NextPanel::refreshReadiness);
  // What is decided by the figures is run no more.
  connect(&desk, &StudyDesk::reportChanged, this, [this] {
    if (m_desk.plan().isUntilDecided) refresh();
  });
}

QWidget* NextPanel::buildHand() {
  auto* left = new QWidget(this);
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(px(8));
  auto* head = new QHBoxLayout;
  m_sign = new look::SetupSign(left);
  m_title = look::label({}, 14, QFont::Normal, left);
  m_title->setObjectName(QStringLiteral("next-run"));
  m_title->setTextFormat(Qt::RichText);
  // A load may be a whole line: it takes a second one, never the room of the readiness.
  m_title->setWordWrap(true);
  m_title->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  head->addWidget(m_sign);
  head->addWidget(m_title, 1);
  column->addLayout(head);
  m_hand = new QWidget(left);
  m_hand->setObjectName(QStringLiteral("hand"));
  m_hand->setStyleSheet(QStringLiteral("#hand { background: %1; border: 1px solid %2; border-radius: 3px; }")
                            .arg(theme().panel.name(), theme().ink.name()));
  auto* row = new QHBoxLayout(m_hand);
  row->setContentsMargins(px(12), px(8), px(8), px(8));
  m_change = look::label({}, 12, QFont::Normal, m_hand);
  m_change->setWordWrap(true);
  m_change->setTextFormat(Qt::RichText);
  m_confirm = new QPushButton(tr("It is done"), m_hand);
  m_confirm->setObjectName(QStringLiteral("confirm-change"));
  m_confirm->setProperty("role", "main");
  row->addWidget(m_change, 1);
  row->addWidget(m_confirm);
  column->addWidget(m_hand);
  m_order = new OrderStrip(m_desk, left);
  column->addWidget(m_order);
  column->addStretch(1);
  connect(m_confirm, &QPushButton::clicked, this, [this] {
    if (m_next) m_confirmed = text(m_next->setup);
    refresh();
    m_start->setFocus();
  });
  return left;
}

void NextPanel::choose(const std::optional<PlannedRun>& run) {
  m_chosen = run;
  refresh();
}

void NextPanel::setRunning(bool isRunning) {
  if (m_isRunning == isRunning) return;
  m_isRunning = isRunning;
  refreshStart();
}

void NextPanel::setStarting(bool isStarting) {
  m_isStarting = isStarting;
  refreshStart();
}

void NextPanel::setProblem(const QString& sentence) {
  m_problem->setText(sentence);
  m_problem->setVisible(!sentence.isEmpty());
}

bool NextPanel::isConfirmed() const {
  if (!m_next) return false;
  const int index = setupIndexIn(*m_desk.study(), m_next->setup);
  if (index < 0) return false;
  const Setup* last = m_desk.lastSetup();
  const bool isFitted = last != nullptr && last->name == m_next->setup;
  return isFitted ||
         changesByHand(last, m_desk.study()->setups[static_cast<size_t>(index)], !m_desk.plan().bench.empty())
             .empty() ||
         m_confirmed == text(m_next->setup);
}

void NextPanel::refresh() {
  const Study* study = m_desk.study();
  if (study == nullptr) return;
  const auto toDo = m_desk.runsToDo();
  m_next.reset();
  if (m_chosen && setupIndexIn(*study, m_chosen->setup) >= 0)
    m_next = m_chosen;
  else if (!toDo.empty())
    m_next = toDo.front();
  m_sign->setVisible(m_next.has_value());
  m_hand->setVisible(m_next.has_value());
  m_order->setVisible(!m_desk.runs().empty() || !toDo.empty());
  if (!m_next) {
    m_title->setText(
        study->setups.empty() || study->loads.empty() ? tr("Nothing to run yet: add a setup and a load.")
        : m_desk.savedRuns() > 0
            ? tr("<b>All is decided:</b> %1 of the plan not needed. Standings and Write-up have the answer.")
                  .arg(m_desk.savedRuns() == 1 ? tr("1 run") : tr("%1 runs").arg(m_desk.savedRuns()))
            : tr("<b>All runs are done.</b> Standings and Write-up have the answer."));
  } else {
    const int index = setupIndexIn(*study, m_next->setup);
    m_sign->setSetup(index);
    m_title->setText(tr("Next, run %1 &nbsp;<b>%2</b> · %3 · repeat %4")
                         .arg(m_desk.runs().size() + 1)
                         .arg(text(m_next->setup).toHtmlEscaped(), text(m_next->load).toHtmlEscaped())
                         .arg(m_next->repeat));
    const Setup* last = m_desk.lastSetup();
    const auto changes = changesByHand(last, study->setups[static_cast<size_t>(index)], !m_desk.plan().bench.empty());
    QStringList words;
    for (const std::string& change : changes) words << text(change).toHtmlEscaped();
    if (isConfirmed()) {
      m_change->setText(words.isEmpty() || (last != nullptr && last->name == m_next->setup)
                            ? tr("Nothing to change by hand: %1 is fitted.").arg(text(m_next->setup).toHtmlEscaped())
                            : tr("Done by hand: %1.").arg(words.join(QStringLiteral(", "))));
    } else {
      m_change->setText(
          tr("By hand first: <b>%1</b>.").arg(words.join(QStringLiteral(", "))) +
          (last == nullptr ? QString() : tr("<br>%1 was run last.").arg(text(last->name).toHtmlEscaped())));
    }
    m_confirm->setVisible(!isConfirmed());
  }
  m_order->update();
  refreshReadiness();
}

void NextPanel::refreshReadiness() {
  QString bad, good;
  m_remarks = 0;
  for (const ReadinessCheck& check : m_desk.readiness()) {
    if (check.isGood) {
      good += QStringLiteral("<tr><td>✓&nbsp;</td><td>%1 &nbsp;</td><td><span style='color:%2'>%3</span></td></tr>")
                  .arg(text(check.name).toHtmlEscaped(), theme().softInk.name(), text(check.found).toHtmlEscaped());
      continue;
    }
    ++m_remarks;
    bad += QStringLiteral("<tr><td><b>!</b>&nbsp;</td><td><b>%1</b> %2<br><span style='color:%3'>%4</span></td></tr>")
               .arg(text(check.name).toHtmlEscaped(), text(check.found).toHtmlEscaped(), theme().softInk.name(),
                    text(check.remedy).toHtmlEscaped());
  }
  m_remarksHead->setText(tr("Readiness") + QStringLiteral(" <span style='color:%1; font-weight:400'>%2</span>")
                                               .arg(theme().softInk.name(), m_desk.readiness().empty() ? tr("looking …")
                                                                            : m_remarks == 0 ? tr("all in order")
                                                                            : m_remarks == 1
                                                                                ? tr("1 remark")
                                                                                : tr("%1 remarks").arg(m_remarks)));
  m_checks->setText(
      QStringLiteral("<table><tr><td><table>%1</table></td><td width=16></td><td><table>%2</table></td></tr></table>")
          .arg(bad, good));
  refreshStart();
}

void NextPanel::refreshStart() {
  if (m_desk.study() == nullptr) return;
  const bool canStart = m_next && isConfirmed() && !m_isRunning && !m_isStarting;
  m_start->setEnabled(canStart);
  m_start->setProperty("role", canStart ? "main" : "");
  // The style sheet looks at the property again.
  m_start->style()->unpolish(m_start);
  m_start->style()->polish(m_start);
  QString words = tr("Start");
  if (m_isStarting)
    words = tr("Starting …");
  else if (m_remarks > 0)
    words = m_remarks == 1 ? tr("Start anyway, 1 remark") : tr("Start anyway, %1 remarks").arg(m_remarks);
  m_start->setText(words);
  m_queue->setVisible(m_desk.runsToDo().size() > 1);
  m_queue->setEnabled(canStart && !m_chosen);
  m_start->setToolTip(tr("Starts the run; it goes on when the window is closed (Ctrl+Return)."));
  QString waits = tr("Ready to start");
  if (!m_next)
    waits = tr("Nothing is left to run");
  else if (m_isRunning)
    waits = tr("A run is going on");
  else if (!isConfirmed())
    waits = tr("Waits for the change by hand");
  m_waits->setText(waits);
  const auto toDo = m_desk.runsToDo();
  QString when;
  if (m_next) {
    const double seconds = m_desk.usualRunS() / (m_desk.plan().bench.empty() ? 1 : m_desk.plan().speed);
    when =
        tr("It takes about %1, to %2.")
            .arg(text(roughDurationWords(seconds)),
                 QDateTime::currentDateTime().addSecs(static_cast<qint64>(seconds)).toString(QStringLiteral("HH:mm")));
    if (toDo.size() > 1) {
      const double all = seconds * static_cast<double>(toDo.size());
      when += QStringLiteral("<br>") +
              tr("<b>All %1 left: about %2</b> of running.").arg(toDo.size()).arg(text(roughDurationWords(all)));
    }
    if (!m_desk.plan().bench.empty())
      when += QStringLiteral("<br>") + tr("Simulated, %1 times as fast.").arg(m_desk.plan().speed);
  }
  m_when->setText(when);
}

}  // namespace ash

#include "moc_next_panel.cpp"
