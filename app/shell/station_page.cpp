// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/station_page.h"

#include <QLabel>
#include <QVBoxLayout>

#include "app/look/theme.h"

namespace ash {

StationPage::StationPage(const QString& name, const QString& sentence, QWidget* parent) : QWidget(parent) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(look::px(48), look::px(40), look::px(48), look::px(16));
  auto* head = new QLabel(name, this);
  head->setFont(look::font(20, QFont::DemiBold));
  auto* words = new QLabel(sentence, this);
  words->setFont(look::font(14));
  words->setWordWrap(true);
  words->setProperty("soft", true);
  column->addWidget(head);
  column->addWidget(words);
  column->addStretch(1);
}

}  // namespace ash
