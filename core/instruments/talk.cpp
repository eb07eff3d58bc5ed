// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/talk.h"

#include <cmath>

#include "instruments/command_talk.h"
#include "instruments/mqtt_talk.h"
#include "instruments/openmetrics_talk.h"
#include "instruments/scpi_talk.h"
#include "instruments/sound_talk.h"

namespace ash {

std::unique_ptr<Talk> makeTalk(const Instrument& instrument) {
  switch (instrument.kind) {
    case InstrumentKind::Scpi:
      return std::make_unique<ScpiTalk>(instrument);
    case InstrumentKind::OpenMetrics:
      return std::make_unique<OpenMetricsTalk>(instrument);
    case InstrumentKind::Mqtt:
      return std::make_unique<MqttTalk>(instrument);
    case InstrumentKind::Command:
      return std::make_unique<CommandTalk>(instrument);
    case InstrumentKind::Sound:
      return std::make_unique<SoundTalk>(instrument);
  }
  return nullptr;
}

Answer answerOf(const InstrumentReading& reading, double written, double arrivedS, double roundTripS) {
  const double value = reading.unit.toStored(written);
  return {std::isfinite(value) ? value : kMissing, arrivedS, roundTripS, kMissing, {}};
}

Answer faultOf(std::string why) {
  Answer answer;
  answer.fault = std::move(why);
  return answer;
}

}  // namespace ash
