// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/look/ask_file.h"

#include <QFileDialog>

namespace ash::look {

void askForFile(QWidget* parent, FileWish wish, const QString& title, const QString& start, const QString& ending,
                const std::function<void(const QString&)>& take) {
  auto* dialog = new QFileDialog(parent, title, start,
                                 wish == FileWish::Folder ? QString() : QObject::tr("Files (*%1)").arg(ending));
  dialog->setObjectName(QStringLiteral("ask-file"));
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setOption(QFileDialog::DontUseNativeDialog);
  // What is chosen here is only named: a book that is there is opened, a page says that it is replaced.
  dialog->setOption(QFileDialog::DontConfirmOverwrite);
  dialog->setModal(false);
  dialog->setAcceptMode(wish == FileWish::Save ? QFileDialog::AcceptSave : QFileDialog::AcceptOpen);
  dialog->setFileMode(wish == FileWish::Save   ? QFileDialog::AnyFile
                      : wish == FileWish::Open ? QFileDialog::ExistingFile
                                               : QFileDialog::Directory);
  if (wish == FileWish::Save) dialog->setDefaultSuffix(ending.mid(1));
  if (wish == FileWish::Save && !start.isEmpty()) dialog->selectFile(start);
  QObject::connect(dialog, &QFileDialog::fileSelected, parent, [take](const QString& path) { take(path); });
  dialog->show();
}

}  // namespace ash::look
