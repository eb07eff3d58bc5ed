// SPDX-License-Identifier: GPL-3.0-or-later
// The table of Standings: a figure a row, a setup a column and what it differs by beside it.
#include <QHeaderView>
#include <QScrollBar>
#include <QTableWidget>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <map>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/standings/standings_station.h"
#include "app/study/study_desk.h"
#include "model/number_text.h"
#include "report/answer/answer.h"
#include "report/answer/row_figure.h"
#include "report/answer/stated.h"

namespace ash {
using look::px;
using look::text;
using look::theme;

namespace {

QTableWidgetItem* softItem(const QString& words, const QString& tip) {
  auto* item = new QTableWidgetItem(words);
  item->setForeground(theme().softInk);
  QFont font = look::font(12);
  font.setItalic(true);
  item->setFont(font);
  item->setToolTip(tip);
  item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
  return item;
}

}  // namespace

// One row for all that one person said of a figure; marked as what it is, for nobody has measured it here.
void StandingsStation::addStated(const Figure& figure,
                                 const std::vector<std::pair<const ComparisonRow*, bool>>& columns) {
  std::map<std::string, int> rows;
  for (const StatedOutcome& outcome : outcomesOf(*m_report, *load())) {
    const StatedFigure& one = *outcome.stated;
    if (!(Figure(one.figure) == figure)) continue;
    const std::string by = statedBy(one);
    if (!rows.contains(by)) {
      const int row = m_table->rowCount();
      m_table->insertRow(row);
      rows[by] = row;
      auto* first = softItem(QStringLiteral("    ") + text(by), tr("%1: not measured here").arg(text(by)));
      first->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
      m_table->setItem(row, 0, first);
    }
    for (size_t c = 0; c < columns.size(); ++c) {
      const auto& [setup, isDifference] = columns[c];
      if (setup->setup != one.setup) continue;
      const QString tip = text(statedText(one)) + QStringLiteral(": ") + text(outcomeWords(outcome)) +
                          QStringLiteral("; ") + text(statedHistory(one, m_report->summaries));
      QString range = text(statedRange(one));
      if (!one.isDifference) range.replace(QStringLiteral(" to "), QStringLiteral("–"));  // a narrow column
      for (const QString& written : {text(shownUnit(figure)), QStringLiteral("K")})
        range.replace(QStringLiteral("\u202F") + written, QString());
      const QString words = isDifference == one.isDifference ? range
                            : isDifference                   ? text(outcomeWords(outcome))
                                                             : QString();
      if (!words.isEmpty()) m_table->setItem(rows[by], static_cast<int>(c) + 1, softItem(words, tip));
    }
  }
}

// What a better figure costs: money over the reference's for each kelvin and each decibel.
void StandingsStation::addPricesPer(const std::vector<std::pair<const ComparisonRow*, bool>>& columns) {
  const Figure lead = leadingMetric(*m_report, load()->comparison);
  const QString currency = text(currencyOf(m_report->study));
  for (const auto& [figure, what] :
       {std::pair{lead, tr("Price of a kelvin")}, std::pair{Figure(FigureId::Noise), tr("Price of a decibel")}}) {
    if (figure == lead && !lead.isTemperature()) continue;
    std::vector<std::pair<int, Estimate>> prices;
    for (size_t c = 0; c < columns.size(); ++c) {
      const auto price = columns[c].second ? pricePerUnit(*columns[c].first, figure) : std::nullopt;
      if (price) prices.emplace_back(static_cast<int>(c) + 1, *price);
    }
    if (prices.empty()) continue;
    const int row = m_table->rowCount();
    m_table->insertRow(row);
    auto* first = new QTableWidgetItem(currency.isEmpty() ? what : what + QStringLiteral(", ") + currency);
    const QString better = text(lowerFirst(figure.title()));
    first->setToolTip(
        tr("%1: what the setup costs more than the reference, over what it is better by in %2; where that is shown.")
            .arg(what, better));
    first->setData(
        kOwnWords,
        tr("What the setup costs more than the reference, over what it is better by in %1. It is told where the "
           "setup is dearer, and shown to be better.\n\nThe bounds, in the tip of each cell, come from the 95 % "
           "interval of that difference: **p = (P − P_ref) ÷ |Δ|**. A price is taken as exact.")
            .arg(better));
    m_table->setItem(row, 0, first);
    for (const auto& [column, price] : prices) {
      auto* item = new QTableWidgetItem(text(numberText(price.value, 2)));
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      item->setToolTip(tr("%1 to %2").arg(text(numberText(price.low, 2)), text(numberText(price.high, 2))));
      m_table->setItem(row, column, item);
    }
  }
}

void StandingsStation::fillTable() {
  m_table->clear();
  m_table->setRowCount(0);
  m_table->setColumnCount(0);
  if (load() == nullptr) return;
  const Comparison& comparison = load()->comparison;
  const ComparisonRow* reference = referenceRow(comparison);
  QStringList heads = {tr("Figure")};
  std::vector<std::pair<const ComparisonRow*, bool>> columns;  // second: the difference
  for (const ComparisonRow& row : comparison.rows) {
    heads << text(row.setup);
    columns.emplace_back(&row, false);
    if (&row == reference) continue;
    heads << tr("against %1").arg(text(reference->setup));
    columns.emplace_back(&row, true);
  }
  const int own = static_cast<int>(heads.size());
  for (const EarlierRow& earlier : load()->earlier) {
    heads << text(earlier.what.setup) << tr("against %1").arg(text(reference->setup));
    columns.emplace_back(&earlier.row, false);
    columns.emplace_back(&earlier.row, true);
  }
  m_table->setColumnCount(static_cast<int>(heads.size()));
  m_table->setHorizontalHeaderLabels(heads);
  const auto addRow = [&] {
    m_table->insertRow(m_table->rowCount());
    return m_table->rowCount() - 1;
  };
  for (const MetricGroup& group : metricGroups(comparison)) {
    const int head = addRow();
    auto* title = new QTableWidgetItem(text(group.title));
    title->setForeground(theme().softInk);
    title->setFlags(Qt::ItemIsEnabled);
    m_table->setItem(head, 0, title);
    m_table->setSpan(head, 0, 1, static_cast<int>(heads.size()));
    for (const Figure& name : group.metrics) {
      const int row = addRow();
      const QString unit = text(shownUnit(name));
      auto* first =
          new QTableWidgetItem(text(name.title()) + (unit.isEmpty() ? QString() : QStringLiteral(", ") + unit));
      first->setToolTip(first->text() + QStringLiteral(": ") + text(name.kind().definition));
      first->setData(Qt::UserRole, text(name.code()));
      if (name == chosenFigure()) first->setFont(look::font(12, QFont::Bold));
      m_table->setItem(row, 0, first);
      for (size_t c = 0; c < columns.size(); ++c) {
        const auto& [setup, isDifference] = columns[c];
        const auto figure = setup->metrics.find(name);
        const bool isThere = figure != setup->metrics.end();
        QString words = isDifference ? text(differenceText(*setup, name)) : text(valueText(*setup, name));
        // The unit stands once, in the first column.
        for (const QString& written : {unit, QStringLiteral("K")})
          words.replace(QStringLiteral("\u202F") + written, QString());
        auto* item = new QTableWidgetItem(words);
        item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        if (isThere && isDifference) {
          const Verdict verdict = figure->second.verdict;
          const bool isJudged = verdict == Verdict::Better || verdict == Verdict::Worse;
          if (isShown(verdict))
            item->setFont(look::font(12, QFont::DemiBold));
          else
            item->setForeground(theme().softInk);
          if (isJudged) item->setText(words + QStringLiteral(", ") + text(wordsOf(verdict)));
          item->setToolTip(figure->second.reason.empty() ? text(wordsOf(verdict)) : text(figure->second.reason));
        } else if (isThere) {
          item->setToolTip(text(marginText(*setup, name)));
        }
        m_table->setItem(row, static_cast<int>(c) + 1, item);
      }
      addStated(name, columns);
    }
  }
  addPricesPer(columns);
  m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  for (size_t c = 0; c < columns.size(); ++c) {
    const int column = static_cast<int>(c) + 1;
    m_table->horizontalHeaderItem(column)->setToolTip(heads[column]);
    if (column >= own) m_table->horizontalHeaderItem(column)->setToolTip(text(columns[c].first->setup));
    if (!columns[c].second)
      m_table->horizontalHeaderItem(column)->setText(look::inTwoLines(heads[column], look::font(12), px(58)));
    if (columns[c].second) continue;
    m_table->horizontalHeader()->setSectionResizeMode(column, QHeaderView::Fixed);
    m_table->setColumnWidth(column, px(63));
  }
  // Beside, not among them: in the softer ink.
  for (int column = own; column < m_table->columnCount(); ++column)
    m_table->horizontalHeaderItem(column)->setForeground(theme().softInk);
  fitNames();
  fitNamesSoon();
  look::alignHeads(m_table);
}

// Names take the room that the figures leave; what is longer goes into a second line of its row.
void StandingsStation::fitNames() {
  int figures = 0, names = px(150);
  for (int column = 1; column < m_table->columnCount(); ++column) figures += m_table->columnWidth(column);
  const QFontMetrics metrics(look::font(12, QFont::Bold));
  const auto widthOf = [&](int row) {
    const QTableWidgetItem* item = m_table->item(row, 0);
    const bool isName = item != nullptr && m_table->columnSpan(row, 0) == 1;
    return isName ? metrics.horizontalAdvance(item->text()) + px(14) : 0;
  };
  for (int row = 0; row < m_table->rowCount(); ++row) names = std::max(names, widthOf(row));
  // The bar comes with the rows, after this.
  const bool hasBar = m_table->verticalHeader()->length() > m_table->viewport()->height();
  const int bar = hasBar ? m_table->verticalScrollBar()->sizeHint().width() : 0;
  const int room = m_table->width() - 2 * m_table->frameWidth() - bar - figures;
  const int width = std::clamp(room, px(150), names);
  m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Interactive);
  m_table->setColumnWidth(0, width);
  const int oneLine = m_table->verticalHeader()->defaultSectionSize();
  for (int row = 0; row < m_table->rowCount(); ++row)
    m_table->setRowHeight(row, widthOf(row) > width ? oneLine + metrics.lineSpacing() : oneLine);
}

// Once the table has the width that the layout gives it.
void StandingsStation::fitNamesSoon() {
  QTimer::singleShot(0, this, [this] {
    if (m_table->columnCount() > 0) fitNames();
  });
}

}  // namespace ash
