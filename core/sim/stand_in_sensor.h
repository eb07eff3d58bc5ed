// SPDX-License-Identifier: GPL-3.0-or-later
// A room sensor that tells a broker how warm it is (MQTT), as a stand-in for one on the shelf.
#pragma once

#include <memory>
#include <string>

#include "model/result.h"

struct mosquitto;

namespace ash::sim {

struct SensorOptions {
  std::string host = "127.0.0.1";
  int port = 1883;
  std::string topic = "bench/air";
};

class StandInSensor {
 public:
  /// Connects to the broker; one that goes away later is found again. Refused when nobody listens there.
  static Result<std::unique_ptr<StandInSensor>> start(const SensorOptions& options);
  ~StandInSensor();
  StandInSensor(const StandInSensor&) = delete;
  StandInSensor& operator=(const StandInSensor&) = delete;
  /// Tells the room's temperature (°C) as {"t": 22.41}, with quality of service 1 and not retained.
  Status tell(double roomC);

 private:
  StandInSensor(mosquitto* client, std::string topic);
  mosquitto* m_client;
  std::string m_topic;
};

}  // namespace ash::sim
