// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/recorder_start.h"

#include <QFile>
#include <QObject>
#include <QProcess>

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

Status RecorderStart::startQueue(const QString& study, const QString& book) {
  const auto folder = runtimeSubfolder("runs");
  if (!folder) return folder.error();
  m_log = QStringLiteral("%1/queue.log").arg(QString::fromStdString(*folder));
  QProcess queue;
  queue.setProgram(m_program);
  queue.setArguments({QStringLiteral("queue"), QStringLiteral("--book"), book, QStringLiteral("--study"), study,
                      QStringLiteral("--changed")});
  queue.setStandardInputFile(QProcess::nullDevice());
  queue.setStandardOutputFile(QProcess::nullDevice());
  queue.setStandardErrorFile(m_log);
  if (queue.startDetached()) return {};
  return Error::environment(
      QObject::tr("Cannot start the queue with %1; install the program again.").arg(m_program).toStdString());
}

QString RecorderStart::whyMissing() const {
  QFile log(m_log);
  QString why;
  if (log.open(QIODevice::ReadOnly)) {
    for (const QString& line : QString::fromUtf8(log.readAll()).split(QLatin1Char('\n'))) {
      if (line.startsWith(QStringLiteral("ashg: "))) why = line.mid(6);
    }
  }
  return why.isEmpty() ? QObject::tr("The run did not start; %1 may say why.").arg(m_log) : why;
}

void RecorderStart::forget() {
  if (!m_log.isEmpty()) QFile::remove(m_log);
}

}  // namespace ash
