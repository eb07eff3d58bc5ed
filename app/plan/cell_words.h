// SPDX-License-Identifier: GPL-3.0-or-later
// What a cell of the plan says: its figure, its bound, and its lines.
#pragma once

#include <QString>
#include <QStringList>

#include "app/look/budget_column.h"
#include "model/study.h"

namespace ash {

class StudyDesk;
struct AnalyzedRun;

struct CellWords {
  QString bound;   ///< "at least"; empty where the figure is one
  QString figure;  ///< "57.3 K"
  QStringList lines;
  bool isHot = false;  ///< at its limit
};

CellWords cellWords(const StudyDesk& desk, const std::string& setup, const std::string& load);

}  // namespace ash
