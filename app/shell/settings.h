// SPDX-License-Identifier: GPL-3.0-or-later
// What the window remembers. No other file opens QSettings.
#pragma once

#include <QByteArray>
#include <QString>
#include <QStringList>
#include <memory>

class QSettings;

namespace ash {

class Settings {
 public:
  Settings();
  ~Settings();
  QByteArray windowGeometry() const;
  void setWindowGeometry(const QByteArray& geometry);
  int station() const;
  void setStation(int station);
  QString lastBook() const;
  void setLastBook(const QString& path);
  /// Books that were opened, the last first; at most ten.
  QStringList recentBooks() const;
  /// The last book is no longer opened by itself, if it is this one.
  void forgetBook(const QString& path);
  /// The book that is being opened; still there at the next start when the window went down with it.
  QString openingBook() const;
  void setOpeningBook(const QString& path);
  QString lastStudy() const;
  void setLastStudy(const QString& name);
  /// "dark", "light", or empty: as the desktop has it.
  QString appearance() const;
  void setAppearance(const QString& appearance);
  /// Writing and lines stand further off what they stand on.
  bool hasStrongContrast() const;
  void setStrongContrast(bool isStrong);
  /// Of the size of the desktop's writing, %: 100 to 200.
  int textPercent() const;
  void setTextPercent(int percent);
  /// Where a new book is offered to be put; the person's own folder, where none was chosen or it has gone.
  QString booksFolder() const;
  /// As it was chosen; empty = none.
  QString chosenBooksFolder() const;
  void setBooksFolder(const QString& folder);
  /// Of a price in a study that has named none; empty = none.
  QString currency() const;
  void setCurrency(const QString& currency);
  /// The names of books are no longer offered; the one that is open stays the last.
  void forgetRecentBooks();
  /// The readings that are shown for a recording, by role; empty = as usual.
  QStringList farFigures() const;
  void setFarFigures(const QStringList& readings);

  /// The tour was begun once; it does not begin by itself again.
  bool hasSeenTour() const;
  void setTourSeen();

 private:
  std::unique_ptr<QSettings> m_settings;
};

}  // namespace ash
