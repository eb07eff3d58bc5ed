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
  /// The readings that are shown for a recording, by role; empty = as usual.
  QStringList farFigures() const;
  void setFarFigures(const QStringList& readings);

 private:
  std::unique_ptr<QSettings> m_settings;
};

}  // namespace ash
