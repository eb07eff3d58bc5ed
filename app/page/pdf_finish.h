// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QByteArray>
#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

struct PdfBookmark {
  std::string title;
  int level = 1;   ///< of its heading; 1 is the outermost
  int page = 0;    ///< from 0
  double top = 0;  ///< points from the page's upper edge
};

/// What Qt's PDF lacks (ISO 32000-1, 12.3.3, 14.9.2, 14.4): bookmarks, the language, a title bar with the title, one
/// date
/// ("D:20261014100000Z") and an identity that comes from what is in it.
Result<QByteArray> finishedPdf(const QByteArray& pdf, const std::vector<PdfBookmark>& bookmarks,
                               const std::string& date);

}  // namespace ash
