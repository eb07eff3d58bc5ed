// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_sensor.h"

#include <fmt/format.h>
#include <mosquitto.h>

namespace ash::sim {
namespace {
constexpr int kKeepAliveS = 10, kQos = 1;
}  // namespace

Result<std::unique_ptr<StandInSensor>> StandInSensor::start(const SensorOptions& options) {
  static const int begun = mosquitto_lib_init();
  static_cast<void>(begun);
  if (mosquitto_pub_topic_check(options.topic.c_str()) != MOSQ_ERR_SUCCESS || options.topic.empty())
    return Error::badInput(
        fmt::format("\"{}\" is no topic to tell something under, such as bench/air.", options.topic));
  mosquitto* client = mosquitto_new(nullptr, true, nullptr);
  if (client == nullptr) return Error::environment("There is no memory for a connection.");
  std::unique_ptr<StandInSensor> sensor(new StandInSensor(client, options.topic));
  mosquitto_reconnect_delay_set(client, 1, 5, false);
  const int code = mosquitto_connect(client, options.host.c_str(), options.port, kKeepAliveS);
  if (code != MOSQ_ERR_SUCCESS)
    return Error::environment(fmt::format("No broker listens at {}:{}; start one there, or name another with --broker.",
                                          options.host, options.port));
  mosquitto_loop_start(client);
  return sensor;
}

StandInSensor::StandInSensor(mosquitto* client, std::string topic) : m_client(client), m_topic(std::move(topic)) {}

StandInSensor::~StandInSensor() {
  mosquitto_disconnect(m_client);
  mosquitto_loop_stop(m_client, false);
  mosquitto_destroy(m_client);
}

Status StandInSensor::tell(double roomC) {
  const std::string payload = fmt::format("{{\"t\": {:.2f}}}", roomC);
  const int code = mosquitto_publish(m_client, nullptr, m_topic.c_str(), static_cast<int>(payload.size()),
                                     payload.data(), kQos, false);
  // While the broker is away there is nobody to tell it to.
  if (code == MOSQ_ERR_SUCCESS || code == MOSQ_ERR_NO_CONN) return {};
  return Error::environment(fmt::format("The broker takes nothing under {}: {}.", m_topic, mosquitto_strerror(code)));
}

}  // namespace ash::sim
