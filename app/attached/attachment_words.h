// SPDX-License-Identifier: GPL-3.0-or-later
// What a picture or another file is and whose it is, in words.
#pragma once

#include <QString>

#include "model/attachment.h"

namespace ash {

class StudyDesk;

/// "camera.jpg · at 12:04 · the hinge, settled".
QString attachmentWords(const Attachment& one);

/// "Mesh", or "Mesh, Cores + graphics, repeat 2, at 12:04"; empty when its owner is not in the book.
QString ownerWords(const StudyDesk& desk, const Attachment& one);

}  // namespace ash
