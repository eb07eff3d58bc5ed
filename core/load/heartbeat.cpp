// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/heartbeat.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>

#include "system/clock.h"

namespace ash {

HeartbeatWatch::HeartbeatWatch(int descriptor) : m_descriptor(descriptor), m_heardS(monotonicS()) {
  if (m_descriptor >= 0) fcntl(m_descriptor, F_SETFL, fcntl(m_descriptor, F_GETFL) | O_NONBLOCK);
}

HeartbeatWatch::State HeartbeatWatch::look() {
  if (m_descriptor < 0 || m_state != State::Heard) return m_state;
  char signs[256];
  ssize_t length = read(m_descriptor, signs, sizeof signs);
  if (length > 0) {
    m_silentLooks = 0;
    m_heardS = monotonicS();
  } else if (length == 0 || (errno != EAGAIN && errno != EINTR)) {
    m_state = State::Closed;
  } else if (++m_silentLooks >= kLeastSilentLooks && monotonicS() - m_heardS >= kMostSilentS) {
    m_state = State::Silent;
  }
  return m_state;
}

}  // namespace ash
