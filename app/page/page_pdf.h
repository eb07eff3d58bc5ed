// SPDX-License-Identifier: GPL-3.0-or-later
// The page on paper, as PDF: text that can be selected, charts as vectors, a bookmark for each heading.
#pragma once

#include <QByteArray>
#include <QFont>
#include <QString>

#include "model/result.h"
#include "report/study/study_report.h"

namespace ash {

/// The font of pages and pictures that are drawn without the window, whatever the desktop has chosen.
QFont pageFont(int px);

enum class Paper { A4, Letter };

/// The same report gives the same bytes with the same fonts and libraries: the document's date is that of the last run.
Result<QByteArray> pagePdf(const StudyReport& report, Paper paper);

}  // namespace ash
