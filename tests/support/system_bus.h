// SPDX-License-Identifier: GPL-3.0-or-later
// A bus of the test's own that is as strict as a system's: nobody may own a name or call a service but as a
// configuration says, and the helper's own is the one that ships.
#pragma once

#include <unistd.h>

#include <string>

#include "tests/support/private_bus.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

class SystemBus {
 public:
  SystemBus() : m_bus(m_folder.write("bus.conf", configuration())) {}
  bool isUp() const { return m_bus.isUp(); }

 private:
  std::string configuration() const {
    const std::string ours = std::string(PROJECT_FOLDER) + "/packaging/local.ashgauge.Turn1.conf";
    return "<!DOCTYPE busconfig PUBLIC \"-//freedesktop//DTD D-Bus Bus Configuration 1.0//EN\"\n"
           " \"http://www.freedesktop.org/standards/dbus/1.0/busconfig.dtd\">\n"
           "<busconfig><listen>unix:tmpdir=" +
           m_folder.path() +
           "</listen><auth>EXTERNAL</auth>"
           "<policy context=\"default\"><allow user=\"*\"/><deny own=\"*\"/><deny send_type=\"method_call\"/>"
           "<allow send_type=\"signal\"/><allow send_requested_reply=\"true\" send_type=\"method_return\"/>"
           "<allow send_requested_reply=\"true\" send_type=\"error\"/><allow receive_type=\"method_call\"/>"
           "<allow receive_type=\"method_return\"/><allow receive_type=\"error\"/><allow receive_type=\"signal\"/>"
           "<allow send_destination=\"org.freedesktop.DBus\"/>"
           "<allow own=\"org.freedesktop.PolicyKit1\"/>"
           "<allow send_destination=\"org.freedesktop.PolicyKit1\"/></policy>"
           "<include>" +
           ours +
           "</include>"
           // Who runs the tests stands in for root.
           "<policy user=\"" +
           std::to_string(getuid()) + "\"><allow own=\"local.ashgauge.Turn1\"/></policy></busconfig>\n";
  }

  TempFolder m_folder;
  PrivateBus m_bus;
};

}  // namespace ash::tests
