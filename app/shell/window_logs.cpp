// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does with logs of other programs: pasted, chosen; taken in, put beside a run, undone.
#include <QClipboard>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QGuiApplication>
#include <QStandardPaths>
#include <QUndoCommand>
#include <functional>
#include <utility>

#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/shell/main_window.h"
#include "app/shell/page_host.h"
#include "app/shell/thread_wires.h"
#include "app/taking_in/log_sheet.h"

namespace ash {
using look::text;
namespace {

/// A log stands beside a run: taken off, and put there again. `again` is told where the name it then has is to be kept:
/// it may be another one.
class PutBeside : public QUndoCommand {
 public:
  using Again = std::function<void(const std::shared_ptr<QString>& name)>;
  PutBeside(std::function<void(const QString& name)> off, Again again, const QString& name)
      : QUndoCommand(QObject::tr("put %1 beside a run").arg(name)),
        m_off(std::move(off)),
        m_again(std::move(again)),
        m_name(std::make_shared<QString>(name)) {}
  void undo() override {
    m_off(*m_name);
    m_isOff = true;
  }
  void redo() override {
    if (std::exchange(m_isOff, false)) m_again(m_name);
  }

 private:
  std::function<void(const QString& name)> m_off;
  Again m_again;
  std::shared_ptr<QString> m_name;
  bool m_isOff = false;
};

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
  m_logSheet = new LogSheet(m_desk, host(TakingIn));
  host(TakingIn)->hold(m_logSheet);
  connect(m_logSheet, &LogSheet::lookWanted, this,
          [this](const std::shared_ptr<LogWish>& wish) { m_take->look(wish); });
  connect(m_logSheet, &LogSheet::takeWanted, this, [this](const std::shared_ptr<LogWish>& wish) { takeLog(wish); });
  connect(m_logSheet, &LogSheet::left, this, [this] {
    m_take->giveUp();
    m_logSheet->showRefusal({});
    goTo(m_pageBeforeLog);
  });
  connect(m_take.get(), &TakeWires::looked, m_logSheet, &LogSheet::showLook);
  connect(m_take.get(), &TakeWires::progress, m_logSheet, &LogSheet::showProgress);
  return m_logSheet;
}

void MainWindow::openLog(const QString& path, const QString& setup, const QString& load) {
  if (path.contains(QChar::ReplacementCharacter))
    return say(tr("The name of this file is no UTF-8: %1. Rename it, or use ashg, which takes any name.").arg(path));
  if (m_logSheet != nullptr && m_logSheet->isTaking())
    return say(tr("%1 is being taken in; Esc gives it up.").arg(QFileInfo(m_logName).fileName()));
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
                   m_settings.booksFolder() + QStringLiteral("/bench") + kBookEnding, kBookEnding,
                   [this, wish](const QString& path) {
                     wish->place.book = path.toStdString();
                     m_logWish = wish;
                     logSheet()->showTaking();
                     m_take->take(wish);
                   });
}

void MainWindow::takeTaken(const QString& run, const QString& name, const QString& refusal) {
  const auto redone = std::exchange(m_nameOnRedo, nullptr);
  if (m_logSheet != nullptr) m_logSheet->showRefusal({});
  if (!refusal.isEmpty())
    return m_logSheet != nullptr && page() == TakingIn ? m_logSheet->showRefusal(refusal) : say(refusal);
  if (redone) *redone = name;
  if (redone || page() != TakingIn || !m_logWish) return emit m_keep->refreshWanted();
  const std::shared_ptr<LogWish> wish = std::exchange(m_logWish, nullptr);
  const QString book = text(wish->place.book);
  if (name.isEmpty()) {
    say(tr("%1 is kept as run %2.").arg(QFileInfo(m_logName).fileName(), run));
  } else {
    const auto off = [this, wish](const QString& name_) {
      emit m_take->takeOffWanted(text(wish->beside.book), text(wish->beside.run), name_);
    };
    const auto again = [this, wish](const std::shared_ptr<QString>& kept) {
      m_nameOnRedo = kept;
      m_take->take(std::make_shared<LogWish>(*wish));
    };
    m_desk.undoStack().push(new PutBeside(off, again, name));
    say(tr("%1 stands beside run %2. Ctrl+Z takes it off again.").arg(name, run));
  }
  goTo(m_desk.hasBook() ? Plan : Start);
  if (m_desk.bookPath() != book) return openBook(book);
  m_studyOnChange = text(wish->place.study);
  emit m_keep->refreshWanted();
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
