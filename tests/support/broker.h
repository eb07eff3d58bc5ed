// SPDX-License-Identifier: GPL-3.0-or-later
// A real broker on loopback, mosquitto, and a sensor that talks to it.
#pragma once

#include <mosquitto.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <string>
#include <utility>

#include "tests/support/certificate.h"
#include "tests/support/free_port.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

namespace ash::tests {

/// A broker of its own; anybody may come, unless a password is set; over TLS where it has a certificate.
class Broker {
 public:
  explicit Broker(const std::string& password = "", int port = freePort(), const Certificate* certificate = nullptr)
      : m_port(port) {
    std::ofstream config(m_folder.path("broker.conf"));
    config << "listener " << m_port << " 127.0.0.1\n";
    if (certificate != nullptr) {
      config << "certfile " << certificate->certificateFile << "\nkeyfile " << certificate->keyFile << "\n";
      // The broker leaves root, and must still be able to read them.
      for (const std::string& file : {certificate->certificateFile, certificate->keyFile})
        std::filesystem::permissions(file, std::filesystem::perms(0644));
      std::filesystem::permissions(std::filesystem::path(certificate->keyFile).parent_path(),
                                   std::filesystem::perms(0755));
    }
    if (password.empty()) {
      config << "allow_anonymous true\n";
    } else {
      const std::string file = m_folder.path("passwords");
      const std::string made = "mosquitto_passwd -b -c '" + file + "' bench '" + password + "' 2>/dev/null";
      REQUIRE(std::system(made.c_str()) == 0);
      std::filesystem::permissions(file, std::filesystem::perms(0644));
      config << "allow_anonymous false\npassword_file " << file << "\n";
    }
    config.close();
    std::filesystem::permissions(m_folder.path(), std::filesystem::perms(0755));
    begin();
  }
  ~Broker() { end(); }
  void end() {
    if (m_process <= 0) return;
    kill(m_process, SIGTERM);
    waitpid(std::exchange(m_process, 0), nullptr, 0);
  }
  void begin() {
    const std::string config = m_folder.path("broker.conf");
    m_process = fork();
    if (m_process == 0) {
      if (freopen("/dev/null", "w", stderr) == nullptr) _exit(126);
      for (const char* program : {"/usr/sbin/mosquitto", "/usr/local/sbin/mosquitto"})
        execl(program, "mosquitto", "-c", config.c_str(), nullptr);
      _exit(127);
    }
    REQUIRE(eventually([this] { return isListening(m_port); }));
  }
  std::string address() const { return "127.0.0.1:" + std::to_string(m_port); }
  int port() const { return m_port; }

 private:
  TempFolder m_folder;
  int m_port;
  pid_t m_process = 0;
};

/// Publishes as a sensor would.
class Sensor {
 public:
  explicit Sensor(const Broker& broker) {
    mosquitto_lib_init();
    m_client = mosquitto_new(nullptr, true, nullptr);
    REQUIRE(mosquitto_connect(m_client, "127.0.0.1", broker.port(), 10) == MOSQ_ERR_SUCCESS);
    mosquitto_loop_start(m_client);
  }
  ~Sensor() {
    mosquitto_disconnect(m_client);
    mosquitto_loop_stop(m_client, false);  // a thread that is cancelled may hold the lock of the memory
    mosquitto_destroy(m_client);
  }
  /// With quality of service 1.
  void say(const std::string& topic, const std::string& payload, bool isRetained = false) {
    mosquitto_publish(m_client, nullptr, topic.c_str(), static_cast<int>(payload.size()), payload.data(), 1,
                      isRetained);
  }

 private:
  mosquitto* m_client;
};

}  // namespace ash::tests
