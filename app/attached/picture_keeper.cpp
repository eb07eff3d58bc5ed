// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/attached/picture_keeper.h"

#include <QBuffer>

#include "app/look/words.h"
#include "attach/take_file.h"
#include "book/book.h"
#include "system/whole_file.h"

namespace ash {
using look::text;
namespace {

Result<Book> openBook(const QString& path) { return Book::open(path.toStdString(), BookAccess::ReadWrite); }

// What was pasted has no file: it becomes one.
std::string pngOf(const QImage& image) {
  QByteArray bytes;
  QBuffer to(&bytes);
  to.open(QIODevice::WriteOnly);
  image.save(&to, "PNG");
  return bytes.toStdString();
}

Result<std::vector<TakenFile>> takeAll(const AttachWish& wish, const PictureReader& reader) {
  std::vector<TakenFile> all;
  if (wish.paths.isEmpty()) {
    auto one = takeBytes("pasted.png", pngOf(wish.pasted), reader);
    if (!one) return one.error();
    all.push_back(std::move(*one));
  }
  for (const QString& path : wish.paths) {
    auto one = takeFile(path.toStdString(), reader);
    if (!one) return one.error();
    all.push_back(std::move(*one));
  }
  return all;
}

}  // namespace

void PictureKeeper::attach(const std::shared_ptr<const AttachWish>& wish) {
  auto kept = std::make_shared<KeptFiles>();
  kept->book = wish->book;
  const auto refuse = [&](const Error& error) { emit attached(kept, {}, text(error.message)); };
  auto taken = takeAll(*wish, m_reader);
  if (!taken) return refuse(taken.error());
  auto book = openBook(wish->book);
  if (!book) return refuse(book.error());
  QStringList remarks;
  for (TakenFile& one : *taken) {
    one.about.run = wish->owner.run;
    one.about.setup = wish->owner.setup;
    one.about.atS = wish->owner.atS;
    if (!one.remarks.empty() && !remarks.contains(text(one.remarks))) remarks << text(one.remarks);
    kept->files.emplace_back(std::move(one.about), std::move(one.bytes));
  }
  const auto now = book->attach(kept->files);
  if (!now) {
    kept->files.clear();
    return refuse(now.error());
  }
  for (size_t i = 0; i < now->size(); ++i) kept->files[i].first = (*now)[i];
  emit attached(kept, remarks.join(QLatin1Char(' ')), {});
}

void PictureKeeper::takeOff(const std::shared_ptr<const KeptFiles>& files) {
  auto book = openBook(files->book);
  QString refusal = book ? QString() : text(book.error().message);
  for (size_t i = 0; book && i < files->files.size(); ++i) {
    if (const auto gone = book->detach(files->files[i].first.id); !gone) refusal = text(gone.error().message);
  }
  emit changed(refusal);
}

void PictureKeeper::putBack(const std::shared_ptr<const KeptFiles>& files) {
  auto book = openBook(files->book);
  if (!book) return emit changed(text(book.error().message));
  const auto back = book->attach(files->files);
  emit changed(back ? QString() : text(back.error().message));
}

void PictureKeeper::detach(const QString& path, long long id) {
  auto gone = std::make_shared<KeptFiles>();
  gone->book = path;
  auto book = openBook(path);
  if (!book) return emit detached(gone, text(book.error().message));
  // One whose bytes are damaged can be taken off all the same; it cannot come back.
  auto bytes = book->attachmentBytes(id);
  const auto about = book->detach(id);
  if (!about) return emit detached(gone, text(about.error().message));
  if (bytes) gone->files.emplace_back(*about, std::move(*bytes));
  emit detached(gone, {});
}

void PictureKeeper::describe(const QString& path, long long id, const QString& words) {
  auto book = openBook(path);
  if (!book) return emit described(id, {}, words, text(book.error().message));
  const auto before = book->describe(id, words.toStdString());
  emit described(id, before ? text(*before) : QString(), words, before ? QString() : text(before.error().message));
}

void PictureKeeper::describeAgain(const QString& path, long long id, const QString& words) {
  auto book = openBook(path);
  if (!book) return emit changed(text(book.error().message));
  const auto before = book->describe(id, words.toStdString());
  emit changed(before ? QString() : text(before.error().message));
}

void PictureKeeper::draw(const QString& path, const std::shared_ptr<const Attachment>& one, const QSize& most) {
  const auto refuse = [&](const Error& error) { emit drawn(one->id, most, {}, text(error.message)); };
  const auto book = Book::open(path.toStdString(), BookAccess::ReadOnly);
  if (!book) return refuse(book.error());
  const auto bytes = book->attachmentBytes(one->id);
  if (!bytes) return refuse(bytes.error());
  const auto drawing = m_reader.draw(one->name, *bytes, most.width(), most.height());
  if (!drawing) return refuse(drawing.error());
  const QImage shared(reinterpret_cast<const uchar*>(drawing->pixels.data()), drawing->width, drawing->height,
                      drawing->width * 4, QImage::Format_ARGB32_Premultiplied);
  emit drawn(one->id, most, shared.copy(), {});
}

void PictureKeeper::write(const QString& path, long long id, const QString& to) {
  const auto book = Book::open(path.toStdString(), BookAccess::ReadOnly);
  if (!book) return emit written(to, text(book.error().message));
  const auto bytes = book->attachmentBytes(id);
  if (!bytes) return emit written(to, text(bytes.error().message));
  const Status done = writeWholeFile(*bytes, to.toStdString());
  emit written(to, done ? QString() : text(done.error().message));
}

}  // namespace ash

#include "moc_picture_keeper.cpp"
