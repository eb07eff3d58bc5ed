// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does with pictures and other files: dropped, pasted or chosen for a setup, a run or a moment of one;
// opened over the page, taken off, undone.
#include <QClipboard>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QMimeDatabase>
#include <QStackedWidget>
#include <QUndoCommand>
#include <QUrl>
#include <cmath>
#include <functional>

#include "app/attached/attachment_words.h"
#include "app/attached/picture_keeper.h"
#include "app/attached/picture_over.h"
#include "app/attached/pictures.h"
#include "app/look/ask_file.h"
#include "app/look/parts.h"
#include "app/plan/plan_station.h"
#include "app/shell/main_window.h"
#include "app/shell/thread_wires.h"
#include "app/traces/traces_station.h"
#include "model/entry_line.h"
#include "model/text.h"

namespace ash {
using look::text;
namespace {

using Files = std::shared_ptr<const KeptFiles>;

/// Files came into the book, or went; what was done already is not done again when it is pushed.
class ChangeFiles : public QUndoCommand {
 public:
  ChangeFiles(const QString& words, std::function<void()> back, std::function<void()> again)
      : QUndoCommand(words), m_back(std::move(back)), m_again(std::move(again)) {}
  void undo() override {
    m_back();
    m_isBack = true;
  }
  void redo() override {
    if (std::exchange(m_isBack, false)) m_again();
  }

