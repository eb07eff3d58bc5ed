// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/one_window.h"

#include <QFileInfo>
#include <QLocalSocket>
#include <QTimer>

#include "app/look/words.h"
#include "system/runtime_folder.h"
#include "system/sha256.h"

namespace ash {
using look::text;
namespace {

constexpr int kConnectMs = 500, kAnswerMs = 1500, kSilentMs = 3000;
constexpr size_t kNameLetters = 24;  // of the hash; a socket's path is short
constexpr char kShow[] = "show\n", kShown[] = "shown\n";

// By the file itself, however it is named; empty where there is no place for a socket.
QString socketOf(const QString& book) {
  const QString file = QFileInfo(book).canonicalFilePath();
  const auto folder = runtimeFolder();
  if (file.isEmpty() || !folder) return {};
  const std::string key = sha256Hex(file.toStdString()).substr(0, kNameLetters);
  return key.empty() ? QString() : text(*folder + "/window-" + key);
}

bool isShown(const QString& name) {
  QLocalSocket asking;
  asking.connectToServer(name);
  if (!asking.waitForConnected(kConnectMs)) return false;
  asking.write(kShow);
  return asking.waitForReadyRead(kAnswerMs) && asking.read(sizeof kShown) == kShown;
}

// Left behind by a window that went down.
bool isDead(const QString& name) {
  QLocalSocket asking;
  asking.connectToServer(name);
  return !asking.waitForConnected(kConnectMs) && asking.error() == QLocalSocket::ConnectionRefusedError;
}

}  // namespace

OneWindow::OneWindow(QObject* parent) : QObject(parent) {
  connect(&m_server, &QLocalServer::newConnection, this, &OneWindow::answer);
}

void OneWindow::hold(const QString& book) {
  if (book == m_book) return;
  m_server.close();
  m_book = book;
  const QString name = book.isEmpty() ? QString() : socketOf(book);
  if (name.isEmpty() || m_server.listen(name)) return;
  if (!isDead(name)) return;
  QLocalServer::removeServer(name);
  m_server.listen(name);
}

// A word, and one back; who says nothing, or something else, is left.
void OneWindow::answer() {
  while (QLocalSocket* asking = m_server.nextPendingConnection()) {
    connect(asking, &QLocalSocket::disconnected, asking, &QObject::deleteLater);
    QTimer::singleShot(kSilentMs, asking, [asking] { asking->abort(); });
    asking->setReadBufferSize(sizeof kShow);
    connect(asking, &QLocalSocket::readyRead, this, [this, asking] {
      if (asking->read(sizeof kShow) != kShow) return asking->abort();
      asking->write(kShown);
      asking->flush();
      emit wanted();
    });
  }
}

bool OneWindow::wake(const QString& book) {
  const QString name = socketOf(book);
  return !name.isEmpty() && QFileInfo::exists(name) && isShown(name);
}

}  // namespace ash

#include "moc_one_window.cpp"
