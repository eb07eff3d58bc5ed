// SPDX-License-Identifier: GPL-3.0-or-later
// Keys and the command finder: everything the window can do, by name.
#include <QFileInfo>
#include <QShortcut>
#include <algorithm>

#include "app/finder/finder.h"
#include "app/look/parts.h"
#include "app/look/theme.h"
#include "app/plan/plan_station.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"
#include "app/traces/traces_station.h"
#include "app/watch/far_view.h"
#include "app/watch/watch_station.h"
#include "app/writeup/writeup_station.h"

namespace ash {
using look::text;

void MainWindow::buildShortcuts() {
  const auto add = [this](const QKeySequence& keys, auto action) {
    auto* shortcut = new QShortcut(keys, this);
    connect(shortcut, &QShortcut::activated, this, action);
    return shortcut;
  };
  for (int i = 0; i < 6; ++i) add(QKeySequence(Qt::CTRL | static_cast<Qt::Key>(Qt::Key_1 + i)), [this, i] { goTo(i); });
  // Stop is reachable from every window of the program, a file dialog too.
  add(QKeySequence(Qt::CTRL | Qt::Key_Period), [this] { stopLoad(); })->setContext(Qt::ApplicationShortcut);
  add(QKeySequence(Qt::CTRL | Qt::Key_K), [this] { openFinder(); });
  add(QKeySequence(Qt::CTRL | Qt::Key_O), [this] { chooseBook(); });
  add(QKeySequence(Qt::CTRL | Qt::Key_I), [this] { chooseLog(); });
  add(QKeySequence(QKeySequence::Paste), [this] { paste(); });
  add(QKeySequence(Qt::CTRL | Qt::Key_N), [this] {
    if (!m_desk.hasBook()) return newBook();
    goTo(Plan);
    plan()->showNewStudy();
  });
  add(QKeySequence(Qt::CTRL | Qt::Key_Q), [this] { close(); });
  add(QKeySequence(QKeySequence::Undo), [this] {
    if (!m_desk.undoStack().canUndo()) return say(tr("There is nothing to undo."));
    say(tr("Undone: %1").arg(m_desk.undoStack().undoText()));
    m_desk.undoStack().undo();
  });
  add(QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), [this] {
    if (!m_desk.undoStack().canRedo()) return say(tr("There is nothing to redo."));
    say(tr("Done again: %1").arg(m_desk.undoStack().redoText()));
    m_desk.undoStack().redo();
  });
  add(QKeySequence(Qt::Key_F11), [this] { showFar(FarForm::Across); });
  add(QKeySequence(Qt::SHIFT | Qt::Key_F11), [this] { showFar(FarForm::Figures); });
  add(QKeySequence(Qt::CTRL | Qt::Key_Comma), [this] { showPreferences(); });
  add(QKeySequence(QKeySequence::HelpContents), [this] { explainPage(); });
  add(QKeySequence(Qt::Key_Slash), [this] {
    goTo(Watch);
    watch()->focusEntry();
  });
}

