// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/start/start_page.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QVBoxLayout>
#include <cmath>

#include "app/look/budget_column.h"
#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash {
using look::px;
using look::theme;
namespace {

/// The budget column with its parts named.
class ColumnLesson : public QWidget {
 public:
  explicit ColumnLesson(QWidget* parent) : QWidget(parent) {
    setFixedHeight(px(210));
    setAccessibleName(
        tr("The budget column: foot is the room, fill what the load has used, dashes where it will settle, dot the "
           "highest seen, the line on top the limit"));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto& t = theme();
    const double foot = px(195), pxPerK = px(23) / 10.0, x = px(44);
    look::ColumnSpec column;
    column.usedK = 58;
    column.limitK = 73;
    column.highestK = 66;
    column.forecastK = 62;
    column.forecastLowK = 61;
    column.forecastHighK = 63;
    column.fill = t.series(2);
    look::paintBudgetColumn(painter, column, x, foot, px(36), pxPerK, t);
    const std::tuple<double, QString, QString> lines[] = {
        {73, tr("limit"), tr("here the processor slows itself down, 95 °C")},
        {66, tr("dot"), tr("highest seen")},
        {60, tr("dashes"), tr("where it will settle, and how sure that is")},
        {36, tr("fill"), tr("what the load has used: kelvin over the room")},
        {0, tr("foot"), tr("the room, so that two days can be compared")}};
    for (const auto& [kelvin, name, words] : lines) {
      const double y = foot - kelvin * pxPerK + (kelvin == 60 ? px(5) : kelvin == 73 ? -px(3) : 0);
      painter.setPen(t.softInk);
      painter.drawLine(QPointF(x + px(58), y), QPointF(x + px(96), y));
      painter.setPen(t.ink);
      painter.setFont(look::font(12, QFont::DemiBold));
      painter.drawText(QPointF(x + px(104), y + px(4)), name);
      const double left = x + px(112) + painter.fontMetrics().horizontalAdvance(name);
      painter.setFont(look::font(12));
      painter.drawText(QPointF(left, y + px(4)), words);
    }
    painter.setFont(look::font(12));
    painter.setPen(t.softInk);
    for (const int tick : {0, 20, 40, 60})
      painter.drawText(QRectF(0, foot - tick * pxPerK - px(9), px(30), px(18)), Qt::AlignRight | Qt::AlignVCenter,
                       QString::number(tick));
    painter.drawText(QRectF(0, px(8), px(30), px(18)), Qt::AlignRight | Qt::AlignVCenter, QStringLiteral("K"));
  }
};

/// A clock that is held, then slowed, with the area that was lost.
class SlowedLesson : public QWidget {
 public:
  explicit SlowedLesson(QWidget* parent) : QWidget(parent) {
    setFixedHeight(px(96));
    setAccessibleName(tr("The filled area between the clock it should hold and the one it did hold is lost work"));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const auto& t = theme();
    const QRectF frame(px(36), 2, width() - px(190), px(84));
    painter.fillRect(frame, t.panel);
    painter.setPen(t.line);
    painter.drawRect(frame);
    const double held = frame.top() + px(18);
    QPolygonF clock, lost;
    for (double x = 0; x <= 1.0001; x += 0.01) {
      const double ripple = 3 * std::sin(37 * x) + 2 * std::sin(91 * x);
      const double y = x < 0.42 ? held + ripple / 2 : held + px(26) + 8 * std::sin(19 * x) + ripple;
      clock << QPointF(frame.left() + x * frame.width(), y);
      if (x >= 0.42) lost << clock.back();
    }
    lost << QPointF(frame.right(), held) << QPointF(frame.left() + 0.42 * frame.width(), held);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.ember);
    painter.drawPolygon(lost);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(t.series(0), 1.5));
    painter.drawPolyline(clock);
    painter.setPen(QPen(t.ink, 1));
    painter.drawLine(QPointF(frame.left(), held), QPointF(frame.right(), held));
    painter.setFont(look::font(12));
    painter.drawText(QPointF(frame.right() + px(8), held + px(4)), tr("clock it should hold"));
    painter.drawText(QPointF(frame.right() + px(8), held + px(32)), tr("clock it did hold"));
    painter.drawText(QPointF(frame.left() + px(8), frame.bottom() - px(8)), tr("filled area: work lost"));
    painter.setPen(t.softInk);
    painter.drawText(QRectF(0, frame.top(), px(30), px(18)), Qt::AlignRight, QStringLiteral("GHz"));
  }
};

}  // namespace

