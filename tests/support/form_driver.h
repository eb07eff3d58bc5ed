// SPDX-License-Identifier: GPL-3.0-or-later
// Fills and presses the window's start form as a person does: real key and mouse events.
#pragma once

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTest>

#include "app/shell/main_window.h"

namespace ash::tests {

class FormDriver {
 public:
  explicit FormDriver(MainWindow& window) : m_window(window) {
    // Stations are made when they are needed; here their fields are looked for at once.
    window.plan();
    window.watch();
    window.traces();
    window.standings();
    window.writeUp();
  }

  template <typename T>
  T* find(const char* name) {
    T* widget = m_window.findChild<T*>(QLatin1String(name));
    Q_ASSERT(widget != nullptr);
    return widget;
  }

  void type(QWidget* field, const QString& text) {
    field->setFocus();
    QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(field, text);
  }

  /// Chooses an entry of a fixed list by pressing Down until it is there.
  void choose(QComboBox* box, const QString& ending) {
    box->setFocus();
    QTest::keyClick(box, Qt::Key_Home);
    for (int i = 0; i < box->count() && !box->currentText().endsWith(ending); ++i) QTest::keyClick(box, Qt::Key_Down);
  }

  /// The form stands behind a button once a run has been shown.
  void showForm() {
    auto* another = find<QPushButton>("another-run");
    if (another->isVisible()) QTest::mouseClick(another, Qt::LeftButton);
  }

  void fill(const QString& study, const QString& setup, const QString& bench, const QString& load,
            const QString& phases, double speed) {
    m_window.goTo(MainWindow::Watch);
    showForm();
    choose(find<QComboBox>("bench"), bench);
    type(find<QComboBox>("study")->lineEdit(), study);
    type(find<QComboBox>("setup")->lineEdit(), setup);
    choose(find<QComboBox>("load"), load);
    type(find<QLineEdit>("phases"), phases);
    auto* speedBox = find<QDoubleSpinBox>("speed");
    type(speedBox, QString::number(speed, 'f', 0));
    QTest::keyClick(speedBox, Qt::Key_Tab);
  }

  void start() { QTest::mouseClick(find<QPushButton>("start-run"), Qt::LeftButton); }

  /// Types into the entry line, without Enter.
  void typeEntry(const QString& line) {
    QTest::keyClick(&m_window, Qt::Key_Slash);
    auto* entry = find<QLineEdit>("entry");
    QTest::keyClick(entry, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(entry, line);
  }
  void enter(const QString& line) {
    typeEntry(line);
    QTest::keyClick(find<QLineEdit>("entry"), Qt::Key_Return);
  }
  void note(const QString& text) { enter(QStringLiteral("note ") + text); }

 private:
  MainWindow& m_window;
};

}  // namespace ash::tests
