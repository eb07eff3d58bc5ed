// SPDX-License-Identifier: GPL-3.0-or-later
// A sensor that talks to a broker: MQTT 5, or 3.1.1 where the broker knows no 5 (libmosquitto).
#pragma once

#include <mutex>
#include <set>
#include <string>
#include <vector>

#include "instruments/talk.h"

struct mosquitto;
struct mosquitto_message;

namespace ash {

/// Subscribes to the topics of its readings; payloads are a number, or JSON with a pointer (RFC 6901). A retained
/// message is of unknown age and no answer. A reading counts for three of its usual intervals; a payload that holds no
/// number (such as a last will) makes it missing at once.
class MqttTalk : public Talk {
 public:
  explicit MqttTalk(const Instrument& instrument);
  ~MqttTalk() override;
  Status open() override;
  std::string identity() const override { return m_identity; }
  Status ask(std::vector<Answer>& answers) override;

 private:
  /// What was seen of one topic before.
  struct Seen {
    double arrivedS = kMissing;
    std::vector<double> gapsS;  // the last few
  };
  Status connectAs(int protocol);
  bool isTooNew();
  Error notTrusted() const;
  Status applySecrets(mosquitto* client);
  Status subscribe();
  void takeMessage(const mosquitto_message& message);
  Answer answerIn(const InstrumentReading& reading, const std::string& payload, double arrivedS) const;
  void noteArrival(Seen& seen, double arrivedS) const;
  double holdsS(const Seen& seen) const;
  void close();

  const Instrument& m_instrument;
  mosquitto* m_client = nullptr;
  std::string m_identity;
  std::mutex m_mutex;
  // Guarded by m_mutex: written by the library's thread.
  bool m_isAnswered = false, m_isLost = false;
  int m_reason = 0;
  std::string m_tlsFault;  // what the library says of a certificate that it does not take
  std::vector<Answer> m_told;
  std::vector<Seen> m_seen;  // by reading
};

/// The number of a payload; an error says why it holds none. `pointer` is empty for a plain number.
Result<double> numberInPayload(const std::string& payload, const std::string& pointer);

}  // namespace ash
