// SPDX-License-Identifier: GPL-3.0-or-later
// Earlier work beside a study: chosen by the finder out of this book or another, and taken away again. In the plan, so
// that it can be undone.
#include <QFileInfo>
#include <algorithm>

#include "app/finder/finder.h"
#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"

namespace ash {
using look::text;

void MainWindow::openEarlierWork() {
  if (m_desk.study() == nullptr) return;
  emit m_keep->setupsWanted({});
}

void MainWindow::chooseEarlierBook() {
  look::askForFile(this, look::FileWish::Open, tr("Earlier work out of another book"),
                   QFileInfo(m_desk.bookPath()).absolutePath(), kBookEnding,
                   [this](const QString& path) { emit m_keep->setupsWanted(path); });
}

void MainWindow::showSetups(const QString& path, const std::vector<AlsoShown>& setups) {
  if (m_desk.study() == nullptr) return;
  const std::vector<AlsoShown>& shown = m_desk.plan().alsoShown;
  std::vector<FinderEntry> entries;
  for (const AlsoShown& also : setups) {
    const bool isOwn = path.isEmpty() && also.study == m_desk.study()->name;
    const auto isIt = [&](const AlsoShown& one) {
      return one.book == also.book && one.study == also.study && one.setup == also.setup;
    };
    if (isOwn || std::any_of(shown.begin(), shown.end(), isIt)) continue;
    entries.push_back({tr("%1 of %2").arg(text(also.setup), text(also.study)), tr("also show"), {}, [this, also] {
                         m_desk.edit(tr("Also show %1").arg(text(also.setup)),
                                     [&](Study&, StudyPlan& plan) { plan.alsoShown.push_back(also); });
                       }});
  }
  if (path.isEmpty()) {
    for (const AlsoShown& also : shown) {
      entries.push_back(
          {tr("%1 of %2").arg(text(also.setup), text(also.study)), tr("no longer show"), {}, [this, also] {
             m_desk.edit(tr("No longer show %1").arg(text(also.setup)),
                         [&](Study&, StudyPlan& plan) { std::erase(plan.alsoShown, also); });
           }});
    }
    entries.push_back({tr("Out of another book …"), tr("also show"), {}, [this] { chooseEarlierBook(); }});
  }
  if (entries.empty())
    return say(tr("%1 has no setup with a run that is not shown already.").arg(QFileInfo(path).fileName()));
  if (m_finder == nullptr) m_finder = new Finder(this);
  m_finder->open(std::move(entries));
}

}  // namespace ash