StartPage::StartPage(QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("start-page"));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  for (QWidget* side : {buildLeft(), buildRight()}) {
    auto* scroll = new QScrollArea(this);
    scroll->setAccessibleName(tr("What a study can tell"));
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(side);
    scroll->setFocusPolicy(Qt::NoFocus);
    row->addWidget(scroll, row->count() == 0 ? 6 : 5);
  }
  const auto add = [this](const QKeySequence& keys, void (StartPage::*signal)()) {
    connect(new QShortcut(keys, this), &QShortcut::activated, this, signal);
  };
  add(QKeySequence(Qt::CTRL | Qt::Key_D), &StartPage::demoWanted);
  add(QKeySequence(Qt::CTRL | Qt::Key_L), &StartPage::logWanted);
}

QPushButton* StartPage::addWay(QVBoxLayout* column, const QString& title, const QString& words, const QString& small,
                               const QString& button, const QString& keys, bool isFirst) {
  auto* box = new QWidget(this);
  box->setObjectName(QStringLiteral("way"));
  box->setAttribute(Qt::WA_StyledBackground);
  box->setStyleSheet(
      QStringLiteral("#way { background: %1; border: 1px solid %2; %3 border-radius: 3px; }")
          .arg(theme().panel.name(), isFirst ? theme().ink.name() : theme().line.name(),
               isFirst ? QStringLiteral("border-left: 3px solid %1;").arg(theme().ink.name()) : QString()));
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(px(18), px(12), px(16), px(12));
  row->setSpacing(px(16));
  auto* texts = new QVBoxLayout;
  texts->setSpacing(px(3));
  texts->addWidget(look::label(title, 15, QFont::DemiBold, box));
  QLabel* what = look::label(words, 12, QFont::Normal, box);
  what->setWordWrap(true);
  QLabel* soft = look::softLabel(small, box);
  soft->setWordWrap(true);
  texts->addWidget(what);
  texts->addWidget(soft);
  row->addLayout(texts, 1);
  auto* press = new QPushButton(keys.isEmpty() ? button : button + QStringLiteral("    ") + keys, box);
  press->setAccessibleName(button);
  press->setFixedSize(px(186), px(38));
  if (isFirst) press->setProperty("role", "main");
  row->addWidget(press);
  column->addWidget(box);
  return press;
}

QWidget* StartPage::buildLeft() {
  auto* left = look::withGround(new QWidget(this), theme().ground);
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(px(48), px(28), px(40), px(12));
  column->setSpacing(px(9));
  column->addWidget(
      look::label(tr("Put it under load, log it, change one thing, compare."), 20, QFont::DemiBold, left));
  column->addWidget(look::softLabel(
      tr("Nothing is written down yet. Three ways in; none of them starts a load by itself."), left, 13));
  column->addSpacing(px(6));
  m_demo = addWay(column, tr("Open the demo book"),
                  tr("A quiet studio PC and its finished studies: among their runs one that went down, one void, one "
                     "that did not settle."),
                  tr("Everything can be tried; it is a book of its own, so nothing is lost."), tr("Open the demo"),
                  QStringLiteral("Ctrl+D"), true);
  m_demo->setObjectName(QStringLiteral("open-demo"));
  connect(m_demo, &QPushButton::clicked, this, &StartPage::demoWanted);
  QPushButton* fresh =
      addWay(column, tr("New book for this bench"),
             tr("One file that holds questions, setups, runs and readings. It asks for a place and a question, the "
                "rest can wait."),
             tr("Needs: one load and one temperature."), tr("New book …"), QStringLiteral("Ctrl+N"), false);
  fresh->setObjectName(QStringLiteral("new-book"));
  connect(fresh, &QPushButton::clicked, this, &StartPage::newBookWanted);
  QPushButton* log =
      addWay(column, tr("Just log this machine"),
             tr("No plan, no load: lanes and columns of all that moves, and notes, for up to twelve hours."),
             tr("It is kept in a book of its own, where new books are put (Ctrl+,)."), tr("Log now"),
             QStringLiteral("Ctrl+L"), false);
  log->setObjectName(QStringLiteral("log-now"));
  connect(log, &QPushButton::clicked, this, &StartPage::logWanted);
  m_problem = look::label({}, 13, QFont::DemiBold, left);
  m_problem->setObjectName(QStringLiteral("start-page-problem"));
  m_problem->setWordWrap(true);
  column->addWidget(m_problem);
  auto* head = new QHBoxLayout;
  m_foundHead = look::label(tr("Found on this machine"), 13, QFont::DemiBold, left);
  head->addWidget(m_foundHead);
  head->addStretch(1);
  head->addWidget(look::softLabel(tr("all of it: Readings, Ctrl+6"), left));
  column->addLayout(head);
  column->addWidget(look::rule(left));
  m_found = look::label(tr("Looking …"), 12, QFont::Normal, left);
  m_found->setTextFormat(Qt::RichText);
  column->addWidget(m_found);
  column->addWidget(look::rule(left));
  QLabel* rules = look::label(tr("<b>Stop rules are armed from the first second</b>, from the devices' own limits. "
                                 "Ctrl+. stops any load, everywhere."),
                              12, QFont::Normal, left);
  rules->setTextFormat(Qt::RichText);
  rules->setWordWrap(true);
  column->addWidget(rules);
  column->addStretch(1);
  auto* foot = new QHBoxLayout;
  auto* open = new QPushButton(tr("Open a book …    Ctrl+O"), left);
  open->setObjectName(QStringLiteral("open-book"));
  connect(open, &QPushButton::clicked, this, &StartPage::openWanted);
  m_last = new QPushButton(left);
  m_last->setObjectName(QStringLiteral("last-book"));
  m_last->hide();
  connect(m_last, &QPushButton::clicked, this, &StartPage::lastBookWanted);
  auto* takeIn = new QPushButton(tr("Take a log in …    Ctrl+I"), left);
  takeIn->setObjectName(QStringLiteral("take-log"));
  takeIn->setToolTip(tr("A log of another program becomes a run. Dropping it on the window does the same."));
  connect(takeIn, &QPushButton::clicked, this, &StartPage::takeInWanted);
  foot->addWidget(open);
  foot->addWidget(takeIn);
  foot->addWidget(m_last);
  QLabel* stays = look::softLabel(tr("Files stay on this machine. Nothing is sent anywhere."), left);
  stays->setWordWrap(true);
  foot->addWidget(stays, 1);
  column->addLayout(foot);
  return left;
}

