// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/study_station.h"

namespace ash {

StudyStation::StudyStation(StudyDesk& desk, QWidget* parent) : QWidget(parent), m_desk(desk) {}

void StudyStation::refreshWhenSeen() {
  m_isStale = true;
  if (isVisible()) refreshIfStale();
}

void StudyStation::refreshIfStale() {
  if (!m_isStale) return;
  m_isStale = false;
  refresh();
}

void StudyStation::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refreshIfStale();
}

}  // namespace ash

#include "moc_study_station.cpp"
