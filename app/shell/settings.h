// SPDX-License-Identifier: GPL-3.0-or-later
// What the window remembers. No other file opens QSettings.
#pragma once

#include <QByteArray>
#include <QString>
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

 private:
  std::unique_ptr<QSettings> m_settings;
};

}  // namespace ash
