// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/settings.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <algorithm>

namespace ash {
namespace {

const QLatin1String kTextPercent("textPercent"), kStrongContrast("strongContrast"), kBooksFolder("book/folder"),
    kCurrency("currency");

}  // namespace

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
void Settings::setLastBook(const QString& path) {
  constexpr int kMostRecent = 10;
  m_settings->setValue(QStringLiteral("book/last"), path);
  if (path.isEmpty()) return;
  QStringList recent = recentBooks();
  recent.removeAll(path);
  recent.prepend(path);
  m_settings->setValue(QStringLiteral("book/recent"), QStringList(recent.mid(0, kMostRecent)));
}

QStringList Settings::recentBooks() const { return m_settings->value(QStringLiteral("book/recent")).toStringList(); }

void Settings::forgetBook(const QString& path) {
  if (lastBook() == path) setLastBook({});
  QStringList recent = recentBooks();
  recent.removeAll(path);
  m_settings->setValue(QStringLiteral("book/recent"), recent);
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
bool Settings::hasStrongContrast() const { return m_settings->value(kStrongContrast, false).toBool(); }
void Settings::setStrongContrast(bool isStrong) { m_settings->setValue(kStrongContrast, isStrong); }

int Settings::textPercent() const { return std::clamp(m_settings->value(kTextPercent, 100).toInt(), 100, 200); }
void Settings::setTextPercent(int percent) { m_settings->setValue(kTextPercent, percent); }
QString Settings::booksFolder() const {
  const QString chosen = chosenBooksFolder();
  return QFileInfo(chosen).isDir() ? chosen : QDir::homePath();
}
QString Settings::chosenBooksFolder() const { return m_settings->value(kBooksFolder).toString(); }
void Settings::setBooksFolder(const QString& folder) { m_settings->setValue(kBooksFolder, folder); }
QString Settings::currency() const { return m_settings->value(kCurrency).toString(); }
void Settings::setCurrency(const QString& currency) { m_settings->setValue(kCurrency, currency); }
void Settings::forgetRecentBooks() { m_settings->remove(QStringLiteral("book/recent")); }
QStringList Settings::farFigures() const { return m_settings->value(QStringLiteral("watch/far")).toStringList(); }
void Settings::setFarFigures(const QStringList& readings) {
  m_settings->setValue(QStringLiteral("watch/far"), readings);
}

bool Settings::hasSeenTour() const { return m_settings->value(QStringLiteral("tourSeen"), false).toBool(); }
void Settings::setTourSeen() { m_settings->setValue(QStringLiteral("tourSeen"), true); }

}  // namespace ash
