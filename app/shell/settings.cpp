// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/settings.h"

#include <QSettings>

namespace ash {

Settings::Settings()
    : m_settings(std::make_unique<QSettings>(QStringLiteral("ash-gauge"), QStringLiteral("ash-gauge"))) {}
Settings::~Settings() = default;

QByteArray Settings::windowGeometry() const {
  return m_settings->value(QStringLiteral("window/geometry")).toByteArray();
}
void Settings::setWindowGeometry(const QByteArray& geometry) {
  m_settings->setValue(QStringLiteral("window/geometry"), geometry);
}
int Settings::station() const { return m_settings->value(QStringLiteral("window/station"), 1).toInt(); }
void Settings::setStation(int station) { m_settings->setValue(QStringLiteral("window/station"), station); }

QString Settings::lastBook() const { return m_settings->value(QStringLiteral("book/last")).toString(); }
void Settings::setLastBook(const QString& path) { m_settings->setValue(QStringLiteral("book/last"), path); }

void Settings::forgetBook(const QString& path) {
  if (lastBook() == path) setLastBook({});
}
QString Settings::openingBook() const { return m_settings->value(QStringLiteral("book/opening")).toString(); }
void Settings::setOpeningBook(const QString& path) {
  m_settings->setValue(QStringLiteral("book/opening"), path);
  m_settings->sync();
}

QString Settings::lastStudy() const { return m_settings->value(QStringLiteral("study")).toString(); }
void Settings::setLastStudy(const QString& name) { m_settings->setValue(QStringLiteral("study"), name); }
QString Settings::appearance() const { return m_settings->value(QStringLiteral("appearance")).toString(); }
void Settings::setAppearance(const QString& appearance) {
  m_settings->setValue(QStringLiteral("appearance"), appearance);
}
QStringList Settings::farFigures() const { return m_settings->value(QStringLiteral("watch/far")).toStringList(); }
void Settings::setFarFigures(const QStringList& readings) {
  m_settings->setValue(QStringLiteral("watch/far"), readings);
}

}  // namespace ash
