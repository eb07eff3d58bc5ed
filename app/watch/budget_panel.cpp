// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/watch/budget_panel.h"
#include "app/look/words.h"

#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/look/budget_column.h"
#include "app/look/theme.h"
#include "app/watch/budget_spec.h"
#include "app/watch/live_model.h"
#include "app/watch/watch_words.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/stop_rule.h"
#include "model/unit.h"

namespace ash {
using look::px;
using look::text;
using look::theme;
BudgetColumns::BudgetColumns(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  setMinimumHeight(px(300));
  setAccessibleName(tr("Heat budget of the devices"));
  setToolTip(tr(
      "Foot: the room. Line on top: where the device slows itself down. Fill: what the load has used, in K over room. "
      "Dot: highest seen. Dotted tick: where it will settle, with its interval."));
}

QSize BudgetColumns::sizeHint() const { return {px(256), px(360)}; }

double BudgetColumns::scaleTopK() const {
  double top = 60;
  for (const std::string& column : m_model.budgetColumns()) {
    const look::ColumnSpec spec = budgetSpec(m_model, column);
    top = std::max({top, spec.limitK.value_or(0), spec.usedK});
  }
  return top;
}

void BudgetColumns::paintScale(QPainter& painter, double footY, double pxPerK) const {
  const auto& t = theme();
  painter.setFont(look::font(12));
  const double step = scaleTopK() > 120 ? 40 : 20;
  for (double kelvin = 0; kelvin <= scaleTopK() + 1; kelvin += step) {
    const double y = footY - kelvin * pxPerK;
    painter.setPen(t.plotGrid);
    painter.drawLine(QPointF(px(26), y), QPointF(width(), y));
    painter.setPen(t.softInk);
    painter.drawText(QRectF(0, y - px(9), px(20), px(18)), Qt::AlignRight | Qt::AlignVCenter, QString::number(kelvin));
  }
}

void BudgetColumns::paintDevice(QPainter& painter, const std::string& column, double x, double footY,
                                double pxPerK) const {
  const auto& t = theme();
  const look::ColumnSpec spec = budgetSpec(m_model, column);
  painter.setFont(look::font(13));
  look::paintBudgetColumn(painter, spec, x, footY, px(28), pxPerK, t);
  const double centre = x + px(14);
  const auto line = [&](double y, const QString& words, const QFont& font, const QColor& colour) {
    painter.setFont(font);
    painter.setPen(colour);
    painter.drawText(QRectF(centre - px(32), y, px(64), px(18)), Qt::AlignCenter, words);
  };
  const auto limit = m_model.limit(column, "throttle");
  if (limit) line(footY - *spec.limitK * pxPerK - px(20), text(withUnit(*limit, 0, "°C")), look::font(12), t.softInk);
  const bool isWatched = column == m_model.info().watched;
  const double now = m_model.latest(column);
  const bool isHot = spec.state == look::ColumnState::AtLimit || spec.state == look::ColumnState::OverLimit ||
                     spec.state == look::ColumnState::Tripped;
  double y = footY + px(6);
  line(y, text(Role(column).shortName()), look::font(13, isWatched ? QFont::Bold : QFont::Normal), t.ink);
  line(y += px(19), std::isfinite(now) ? text(withUnit(now - budgetFootC(m_model), 1, "K")) : QStringLiteral("–"),
       look::font(15, QFont::DemiBold), isHot ? t.ember : t.ink);
  line(y += px(19), text(withUnit(now, 1, "°C")), look::font(12), t.softInk);
  QString left = tr("no limit known");
  if (limit && std::isfinite(now)) left = isHot ? tr("at limit") : tr("%1 left").arg(text(numberText(*limit - now, 1)));
  line(y + px(17), limit ? left : tr("no limit"), look::font(12, isHot ? QFont::DemiBold : QFont::Normal),
       isHot ? t.ember : t.ink);
}

void BudgetColumns::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  if (!m_model.hasRun()) return;
  const auto columns = m_model.budgetColumns();
  if (columns.empty()) {
    painter.setFont(look::font(13));
    painter.setPen(theme().softInk);
    painter.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                     tr("No temperature is read here, so there is no heat budget to show."));
    return;
  }
  const double footY = height() - px(84);
  const double pxPerK = (footY - px(30)) / scaleTopK();
  paintScale(painter, footY, pxPerK);
  double x = px(38);
  for (const std::string& column : columns) {
    paintDevice(painter, column, x, footY, pxPerK);
    x += px(58);
  }
}

BudgetPanel::BudgetPanel(const LiveModel& model, QWidget* parent) : QWidget(parent), m_model(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(px(16), px(12), px(16), px(8));
  column->setSpacing(px(6));
  m_head = new QLabel(this);
  m_head->setTextFormat(Qt::PlainText);
  m_head->setFont(look::font(13, QFont::DemiBold));
  column->addWidget(m_head);
  m_columns = new BudgetColumns(model, this);
  column->addWidget(m_columns, 1);
  const auto addLabel = [&](const char* name) {
    auto* rule = new QFrame(this);
    rule->setFixedHeight(1);
    rule->setStyleSheet(QStringLiteral("background: %1;").arg(theme().line.name()));
    column->addWidget(rule);
    auto* label = new QLabel(this);
    label->setObjectName(QLatin1String(name));
    label->setFont(look::font(12));
    label->setWordWrap(true);
    label->setTextFormat(Qt::RichText);
    column->addWidget(label);
    return label;
  };
  m_slowed = addLabel("slowed");
  m_fans = addLabel("fans");
  m_room = addLabel("room");
  m_rules = addLabel("rules");
  m_slowed->setToolTip(
      tr("Slowed: the clock was at least 3 % below what it held before at the same load, because of a limit."));
  connect(&model, &LiveModel::changed, this, &BudgetPanel::refresh);
  refresh();  // a run may be there already
}