std::vector<FinderEntry> MainWindow::commands() {
  const QString kind = tr("command");
  const auto key = [](const char* keys) { return QLatin1String(keys); };
  std::vector<FinderEntry> entries;
  const QString names[] = {tr("Plan"), tr("Watch"), tr("Traces"), tr("Standings"), tr("Write-up"), tr("Readings")};
  for (int i = 0; i < 6; ++i)
    entries.push_back(
        {tr("Go to %1").arg(names[i]), kind, QStringLiteral("Ctrl+%1").arg(i + 1), [this, i] { goTo(i); }});
  if (m_live.isGoingOn()) entries.push_back({tr("Stop load"), kind, key("Ctrl+."), [this] { stopLoad(); }});
  entries.push_back({tr("Watch from across the room"), kind, key("F11"), [this] { showFar(FarForm::Across); }});
  entries.push_back(
      {tr("Figures for a screen recording"), kind, key("Shift+F11"), [this] { showFar(FarForm::Figures); }});
  if (m_desk.hasBook()) {
    entries.push_back({tr("New study"), kind, key("Ctrl+N"), [this] {
                         goTo(Plan);
                         plan()->showNewStudy();
                       }});
    entries.push_back({tr("Duplicate the selected setup"), kind, key("Ctrl+D"), [this] {
                         goTo(Plan);
                         plan()->duplicateSetup();
                       }});
    if (m_desk.runsToDo().size() > 1 && !m_live.isGoingOn())
      entries.push_back({tr("Run all that are left, one after the other"), kind, {}, [this] { startQueue(); }});
    entries.push_back({tr("Turn a knob step by step: ladders"), kind, key("Ctrl+L"), [this] {
                         goTo(Plan);
                         plan()->showLadders(true);
                       }});
    entries.push_back({tr("Knobs of the selected setup"), kind, key("Ctrl+T"), [this] {
                         goTo(Plan);
                         plan()->showKnobs();
                       }});
    entries.push_back({tr("Also show a setup of earlier work"), kind, {}, [this] { openEarlierWork(); }});
    entries.push_back({tr("Add a setup"), kind, {}, [this] {
                         goTo(Plan);
                         plan()->addSetup();
                       }});
    entries.push_back({tr("Export the page as HTML"), kind, key("Ctrl+E"), [this] {
                         goTo(WriteUp);
                         writeUp()->exportPage();
                       }});
    entries.push_back({tr("Type a reading or a note"), kind, key("/"), [this] {
                         goTo(Watch);
                         watch()->focusEntry();
                       }});
  }
  if (m_desk.undoStack().canUndo())
    entries.push_back({tr("Undo: %1").arg(m_desk.undoStack().undoText()), kind, key("Ctrl+Z"),
                       [this] { m_desk.undoStack().undo(); }});
  if (m_desk.undoStack().canRedo())
    entries.push_back({tr("Redo: %1").arg(m_desk.undoStack().redoText()), kind, key("Ctrl+Shift+Z"),
                       [this] { m_desk.undoStack().redo(); }});
  entries.push_back({tr("Open a book"), kind, key("Ctrl+O"), [this] { chooseBook(); }});
  entries.push_back({tr("Take a log in"), kind, key("Ctrl+I"), [this] { chooseLog(); }});
  if (m_desk.hasBook())
    entries.push_back({tr("Keep a picture or another file here"), kind, {}, [this] {
                         choosePicture(fileOwner(std::nullopt).value_or(Attachment()));
                       }});
  entries.push_back({tr("Take the table in the clipboard in as a log"), kind, key("Ctrl+V"), [this] { pasteLog(); }});
  entries.push_back({tr("New book"), kind, {}, [this] { newBook(); }});
  entries.push_back({tr("Open the demo book"), kind, {}, [this] { openDemo(); }});
  const bool isDark = look::theme().isDark;
  entries.push_back({isDark ? tr("Light appearance") : tr("Dark appearance"), kind, {}, [this, isDark] {
                       m_settings.setAppearance(isDark ? QStringLiteral("light") : QStringLiteral("dark"));
                       makeAnew();
                     }});
  entries.push_back({tr("Preferences"), kind, key("Ctrl+,"), [this] { showPreferences(); }});
  entries.push_back({tr("Explain this place"), kind, key("F1"), [this] { explainPage(); }});
  entries.push_back({tr("A tour in five sentences"), kind, {}, [this] { beginTour(); }});
  entries.push_back({tr("Close the window"), kind, key("Ctrl+Q"), [this] { close(); }});
  return entries;
}

void MainWindow::addPlaces(std::vector<FinderEntry>& entries) {
  for (const QString& book : m_settings.recentBooks()) {
    if (book == m_desk.bookPath()) continue;
    entries.push_back(
        {QFileInfo(book).completeBaseName(), tr("book"), QFileInfo(book).path(), [this, book] { openBook(book); }});
  }
  for (const Study& study : m_desk.studies()) {
    const QString name = text(study.name);
    entries.push_back({name, tr("study"), {}, [this, name] { m_desk.chooseStudy(name); }});
  }
  if (m_desk.study() == nullptr) return;
  for (const Setup& setup : m_desk.study()->setups) {
    const QString name = text(setup.name);
    entries.push_back({name, tr("setup"), {}, [this, name] {
                         goTo(Plan);
                         plan()->showCell(name, {});
                       }});
  }
  for (const RunSummary& run : m_desk.runs()) {
    const QString id = text(run.info.id);
    entries.push_back({tr("%1, %2, repeat %3 (%4, %5)")
                           .arg(text(run.info.setup), text(run.info.load))
                           .arg(run.info.repeat)
                           .arg(id, text(std::string(outcomeText(run.info.outcome)))),
                       tr("run"),
                       {},
                       [this, id] {
                         emit m_follow->showRunWanted(id);
                         goTo(Watch);
                       }});
  }
}

void MainWindow::openFinder(const QString& onlyKind) {
  std::vector<FinderEntry> entries;
  if (onlyKind.isEmpty()) entries = commands();
  addPlaces(entries);
  if (!onlyKind.isEmpty()) {
    std::erase_if(entries, [&](const FinderEntry& entry) { return entry.kind != onlyKind; });
    entries.push_back({tr("New study …"), tr("command"), QStringLiteral("Ctrl+N"), [this] {
                         goTo(Plan);
                         plan()->showNewStudy();
                       }});
  }
  if (m_finder == nullptr) m_finder = new Finder(this);
  m_finder->open(std::move(entries));
}

}  // namespace ash
