// SPDX-License-Identifier: GPL-3.0-or-later
// A choice with its name before it, as they stand in the bar above a station.
#pragma once

#include <QComboBox>
#include <QHBoxLayout>

#include "app/look/parts.h"
#include "app/look/theme.h"

namespace ash::look {

/// Adds the name and an empty choice to a bar; the choice is found by `objectName`.
inline QComboBox* addChoice(QHBoxLayout* bar, QWidget* parent, const QString& name, const char* objectName,
                            const QString& tip) {
  auto* box = new QComboBox(parent);
  box->setObjectName(QLatin1String(objectName));
  box->setAccessibleName(name);
  box->setToolTip(tip);
  box->setFont(font(12));
  box->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  box->setMinimumWidth(px(64));  // in a narrow window; its list is as wide as its words
  bar->addWidget(softLabel(name, parent));
  bar->addWidget(box);
  bar->addSpacing(px(8));
  return box;
}

}  // namespace ash::look
