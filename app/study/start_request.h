// SPDX-License-Identifier: GPL-3.0-or-later
// A run that somebody wants started.
#pragma once

#include <QString>
#include <QStringList>

namespace ash {

/// What a station asks for; arguments() are those of `ashg run`.
struct StartRequest {
  QString study, setup, load, phases, sim;
  double speed = 1;
  double roomC = 0;
  bool hasRoom = false;
  QStringList arguments(const QString& book, const QString& runId) const;
};

}  // namespace ash