 private:
  std::function<void()> m_back, m_again;
  bool m_isBack = false;
};

QString namesOf(const KeptFiles& files) {
  if (files.files.size() == 1) return text(files.files.front().first.name);
  return QObject::tr("%1 files").arg(files.files.size());
}

QStringList draggedFiles(const QMimeData* dragged) {
  QStringList paths;
  for (const QUrl& url : dragged->urls()) {
    if (url.isLocalFile() && QFileInfo(url.toLocalFile()).isFile()) paths << url.toLocalFile();
  }
  return paths;
}

// Something to look at or to listen to; by its name only, for the drive is not waited for.
bool isToBeKept(const QString& path) {
  const QString type = QMimeDatabase().mimeTypeForFile(path, QMimeDatabase::MatchExtension).name();
  const auto is = [&](const char* start) { return type.startsWith(QLatin1String(start)); };
  return is("image/") || is("audio/") || is("video/") || type == QLatin1String("application/pdf");
}

}  // namespace

void MainWindow::connectPictures() {
  m_draw = std::make_unique<PictureWires>(nullptr);
  m_pictures = std::make_unique<Pictures>(m_desk, nullptr);
  connect(m_pictures.get(), &Pictures::drawWanted, m_draw.get(), &PictureWires::drawWanted);
  connect(m_draw.get(), &PictureWires::drawn, m_pictures.get(), &Pictures::takeDrawn);
  connect(m_pictures.get(), &Pictures::openWanted, this, &MainWindow::openPicture);
  connect(m_pictures.get(), &Pictures::addWanted, this,
          [this](const std::shared_ptr<const Attachment>& owner) { choosePicture(*owner); });
  const auto takeOff = [this](const Files& files) { return [this, files] { emit m_draw->takeOffWanted(files); }; };
  const auto putBack = [this](const Files& files) { return [this, files] { emit m_draw->putBackWanted(files); }; };
  connect(
      m_draw.get(), &PictureWires::attached, this,
      [this, takeOff, putBack](const Files& files, const QString& remarks, const QString& refusal) {
        if (!refusal.isEmpty()) say(refusal);
        if (files->files.empty()) return;
        if (files->book == bookPath())
          m_desk.undoStack().push(new ChangeFiles(tr("keep %1").arg(namesOf(*files)), takeOff(files), putBack(files)));
        if (refusal.isEmpty())
          say(tr("%1 is kept with %2. %3 Ctrl+Z takes it off again.")
                  .arg(namesOf(*files), ownerWords(m_desk, files->files.front().first), remarks)
                  .simplified());
        emit m_keep->refreshWanted();
      });
  connect(m_draw.get(), &PictureWires::detached, this,
          [this, takeOff, putBack](const Files& files, const QString& refusal) {
            if (!refusal.isEmpty()) say(refusal);
            if (!files->files.empty() && files->book == bookPath())
              m_desk.undoStack().push(
                  new ChangeFiles(tr("take %1 off").arg(namesOf(*files)), putBack(files), takeOff(files)));
            emit m_keep->refreshWanted();
          });
  connect(m_draw.get(), &PictureWires::described, this,
          [this](long long id, const QString& before, const QString& now, const QString& refusal) {
            if (!refusal.isEmpty()) return say(refusal);
            const auto put = [this, id, book = bookPath()](const QString& words) {
              return [this, id, book, words] { emit m_draw->describeAgainWanted(book, id, words); };
            };
            m_desk.undoStack().push(new ChangeFiles(tr("say what a picture shows"), put(before), put(now)));
            emit m_keep->refreshWanted();
          });
  connect(&m_desk, &StudyDesk::changed, this, [this] {
    if (m_over != nullptr) m_over->takeChanged(m_desk.attachments());
  });
  connect(m_draw.get(), &PictureWires::changed, this, [this](const QString& refusal) {
    if (!refusal.isEmpty()) say(refusal);
    emit m_keep->refreshWanted();
  });
  connect(m_draw.get(), &PictureWires::written, this, [this](const QString& path, const QString& refusal) {
    say(refusal.isEmpty() ? tr("Written to %1.").arg(path) : refusal);
  });
}

void MainWindow::openPicture(long long id) {
  if (m_over == nullptr) {
    m_over = new PictureOver(*m_pictures, m_pages);
    connect(m_over, &PictureOver::closed, this, &MainWindow::focusPage);
    connect(m_over, &PictureOver::said, this, &MainWindow::sayOfPicture);
    connect(m_over, &PictureOver::removeWanted, this,
            [this](long long gone) { emit m_draw->detachWanted(bookPath(), gone); });
    connect(m_over, &PictureOver::writeWanted, this, [this](long long one, const QString& name) {
      look::askForFile(this, look::FileWish::Save, tr("Save %1 as").arg(name),
                       QDir::homePath() + QLatin1Char('/') + QFileInfo(name).fileName(), {},
                       [this, one](const QString& path) { emit m_draw->writeWanted(bookPath(), one, path); });
    });
  }
  // Those it stands among: of its setup, or of its run.
  for (const Attachment& one : m_desk.attachments()) {
    if (one.id == id)
      m_over->open(one.run.empty() ? m_desk.attachmentsOf(one.setup) : m_desk.attachmentsOf(one.run), id);
  }
}

// A value that it shows is a reading at its moment; all else are words.
void MainWindow::sayOfPicture(long long id, const QString& words) {
  for (const Attachment& one : m_desk.attachments()) {
    if (one.id != id) continue;
    const auto entry = parseEntry(words.toStdString());
    const bool isReading = entry && entry->kind == Entry::Kind::Reading && !one.run.empty() && std::isfinite(one.atS);
    if (isReading) {
      Event event = eventOf(*entry, one.atS);
      event.extra["attachment"] = one.hash;
      m_desk.addEvent(text(one.run), event);
      say(tr("Kept as a reading at %1: %2.").arg(text(clockText(one.atS)), text(entryWords(*entry))));
    }
    if (!isReading || one.text.empty()) emit m_draw->describeWanted(bookPath(), id, words);
    return;
  }
}

void MainWindow::choosePicture(const Attachment& owner) {
  look::askForFile(this, look::FileWish::Open, tr("Keep a picture or another file"), QDir::homePath(), {},
                   [this, owner](const QString& path) { attach(owner, {path}); });
}

void MainWindow::attach(const Attachment& owner, const QStringList& paths, const QImage& pasted) {
  if (owner.run.empty() && owner.setup == 0)
    return say(
        tr("A picture is kept with a setup (on Plan), with a moment of a run (on Traces) or with the run that "
           "goes on (on Watch)."));
  auto wish = std::make_shared<AttachWish>();
  wish->book = bookPath();
  wish->owner = owner;
  wish->paths = paths;
  wish->pasted = pasted;
  say(paths.isEmpty() ? tr("The picture is being read …")
                      : tr("%1 is being read …").arg(QFileInfo(paths.front()).fileName()));
  emit m_draw->attachWanted(wish);
}

// By the page that is looked at; none where files belong to nothing.
std::optional<Attachment> MainWindow::fileOwner(std::optional<QPoint> onScreen) {
  if (!m_desk.hasBook()) return std::nullopt;
  if (page() == Plan) return plan()->ownerAt(onScreen);
  if (page() == Traces) return traces()->ownerAt(onScreen);
  Attachment owner;
  if (page() == Watch && m_live.hasRun()) {
    owner.run = m_live.info().id;
    owner.atS = m_live.lastTimeS();
  }
  return owner;
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (!draggedFiles(event->mimeData()).isEmpty()) event->acceptProposedAction();
}

// A book is opened, pictures and sounds are kept; anything else is a log, of the cell on which it was dropped.
void MainWindow::dropEvent(QDropEvent* event) {
  const QStringList paths = draggedFiles(event->mimeData());
  if (paths.isEmpty()) return;
  event->acceptProposedAction();
  if (paths.front().endsWith(kBookEnding)) return openBook(paths.front());
  const QPoint place = mapToGlobal(event->position().toPoint());
  if (std::all_of(paths.begin(), paths.end(), isToBeKept))
    return attach(fileOwner(place).value_or(Attachment()), paths);
  QString setup, load;
  if (page() == Plan && m_plan != nullptr && m_desk.study() != nullptr) {
    const auto cell = m_plan->cellAt(place);
    if (cell) std::tie(setup, load) = *cell;
  }
  openLog(paths.front(), setup, load);
}

// A picture, files that were copied, or a table out of another program.
void MainWindow::paste() {
  const QMimeData* held = QGuiApplication::clipboard()->mimeData();
  const QStringList paths = held == nullptr ? QStringList() : draggedFiles(held);
  if (!paths.isEmpty() && std::all_of(paths.begin(), paths.end(), isToBeKept))
    return attach(fileOwner(std::nullopt).value_or(Attachment()), paths);
  if (held != nullptr && held->hasImage() && !held->hasText())
    return attach(fileOwner(std::nullopt).value_or(Attachment()), {}, qvariant_cast<QImage>(held->imageData()));
  pasteLog();
}

}  // namespace ash
