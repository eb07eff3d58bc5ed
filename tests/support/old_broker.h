// SPDX-License-Identifier: GPL-3.0-or-later
// A broker that knows MQTT 3.1.1 (OASIS, 2014) and nothing later: just so much of it as one sensor needs.
#pragma once

#include <poll.h>
#include <sys/socket.h>
#include <unistd.h>

#include <atomic>
#include <string>
#include <thread>
#include <vector>

#include "tests/support/listening.h"

namespace ash::tests {

/// What it does with who speaks another version.
enum class OldManners { Refuses, HangsUp };

/// Publishes `payload` on `topic`, ten times a second, to whoever subscribes to it in version 3.1.1.
class OldBroker {
 public:
  OldBroker(OldManners manners, std::string topic, std::string payload)
      : m_manners(manners), m_topic(std::move(topic)), m_payload(std::move(payload)) {
    m_thread = std::thread([this] { serve(); });
  }
  OldBroker(const OldBroker&) = delete;
  OldBroker& operator=(const OldBroker&) = delete;
  ~OldBroker() {
    m_isOver = true;
    m_listening.end();
    m_thread.join();
  }
  std::string address() const { return "127.0.0.1:" + std::to_string(m_listening.port()); }
  /// How often somebody came with a version that it does not know.
  int refused() const { return m_refused; }

 private:
  using Bytes = std::vector<unsigned char>;

  void serve() {
    while (!m_isOver) {
      const int peer = m_listening.next();
      if (peer < 0) return;
      talk(peer);
      close(peer);
    }
  }

  // A packet without its fixed header: its kind first. Empty when the peer has gone or has nothing to say.
  static Bytes packetFrom(int peer, int waitMs) {
    pollfd ready{peer, POLLIN, 0};
    if (poll(&ready, 1, waitMs) <= 0) return {};
    unsigned char kind = 0, lengthByte = 0;
    if (recv(peer, &kind, 1, MSG_WAITALL) != 1) return {0};
    size_t length = 0;
    int shift = 0;
    do {
      if (recv(peer, &lengthByte, 1, MSG_WAITALL) != 1) return {0};
      length |= static_cast<size_t>(lengthByte & 0x7F) << shift;
      shift += 7;
    } while ((lengthByte & 0x80) != 0 && shift < 28);
    Bytes packet(length + 1);
    packet[0] = kind;
    if (length > 0 && recv(peer, packet.data() + 1, length, MSG_WAITALL) != static_cast<ssize_t>(length)) return {0};
    return packet;
  }

  static void say(int peer, const Bytes& packet) { send(peer, packet.data(), packet.size(), MSG_NOSIGNAL); }

  void talk(int peer) {
    const Bytes connect = packetFrom(peer, 2000);
    // 3.1: kind, the name "MQTT" with its length, the level.
    constexpr size_t kLevelAt = 7;
    constexpr unsigned char kLevel = 4, kConnect = 0x10, kSubscribe = 0x82, kPing = 0xC0, kDisconnect = 0xE0;
    if (connect.size() <= kLevelAt || connect[0] != kConnect) return;
    if (connect[kLevelAt] != kLevel) {
      ++m_refused;
      if (m_manners == OldManners::Refuses) say(peer, {0x20, 2, 0, 1});  // 3.2.2.3: unacceptable protocol version
      return;
    }
    say(peer, {0x20, 2, 0, 0});
    bool isSubscribed = false;
    while (!m_isOver) {
      const Bytes packet = packetFrom(peer, 100);
      if (!packet.empty() && (packet[0] == 0 || packet[0] == kDisconnect)) return;
      if (!packet.empty() && packet[0] == kPing) say(peer, {0xD0, 0});
      if (packet.size() > 5 && packet[0] == kSubscribe) {
        isSubscribed = std::string(packet.begin() + 5, packet.end() - 1) == m_topic;
        say(peer, {0x90, 3, packet[1], packet[2], 0});
      }
      if (isSubscribed) publish(peer);
    }
  }

  void publish(int peer) const {
    Bytes packet = {0x30, static_cast<unsigned char>(2 + m_topic.size() + m_payload.size()), 0,
                    static_cast<unsigned char>(m_topic.size())};
    packet.insert(packet.end(), m_topic.begin(), m_topic.end());
    packet.insert(packet.end(), m_payload.begin(), m_payload.end());
    say(peer, packet);
  }

  OldManners m_manners;
  std::string m_topic, m_payload;
  Listening m_listening;
  std::atomic<bool> m_isOver{false};
  std::atomic<int> m_refused{0};
  std::thread m_thread;
};

}  // namespace ash::tests
