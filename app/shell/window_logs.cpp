// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does with logs of other programs: dropped on it, pasted, chosen; taken in, put beside a run, undone.
#include <QClipboard>
#include <QDir>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QStandardPaths>
#include <QUndoCommand>
#include <QUrl>

#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/plan/plan_grid.h"
#include "app/plan/plan_station.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"
#include "app/taking_in/log_sheet.h"

namespace ash {
using look::text;
namespace {

/// A log stands beside a run: taken off, and put there again with the offset it had.
class PutBeside : public QUndoCommand {
 public:
  PutBeside(TakeWires& wires, std::shared_ptr<LogWish> wish, QString name)
      : QUndoCommand(QObject::tr("put %1 beside a run").arg(name)),
        m_wires(wires),
        m_wish(std::move(wish)),
        m_name(std::move(name)) {}
  void undo() override {
    emit m_wires.takeOffWanted(look::text(m_wish->beside.book), look::text(m_wish->beside.run), m_name);
    m_isOff = true;
  }
  void redo() override {
    if (m_isOff) m_wires.take(std::make_shared<LogWish>(*m_wish));
    m_isOff = false;
  }

 private:
  TakeWires& m_wires;
  std::shared_ptr<LogWish> m_wish;
  QString m_name;
  bool m_isOff = false;
};

// The first file of this machine that is dragged; empty when there is none.
QString draggedFile(const QMimeData* data) {
  for (const QUrl& url : data->urls()) {
    if (url.isLocalFile() && QFileInfo(url.toLocalFile()).isFile()) return url.toLocalFile();
  }
  return {};
}

// A table of two lines at least, in columns.
bool isTable(const QString& words) {
  const QStringList lines = words.split(QLatin1Char('\n'), Qt::SkipEmptyParts);
  const auto hasColumns = [](const QString& line) {
    return line.contains(QLatin1Char('\t')) || line.contains(QLatin1Char(';')) || line.contains(QLatin1Char(','));
  };
  return lines.size() > 1 && std::count_if(lines.begin(), lines.end(), hasColumns) > lines.size() / 2;
}

}  // namespace

void MainWindow::connectTaker() {
  m_take = std::make_unique<TakeWires>(nullptr);
  connect(m_take.get(), &TakeWires::taken, this, &MainWindow::takeTaken);
  connect(m_take.get(), &TakeWires::takenOff, this, [this](const QString& refusal) {
    if (!refusal.isEmpty()) say(refusal);
    emit m_keep->refreshWanted();
  });
}

LogSheet* MainWindow::logSheet() {
  if (m_logSheet != nullptr) return m_logSheet;
  m_logSheet = new LogSheet(m_desk, m_pages->widget(TakingIn));
  m_pages->widget(TakingIn)->layout()->addWidget(m_logSheet);
  connect(m_logSheet, &LogSheet::lookWanted, this,
          [this](const std::shared_ptr<LogWish>& wish) { m_take->look(wish); });
  connect(m_logSheet, &LogSheet::takeWanted, this, [this](const std::shared_ptr<LogWish>& wish) { takeLog(wish); });
  connect(m_logSheet, &LogSheet::left, this, [this] {
    m_take->giveUp();
    goTo(m_pageBeforeLog);
  });
  connect(m_take.get(), &TakeWires::looked, m_logSheet, &LogSheet::showLook);
  connect(m_take.get(), &TakeWires::progress, m_logSheet, &LogSheet::showProgress);
  return m_logSheet;
}

void MainWindow::openLog(const QString& path, const QString& setup, const QString& load) {
  if (path.contains(QChar::ReplacementCharacter))
    return say(tr("The name of this file is no UTF-8: %1. Rename it, or use ashg, which takes any name.").arg(path));
  if (page() != TakingIn) m_pageBeforeLog = page();
  m_logName = path;
  logSheet();
  goTo(TakingIn);
  logSheet()->open(path, setup, load);
}

void MainWindow::chooseLog() {
  look::askForFile(this, look::FileWish::Open, tr("Take a log in"), QDir::homePath(), {},
                   [this](const QString& path) { openLog(path); });
}

// Without a book there is nowhere to put it yet.
void MainWindow::takeLog(const std::shared_ptr<LogWish>& wish) {
  m_logWish = wish;
  if (!wish->place.book.empty()) return m_take->take(wish);
  logSheet()->showRefusal({});
  look::askForFile(this, look::FileWish::Save, tr("In which book is it to be kept?"),
                   QDir::homePath() + QStringLiteral("/bench") + kBookEnding, kBookEnding, [this](const QString& path) {
                     m_logWish->place.book = path.toStdString();
                     m_take->take(m_logWish);
                   });
}

void MainWindow::takeTaken(const QString& run, const QString& name, const QString& refusal) {
  if (!refusal.isEmpty())
    return m_logSheet != nullptr && page() == TakingIn ? m_logSheet->showRefusal(refusal) : say(refusal);
  if (page() != TakingIn || !m_logWish) return emit m_keep->refreshWanted();
  const std::shared_ptr<LogWish> wish = std::exchange(m_logWish, nullptr);
  const QString book = text(wish->place.book);
  if (name.isEmpty()) {
    say(tr("%1 is kept as run %2.").arg(QFileInfo(m_logName).fileName(), run));
  } else {
    m_desk.undoStack().push(new PutBeside(*m_take, wish, name));
    say(tr("%1 stands beside run %2. Ctrl+Z takes it off again.").arg(name, run));
  }
  goTo(m_desk.hasBook() ? Plan : Start);
  if (m_desk.bookPath() != book) return openBook(book);
  m_studyOnChange = text(wish->place.study);
  emit m_keep->refreshWanted();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (!draggedFile(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

// A book is opened; anything else is a log, of the cell on which it was dropped.
void MainWindow::dropEvent(QDropEvent* event) {
  const QString path = draggedFile(event->mimeData());
  if (path.isEmpty()) return;
  event->acceptProposedAction();
  if (path.endsWith(kBookEnding)) return openBook(path);
  QString setup, load;
  if (page() == Plan && m_plan != nullptr && m_desk.study() != nullptr) {
    const auto cell = m_plan->cellAt(mapToGlobal(event->position().toPoint()));
    if (cell) std::tie(setup, load) = *cell;
  }
  openLog(path, setup, load);
}

// A table out of another program, kept as a file until it is taken in.
void MainWindow::pasteLog() {
  const QString words = QGuiApplication::clipboard()->text();
  if (!isTable(words)) return say(tr("What is in the clipboard is no table of a log."));
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::CacheLocation);
  QDir().mkpath(folder);
  const QString path = folder + QStringLiteral("/pasted.csv");
  QFile file(path);
  const QByteArray bytes = words.toUtf8();
  if (!file.open(QIODevice::WriteOnly | QIODevice::Truncate) || file.write(bytes) != bytes.size())
    return say(tr("What was pasted cannot be kept in %1: %2.").arg(path, file.errorString()));
  file.close();
  openLog(path);
}

}  // namespace ash
