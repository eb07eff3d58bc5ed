// SPDX-License-Identifier: GPL-3.0-or-later
// Manners of a long run on a desktop: no sleep and no blank screen while it goes on, a word when it ends or needs
// somebody.
#pragma once

#include <memory>
#include <string>

namespace ash {

/// Talks to the desktop over D-Bus from a thread of its own, so that a desktop that does not answer holds nobody up.
/// Without a bus, or without the services, nothing happens. Interfaces: org.freedesktop.login1.Manager.Inhibit (system
/// bus), org.freedesktop.ScreenSaver.Inhibit and org.freedesktop.Notifications.Notify (session bus).
class DesktopLink {
 public:
  DesktopLink();
  /// Lets the machine sleep again, and waits up to a second for what was still to be said.
  ~DesktopLink();
  DesktopLink(const DesktopLink&) = delete;
  DesktopLink& operator=(const DesktopLink&) = delete;

  /// Keeps the machine awake and the screen on until the link goes. `why` is shown by the desktop.
  void keepAwake(const std::string& why);
  /// A notification; an urgent one stays until it is dismissed.
  void tell(const std::string& title, const std::string& text, bool isUrgent);

 private:
  struct Thread;
  std::unique_ptr<Thread> m_thread;
};

}  // namespace ash