QString BudgetPanel::fansText() const {
  QString rows;
  for (const auto& [name, reading] : m_model.info().readings) {
    if (reading.quantity != Quantity::FanSpeed || m_model.series(name).empty()) continue;
    const double duty = m_model.latest(name + ".duty");
    rows += QStringLiteral("<tr><td>%1</td><td align=right width=70>%2</td><td align=right width=90>%3</td></tr>")
                .arg(text(Role(name).shortName()).toHtmlEscaped(),
                     std::isfinite(duty) ? text(withUnit(duty, 0, "%")) : QString(),
                     text(withUnit(m_model.latest(name), 0, "RPM")));
  }
  if (rows.isEmpty()) return tr("No fan is read here.");
  return QStringLiteral("<b>%1</b><table cellspacing=2>%2</table>").arg(tr("Fans"), rows);
}

QString BudgetPanel::roomText() const {
  const Series& room = m_model.series(roles::kRoom);
  if (room.empty() && std::isfinite(m_model.roomC()))
    return tr("Room <b>%1</b> &nbsp;typed").arg(text(withUnit(m_model.roomC(), 1, "°C")));
  if (room.empty()) return tr("The room is not read; columns stand on 20 °C. Type it: room 22.4");
  return tr("Room <b>%1</b> &nbsp;%2 in this run")
      .arg(text(withUnit(room.v.back(), 1, "°C")),
           text(signedText(room.v.back() - room.v.front(), 1)) + QStringLiteral("\u202FK"));
}

namespace {

constexpr size_t kShownRules = 2;

QString allRules(const LiveState& state) {
  QStringList rules;
  for (const LiveRule& rule : state.rules) rules << text(rule.text);
  return rules.join(QLatin1Char('\n'));
}

struct RuleWords {
  QString rule, distance;
};

RuleWords wordsOf(const LiveRule& rule) {
  const auto known = parseStopRule(rule.text);
  if (known && known->kind == StopRule::Kind::Disk)
    return {QObject::tr("Drive of the book %1").arg(text(bytesWords(rule.threshold))), text(bytesWords(rule.distance))};
  const Role role(rule.role);
  const std::string unit = role.isKnown() ? std::string(unitOf(role.quantity())) : std::string("%");
  return {
      text(role.empty() ? "Throttled" : role.shortName()) + QLatin1Char(' ') + text(withUnit(rule.threshold, 0, unit)),
      text(withUnit(rule.distance, 1, differenceUnit(unit)))};
}

}  // namespace

QString BudgetPanel::rulesText() const {
  const auto& state = m_model.state();
  if (!state || state->rules.empty()) return m_model.isGoingOn() ? tr("No stop rule is armed.") : QString();
  int tripped = 0;
  for (const LiveRule& rule : state->rules) tripped += rule.hasTripped;
  if (tripped > 0) {
    return QStringLiteral("<span style='color:%1'><b>%2</b></span>")
        .arg(theme().ember.name(), tr("%1 of %2 stop rules tripped").arg(tripped).arg(state->rules.size()));
  }
  QString words = state->rules.size() == 1 ? tr("<b>1 stop rule</b> armed")
                                           : tr("<b>%1 stop rules</b> armed").arg(state->rules.size());
  // The nearest ones, each with how far it is away.
  std::vector<const LiveRule*> nearestFirst;
  for (const LiveRule& rule : state->rules) {
    if (std::isfinite(rule.distance)) nearestFirst.push_back(&rule);
  }
  std::stable_sort(nearestFirst.begin(), nearestFirst.end(),
                   [](const LiveRule* a, const LiveRule* b) { return a->distance < b->distance; });
  QString rows;
  for (size_t i = 0; i < std::min(kShownRules, nearestFirst.size()); ++i) {
    const LiveRule& rule = *nearestFirst[i];
    const RuleWords row = wordsOf(rule);
    rows += QStringLiteral("<tr><td>%1</td><td align=right width=120>%2</td></tr>")
                .arg(row.rule.toHtmlEscaped(), tr("%1 away").arg(row.distance));
  }
  m_rules->setToolTip(allRules(*state));
  return words + (rows.isEmpty() ? QString() : QStringLiteral("<table cellspacing=1>%1</table>").arg(rows));
}

void BudgetPanel::refresh() {
  if (!m_model.hasRun()) return;
  const bool hasRoom = std::isfinite(m_model.roomC());
  m_head->setText(tr("Heat budget") + QStringLiteral(" · ") + (hasRoom ? tr("K over room") : tr("K over 20 °C")));
  m_slowed->setText(QStringLiteral("<b>%1</b>").arg(slowedWords(m_model).toHtmlEscaped()));
  m_fans->setText(fansText());
  m_room->setText(roomText());
  m_rules->setText(rulesText());
  m_columns->update();
}

}  // namespace ash

#include "moc_budget_panel.cpp"
