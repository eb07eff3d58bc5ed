// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/start_request.h"

namespace ash {

QStringList StartRequest::arguments(const QString& book, const QString& runId) const {
  // With "=", so that a name that begins with "-" stays a value.
  QStringList list = {QStringLiteral("run"),
                      QStringLiteral("--book=") + book,
                      QStringLiteral("--study=") + study,
                      QStringLiteral("--setup=") + setup,
                      QStringLiteral("--load=") + load,
                      QStringLiteral("--phases=") + phases,
                      QStringLiteral("--run-id=") + runId,
                      QStringLiteral("--as-planned")};
  if (!sim.isEmpty()) list << QStringLiteral("--sim") << sim << QStringLiteral("--speed") << QString::number(speed);
  if (hasRoom) list << QStringLiteral("--room") << QString::number(roomC);
  return list;
}

}  // namespace ash
