// SPDX-License-Identifier: GPL-3.0-or-later
// Like for like: the checks, the worst first, and the line of the trail.
#include <QAbstractItemDelegate>
#include <QComboBox>
#include <QTableWidget>
#include <algorithm>

#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/standings/standings_station.h"
#include "app/study/study_desk.h"
#include "report/answer/accepted_check.h"
#include "report/answer/answer.h"
#include "system/clock.h"

namespace ash {
using look::text;
using look::theme;
namespace {
QString severitySign(Severity severity) {
  return severity == Severity::Block  ? QStringLiteral("!!!")
         : severity == Severity::Warn ? QStringLiteral("!!")
                                      : QStringLiteral("!");
}

QString effectOf(const ComparisonCheck& check) {
  if (check.severity == Severity::Block) return QObject::tr("not compared");
  if (check.kind == CheckKind::Outcome || check.kind == CheckKind::Void) return QObject::tr("left out");
  if (check.kind == CheckKind::Clock) return QObject::tr("read with care");
  return check.severity == Severity::Warn ? QObject::tr("said in the write-up") : QObject::tr("none");
}

QString howToAccept() {
  return QObject::tr(
      "F2, and a reason: you have looked at it and take it as it is. It is printed with its reason; an "
      "empty one takes that back.");
}

// What was typed, without the word that stands before it.
std::string reasonIn(const QString& typed) {
  const QString head = QObject::tr("accepted: %1").arg(QString());
  const QString words = typed.trimmed();
  return (words.startsWith(head.trimmed()) ? words.mid(head.trimmed().size()) : words).trimmed().toStdString();
}

}  // namespace

// A check cannot be taken away, only accepted for a reason.
void StandingsStation::takeAcceptance(int row, const QString& typed) {
  if (row < 0 || row >= static_cast<int>(m_shownChecks.size())) return;
  const ComparisonCheck check = m_shownChecks[static_cast<size_t>(row)];
  const std::string reason = reasonIn(typed);
  const AcceptedCheck* before = acceptanceOf(desk().plan(), check);
  const bool isAsBefore =
      before == nullptr ? reason.empty() || text(reason) == effectOf(check) : before->reason == reason;
  if (!isAsBefore)
    desk().edit(reason.empty() ? tr("Take an acceptance back") : tr("Accept a check"),
                [&](Study&, StudyPlan& plan) { acceptCheck(plan, check, reason, isoTimeNow()); });
  fillChecks();
}

void StandingsStation::fillChecks() {
  if (look::isBeingEdited(m_checks)) return;
  const QSignalBlocker quiet(m_checks);
  m_checks->setRowCount(0);
  m_shownChecks.clear();
  if (load() == nullptr) {
    m_checksHead->setText(tr("<b>Like for like</b>"));
    return;
  }
  std::vector<ComparisonCheck> checks = load()->comparison.checks;
  std::stable_sort(checks.begin(), checks.end(),
                   [](const ComparisonCheck& a, const ComparisonCheck& b) { return a.severity < b.severity; });
  const size_t own = checks.size();
  for (const EarlierRow& earlier : load()->earlier)
    checks.insert(checks.end(), earlier.checks.begin(), earlier.checks.end());
  int warnings = 0, accepted = 0;
  for (const ComparisonCheck& check : checks) {
    const bool isOwn = static_cast<size_t>(&check - checks.data()) < own;
    warnings += isOwn && check.severity != Severity::Info;
    const int row = m_checks->rowCount();
    m_checks->insertRow(row);
    QStringList runs;
    for (const std::string& run : check.between) runs << text(run);
    const AcceptedCheck* taken = isOwn ? acceptanceOf(desk().plan(), check) : nullptr;
    accepted += taken != nullptr;
    const QString cells[] = {severitySign(check.severity), text(titleOf(check)), text(check.text),
                             runs.join(QStringLiteral(", ")),
                             taken != nullptr ? tr("accepted: %1").arg(text(taken->reason))
                             : isOwn          ? effectOf(check)
                                              : tr("beside earlier work")};
    for (int column = 0; column < 5; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column < 2) item->setFont(look::font(12, QFont::DemiBold));
      if (column == 4) item->setForeground(theme().softInk);
      item->setToolTip(column == 4 && isOwn ? howToAccept() : text(check.text));
      if (column != 4 || !isOwn) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      m_checks->setItem(row, column, item);
    }
    if (taken != nullptr) m_checks->item(row, 4)->setToolTip(text(acceptedWords(*taken)));
    if (isOwn) m_shownChecks.push_back(check);
    m_checks->item(row, 0)->setData(Qt::UserRole, runs);
  }
  for (const EarlierSetup& earlier : m_report->earlier) {
    if (earlier.problem.empty()) continue;
    const int row = m_checks->rowCount();
    m_checks->insertRow(row);
    const QString cells[] = {severitySign(Severity::Warn), tr("Not found"),
                             text(earlier.label + ": " + earlier.problem), QString(), tr("not shown")};
    for (int column = 0; column < 5; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      item->setFlags(item->flags() & ~Qt::ItemIsEditable);
      m_checks->setItem(row, column, item);
    }
    m_checks->item(row, 2)->setToolTip(cells[2]);
  }
  const auto count = static_cast<int>(own);
  m_checksHead->setText(
      tr("<b>Like for like</b> &nbsp;") +
      (count == 0 ? tr("nothing stands against comparing them")
                  : tr("%1 found, the worst first: %2, %3")
                        .arg(count)
                        .arg(warnings == 1 ? tr("1 warning") : tr("%1 warnings").arg(warnings),
                             count - warnings == 1 ? tr("1 remark") : tr("%1 remarks").arg(count - warnings))) +
      (accepted > 0 ? tr(", %1 accepted").arg(accepted) : QString()) +
      (checks.size() > own ? tr("; %1 beside earlier work").arg(checks.size() - own) : QString()));
}

QString standingsLine(const StudyDesk& desk) {
  if (!desk.report() || desk.report()->loads.empty()) return QObject::tr("nothing to rank yet");
  int warnings = 0;
  for (const LoadStanding& standing : desk.report()->loads) {
    for (const ComparisonCheck& check : standing.comparison.checks) warnings += check.severity != Severity::Info;
  }
  return warnings == 0   ? QObject::tr("fair field")
         : warnings == 1 ? QObject::tr("1 warning")
                         : QObject::tr("%1 warnings").arg(warnings);
}

}  // namespace ash
