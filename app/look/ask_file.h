// SPDX-License-Identifier: GPL-3.0-or-later
// Asks for a file without holding the window up: nothing is modal while a run may be on.
#pragma once

#include <QString>
#include <functional>

class QWidget;

namespace ash::look {

enum class FileWish { Open, Save, Folder };

/// Calls `take` with the path of the file, or folder, once one is chosen; the ending is added where it is missing.
void askForFile(QWidget* parent, FileWish wish, const QString& title, const QString& start, const QString& ending,
                const std::function<void(const QString&)>& take);

}  // namespace ash::look