QWidget* StartPage::buildRight() {
  auto* right = look::withGround(new QWidget(this), theme().panel);
  auto* column = new QVBoxLayout(right);
  column->setContentsMargins(px(32), px(36), px(32), px(20));
  column->setSpacing(px(10));
  column->addWidget(look::softLabel(tr("How to read it: the budget column"), right, 13));
  column->addWidget(new ColumnLesson(right));
  column->addWidget(look::softLabel(tr("Slowed: how much, and why"), right, 13));
  column->addWidget(new SlowedLesson(right));
  column->addWidget(look::softLabel(tr("The order of the work"), right, 13));
  column->addWidget(look::rule(right));
  const std::pair<QString, QString> steps[] = {
      {tr("Plan"), tr("A question, what stays equal, setups and loads, what to run next.")},
      {tr("Watch"), tr("One run, live: until settled, then the figures, notes with one line.")},
      {tr("Traces"), tr("The curves over each other, the figures of a window.")},
      {tr("Standings"), tr("What is best, by how much, and whether it was a fair field.")},
      {tr("Write-up"), tr("The page, with the caveats that belong to it.")}};
  for (const auto& [name, words] : steps) {
    auto* row = new QHBoxLayout;
    QLabel* label = look::label(name, 12, QFont::DemiBold, right);
    label->setFixedWidth(px(84));
    row->addWidget(label);
    row->addWidget(look::label(words, 12, QFont::Normal, right), 1);
    column->addLayout(row);
  }
  column->addWidget(look::rule(right));
  QLabel* ember = look::label(tr("<b style='color:%1'>Ember</b> is kept for three things: <b>at a limit</b> (frame), "
                                 "<b>tripped</b> (filled), and <b>Stop</b>.")
                                  .arg(theme().ember.name()),
                              12, QFont::Normal, right);
  ember->setTextFormat(Qt::RichText);
  ember->setWordWrap(true);
  column->addWidget(ember);
  column->addStretch(1);
  column->addWidget(
      look::softLabel(tr("Ctrl+1 to 5: the trail. Ctrl+6: readings. Ctrl+K finds anything. / writes a note."), right));
  return right;
}

void StartPage::setFound(const std::vector<FoundGroup>& groups, int readings) {
  QString rows;
  for (const FoundGroup& group : groups) {
    rows += QStringLiteral(
                "<tr><td width=18>%1</td><td width=130><b>%2</b></td><td width=300>%3</td><td align=right>%4</td></tr>")
                .arg(group.isThere ? QStringLiteral("✓") : QStringLiteral("<b>!</b>"), group.name.toHtmlEscaped(),
                     group.what.toHtmlEscaped(), group.limit.toHtmlEscaped());
  }
  m_foundHead->setText(tr("Found on this machine: %1 readings").arg(readings));
  m_found->setText(QStringLiteral("<table cellpadding=2>%1</table>").arg(rows));
}

void StartPage::setProblem(const QString& sentence) { m_problem->setText(sentence); }

void StartPage::setDemoProgress(int done, int all) {
  const bool isDone = all > 0 && done >= all;
  m_demo->setEnabled(isDone);
  m_demo->setText(isDone    ? tr("Open the demo    Ctrl+D")
                  : all > 0 ? tr("Recording %1 of %2 …").arg(done).arg(all)
                            : tr("Recording …"));
}

void StartPage::setLastBook(const QString& path) {
  m_last->setVisible(!path.isEmpty() && QFileInfo::exists(path));
  m_last->setText(tr("Open %1 again").arg(QFileInfo(path).completeBaseName()));
  m_last->setToolTip(path);
}

}  // namespace ash

#include "moc_start_page.cpp"
