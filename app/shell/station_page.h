// SPDX-License-Identifier: GPL-3.0-or-later
// A station that is not built yet: one sentence that says what will be there.
#pragma once

#include <QWidget>

namespace ash {

class StationPage : public QWidget {
  Q_OBJECT
 public:
  StationPage(const QString& name, const QString& sentence, QWidget* parent);
};

}  // namespace ash
