// SPDX-License-Identifier: GPL-3.0-or-later
// Tells the thread sanitizer what Qt's event queue orders: what a thread did before it emitted a signal has happened
// before what another does with the event. Debian builds Qt without the sanitizer, which therefore does not see its
// locks. In a build without the sanitizer this is a plain application.
#pragma once

#include <QApplication>

#ifdef __SANITIZE_THREAD__

// Of Qt's own tools for its tests (QtCore/private/qobject_p.h, exported by QtCore).
struct QSignalSpyCallbackSet {
  using Begin = void (*)(QObject* caller, int method, void** arguments);
  using End = void (*)(QObject* caller, int method);
  Begin signalBegin, slotBegin;
  End signalEnd, slotEnd;
};
void qt_register_signal_spy_callbacks(QSignalSpyCallbackSet* callbacks);

// The sanitizer's own interface for such synchronisation.
extern "C" void __tsan_acquire(void* address);
extern "C" void __tsan_release(void* address);

namespace ash::tests {

inline char& messageOrder() {
  static char order = 0;
  return order;
}

class OrderedApplication : public QApplication {
 public:
  OrderedApplication(int& argc, char** argv) : QApplication(argc, argv) {
    static QSignalSpyCallbackSet callbacks = {[](QObject*, int, void**) { __tsan_release(&messageOrder()); }, nullptr,
                                              nullptr, nullptr};
    qt_register_signal_spy_callbacks(&callbacks);
  }
  // Called on the thread of the receiver, whichever that is.
  bool notify(QObject* receiver, QEvent* event) override {
    __tsan_acquire(&messageOrder());
    const bool isTaken = QApplication::notify(receiver, event);
    __tsan_release(&messageOrder());  // for whoever waits for this event to be done
    return isTaken;
  }
};

}  // namespace ash::tests

#else

namespace ash::tests {
using OrderedApplication = QApplication;
}

#endif
