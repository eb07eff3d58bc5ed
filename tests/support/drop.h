// SPDX-License-Identifier: GPL-3.0-or-later
// A file dropped on a window, by the events that a desktop sends.
#pragma once

#include <QApplication>
#include <QDropEvent>
#include <QMimeData>
#include <QUrl>
#include <QWidget>
#include <catch2/catch.hpp>

namespace ash::tests {

inline void dropOn(QWidget& window, const QString& path, const QPoint& at) {
  QMimeData data;
  data.setUrls({QUrl::fromLocalFile(path)});
  QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&window, &enter);
  REQUIRE(enter.isAccepted());
  QDropEvent event(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&window, &event);
}

}  // namespace ash::tests
