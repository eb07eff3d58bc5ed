// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/mqtt_talk.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <mosquitto.h>
#include <mqtt_protocol.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <thread>

#include "instruments/line_socket.h"
#include "model/json.h"
#include "model/text.h"
#include "system/clock.h"
#include "system/secret_file.h"

namespace ash {
namespace {

constexpr char kPlainPort[] = "1883", kTlsPort[] = "8883";  // IANA: mqtt, secure-mqtt
constexpr std::string_view kTlsScheme = "mqtts://", kPlainScheme = "mqtt://";
constexpr int kKeepAliveS = 10, kNeverS = 3600;
constexpr size_t kMostFaultB = 160;
constexpr size_t kLongestPayload = size_t{64} * 1024, kMostGaps = 9;
constexpr double kUsualIntervals = 3;
constexpr auto kLook = std::chrono::milliseconds(5);

bool isSecure(const Instrument& instrument) {
  return instrument.address.starts_with(kTlsScheme) || !instrument.tlsCa.empty();
}

std::optional<HostPort> brokerOf(const Instrument& instrument) {
  std::string address = instrument.address;
  for (const std::string_view scheme : {kTlsScheme, kPlainScheme}) {
    if (address.starts_with(scheme)) address.erase(0, scheme.size());
  }
  return parseHostPort(address, isSecure(instrument) ? kTlsPort : kPlainPort);
}

double middleOf(std::vector<double> values) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

}  // namespace

Result<double> numberInPayload(const std::string& payload, const std::string& pointer) {
  const auto shown = [&] { return withoutControls(asUtf8(payload.substr(0, 40))); };
  if (payload.size() > kLongestPayload) return Error::badInput("its message is longer than 64 KiB");
  if (pointer.empty()) {
    if (const auto number = parseNumber(trimmed(payload))) return *number;
    return Error::badInput(fmt::format("its message \"{}\" is no number", shown()));
  }
  const Json document = parseQuietly(payload);
  if (document.is_discarded()) return Error::badInput(fmt::format("its message \"{}\" is no JSON", shown()));
  try {
    const Json& value = document.at(Json::json_pointer(pointer));
    if (value.is_number()) return value.get<double>();
    if (value.is_string()) {
      if (const auto number = parseNumber(trimmed(value.get<std::string>()))) return *number;
    }
  } catch (const Json::exception&) {
    return Error::badInput(fmt::format("its message has nothing at {}", pointer));
  }
  return Error::badInput(fmt::format("what its message has at {} is no number", pointer));
}

MqttTalk::MqttTalk(const Instrument& instrument)
    : m_instrument(instrument), m_told(instrument.readings.size()), m_seen(instrument.readings.size()) {
  static const int begun = mosquitto_lib_init();
  static_cast<void>(begun);
}

MqttTalk::~MqttTalk() { close(); }

void MqttTalk::close() {
  if (m_client == nullptr) return;
  mosquitto_disconnect(m_client);
  mosquitto_loop_stop(m_client, false);
  mosquitto_destroy(std::exchange(m_client, nullptr));
}

Status MqttTalk::open() {
  const auto broker = brokerOf(m_instrument);
  if (!broker) return Error::badInput(fmt::format("\"{}\" is no host:port", m_instrument.address));
  // The library's own connecting cannot be hurried: somebody must listen there.
  LineSocket probe;
  if (Status there = probe.connect(*broker, m_instrument.timeoutS); !there) return there;
  probe.close();
  Status connected = connectAs(MQTT_PROTOCOL_V5);
  if (!connected && isTooNew()) connected = connectAs(MQTT_PROTOCOL_V311);
  return connected ? subscribe() : connected;
}

// Some refuse a version that they do not know (3.1.1, 3.1.2.2), others only hang up. A certificate that is not trusted
// is no matter of the version.
bool MqttTalk::isTooNew() {
  const std::lock_guard lock(m_mutex);
  return m_tlsFault.empty() && (m_reason == MQTT_RC_UNSUPPORTED_PROTOCOL_VERSION ||
                                m_reason == CONNACK_REFUSED_PROTOCOL_VERSION || (m_isLost && !m_isAnswered));
}

// Under the lock.
Error MqttTalk::notTrusted() const {
  return Error::environment("the broker's certificate is not trusted; tls_ca names its authority (" + m_tlsFault + ")");
}

Status MqttTalk::applySecrets(mosquitto* client) {
  if (!m_instrument.user.empty() || !m_instrument.passwordFile.empty()) {
    std::string password;
    if (!m_instrument.passwordFile.empty()) {
      const auto secret = readSecret(m_instrument.passwordFile);
      if (!secret) return secret.error();
      password = *secret;
    }
    mosquitto_username_pw_set(client, m_instrument.user.c_str(), password.empty() ? nullptr : password.c_str());
  }
  if (!isSecure(m_instrument)) return {};
  const char* file = m_instrument.tlsCa.empty() ? nullptr : m_instrument.tlsCa.c_str();
  if (mosquitto_tls_set(client, file, file == nullptr ? "/etc/ssl/certs" : nullptr, nullptr, nullptr, nullptr) !=
      MOSQ_ERR_SUCCESS)
    return Error::badInput(fmt::format("the authorities of {} cannot be used", m_instrument.tlsCa));
  return {};
}

Status MqttTalk::connectAs(int protocol) {
  close();
  {
    const std::lock_guard lock(m_mutex);
    m_isAnswered = m_isLost = false;
    m_reason = 0;
    m_tlsFault.clear();
  }
  m_client = mosquitto_new(nullptr, true, this);
  if (m_client == nullptr) return Error::environment("there is no memory for a connection");
  mosquitto_int_option(m_client, MOSQ_OPT_PROTOCOL_VERSION, protocol);
  // Whoever has this talk connects anew, at his own pace.
  mosquitto_reconnect_delay_set(m_client, kNeverS, kNeverS, false);
  if (Status set = applySecrets(m_client); !set) return set;
  mosquitto_connect_v5_callback_set(m_client, [](mosquitto*, void* self, int reason, int, const mosquitto_property*) {
    auto& talk = *static_cast<MqttTalk*>(self);
    const std::lock_guard lock(talk.m_mutex);
    talk.m_isAnswered = true;
    talk.m_reason = reason;
  });
  mosquitto_log_callback_set(m_client, [](mosquitto*, void* self, int level, const char* words) {
    if (level != MOSQ_LOG_ERR || std::string_view(words).find("certificate") == std::string_view::npos) return;
    auto& talk = *static_cast<MqttTalk*>(self);
    const std::lock_guard lock(talk.m_mutex);
    talk.m_tlsFault = withoutControls(std::string_view(words).substr(0, kMostFaultB));
  });
  mosquitto_disconnect_v5_callback_set(m_client, [](mosquitto*, void* self, int, const mosquitto_property*) {
    auto& talk = *static_cast<MqttTalk*>(self);
    const std::lock_guard lock(talk.m_mutex);
    talk.m_isLost = true;
  });
  mosquitto_message_v5_callback_set(
      m_client, [](mosquitto*, void* self, const mosquitto_message* message, const mosquitto_property*) {
        static_cast<MqttTalk*>(self)->takeMessage(*message);
      });
  const auto broker = brokerOf(m_instrument);
  const int code =
      mosquitto_connect_bind_v5(m_client, broker->host.c_str(), std::stoi(broker->port), kKeepAliveS, nullptr, nullptr);
  // The handshake may be over, and refused, before that returns.
  if (code != MOSQ_ERR_SUCCESS) {
    const std::lock_guard lock(m_mutex);
    return m_tlsFault.empty() ? Error::environment(withoutControls(mosquitto_strerror(code))) : notTrusted();
  }
  // A load that is started meanwhile must not hold the connection open.
  fcntl(mosquitto_socket(m_client), F_SETFD, FD_CLOEXEC);
  mosquitto_loop_start(m_client);
  const double startS = monotonicS();
  while (monotonicS() - startS < m_instrument.timeoutS) {
    {
      const std::lock_guard lock(m_mutex);
      if (m_isAnswered && m_reason == 0) {
        m_identity = protocol == MQTT_PROTOCOL_V5 ? "a broker that speaks MQTT 5" : "a broker that speaks MQTT 3.1.1";
        return {};
      }
      if (m_isAnswered)
        return Error::environment(
            fmt::format("the broker refuses: {}", withoutControls(mosquitto_reason_string(m_reason))));
      if (!m_tlsFault.empty()) return notTrusted();
      if (m_isLost) return Error::environment("the broker hung up");
    }
    std::this_thread::sleep_for(kLook);
  }
  return Error::environment("the broker does not answer");
}

Status MqttTalk::subscribe() {
  std::set<std::string> topics;
  for (const InstrumentReading& reading : m_instrument.readings) topics.insert(reading.topic);
  for (const std::string& topic : topics) {
    const int code = mosquitto_subscribe_v5(m_client, nullptr, topic.c_str(), m_instrument.qos, 0, nullptr);
    if (code != MOSQ_ERR_SUCCESS)
      return Error::environment(fmt::format("{} cannot be subscribed to: {}", topic, mosquitto_strerror(code)));
  }
  return {};
}

Answer MqttTalk::answerIn(const InstrumentReading& reading, const std::string& payload, double arrivedS) const {
  const auto number = numberInPayload(payload, reading.pointer);
  if (number) return answerOf(reading, *number, arrivedS, kMissing);
  Answer fault = faultOf(number.error().message);
  fault.atS = arrivedS;  // what was there before counts no more
  return fault;
}

void MqttTalk::noteArrival(Seen& seen, double arrivedS) const {
  if (std::isfinite(seen.arrivedS)) seen.gapsS.push_back(arrivedS - seen.arrivedS);
  if (seen.gapsS.size() > kMostGaps) seen.gapsS.erase(seen.gapsS.begin());
  seen.arrivedS = arrivedS;
}

double MqttTalk::holdsS(const Seen& seen) const {
  const double usualS = seen.gapsS.empty() ? m_instrument.intervalS : middleOf(seen.gapsS);
  return std::max(kUsualIntervals * usualS, answerHoldsS(m_instrument));
}

// On the library's thread.
void MqttTalk::takeMessage(const mosquitto_message& message) {
  const double arrivedS = bootTimeS();
  const std::string payload(static_cast<const char*>(message.payload),
                            static_cast<size_t>(std::max(message.payloadlen, 0)));
  const std::lock_guard lock(m_mutex);
  for (size_t i = 0; i < m_instrument.readings.size(); ++i) {
    const InstrumentReading& reading = m_instrument.readings[i];
    if (reading.topic != message.topic) continue;
    if (message.retain) {
      // It may be of last week. It is no answer, but tells that the topic is the right one.
      m_told[i] = faultOf("only a retained message so far, whose age nobody knows");
      continue;
    }
    noteArrival(m_seen[i], arrivedS);
    m_told[i] = answerIn(reading, payload, arrivedS);
    m_told[i].holdsS = holdsS(m_seen[i]);
  }
}

Status MqttTalk::ask(std::vector<Answer>& answers) {
  const std::lock_guard lock(m_mutex);
  answers = std::exchange(m_told, std::vector<Answer>(m_instrument.readings.size()));
  if (m_isLost) return Error::environment("the broker hung up");
  return {};
}

}  // namespace ash
