// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/recorder_start.h"

#include <QFile>
#include <QFileInfo>
#include <QObject>
#include <QProcess>
#include <algorithm>

#include "book/run_writer.h"
#include "system/runtime_folder.h"

namespace ash {

Result<QString> RecorderStart::start(const StartRequest& request, const QString& book) {
  const auto folder = runtimeSubfolder("runs");
  if (!folder) return folder.error();
  const QString id = QString::fromStdString(newRunId());
  m_log = QStringLiteral("%1/%2.log").arg(QString::fromStdString(*folder), id);
  QProcess recorder;
  recorder.setProgram(m_program);
  QStringList arguments = request.arguments(book, id);
  if (!m_root.isEmpty() && !arguments.contains(QStringLiteral("--sim")))
    arguments << QStringLiteral("--root") << m_root;
  recorder.setArguments(arguments);
  recorder.setStandardInputFile(QProcess::nullDevice());
  recorder.setStandardOutputFile(QProcess::nullDevice());
  recorder.setStandardErrorFile(m_log);
  if (!recorder.startDetached()) {
    return Error::environment(
        QObject::tr("Cannot start the recorder %1; install the program again.").arg(m_program).toStdString());
  }
  return id;
}

Status RecorderStart::startByItself(const QStringList& arguments, const QString& logName, const QString& failure) {
  const auto folder = runtimeSubfolder("runs");
  if (!folder) return folder.error();
  m_log = QStringLiteral("%1/%2").arg(QString::fromStdString(*folder), logName);
  QProcess process;
  process.setProgram(m_program);
  process.setArguments(arguments);
  process.setStandardInputFile(QProcess::nullDevice());
  process.setStandardOutputFile(QProcess::nullDevice());
  process.setStandardErrorFile(m_log);
  if (process.startDetached()) return {};
  return Error::environment(failure.arg(m_program).toStdString());
}

Status RecorderStart::startQueue(const QString& study, const QString& book) {
  return startByItself({QStringLiteral("queue"), QStringLiteral("--book"), book, QStringLiteral("--study"), study,
                        QStringLiteral("--changed")},
                       QStringLiteral("queue.log"),
                       QObject::tr("Cannot start the queue with %1; install the program again."));
}

Status RecorderStart::startLadder(const QStringList& arguments, const QString& book) {
  QStringList all = QStringList{QStringLiteral("ladder"), QStringLiteral("--book=") + book} + arguments;
  const auto names = [&](const char* option) {
    return std::any_of(all.begin(), all.end(),
                       [&](const QString& one) { return one.startsWith(QLatin1String(option)); });
  };
  if (!m_root.isEmpty() && !names("--sim=") && !names("--root=")) all << QStringLiteral("--root=") + m_root;
  return startByItself(all, QStringLiteral("ladder.log"),
                       QObject::tr("Cannot start the ladder with %1; install the program again."));
}

QString RecorderStart::complaint() const {
  QFile log(m_log);
  QString why;
  if (log.open(QIODevice::ReadOnly)) {
    for (const QString& line : QString::fromUtf8(log.readAll()).split(QLatin1Char('\n'))) {
      // The first one: what comes after it follows from it.
      if (why.isEmpty() && line.startsWith(QStringLiteral("ashg: "))) why = line.mid(6);
    }
  }
  return why;
}

QString RecorderStart::whyMissing() const {
  const QString why = complaint();
  return why.isEmpty() ? QObject::tr("The run did not start; %1 may say why.").arg(m_log) : why;
}

void RecorderStart::forget(const QString& run) {
  if (QFileInfo(m_log).completeBaseName() == run) QFile::remove(m_log);
}

}  // namespace ash
