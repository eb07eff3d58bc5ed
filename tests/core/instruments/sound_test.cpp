// SPDX-License-Identifier: GPL-3.0-or-later
// A microphone as an instrument: levels each interval, calibrated or not, and what is no level at all.
#include <catch2/catch.hpp>
#include <cmath>

#include "instruments/calibration.h"
#include "instruments/instrument_file.h"
#include "instruments/instrument_source.h"
#include "system/clock.h"
#include "tests/support/patience.h"
#include "tests/support/sounds.h"

using namespace ash;
using namespace ash::tests;

namespace {

Result<std::vector<Instrument>> microphonesOf(const std::string& more) {
  return parseInstruments(
      R"({"instruments": 1, "list": [{"name": "mic", "kind": "sound", "device": "bench")" + more + "}]}", "file");
}

Instrument microphoneOf(const std::string& more) {
  const auto list = microphonesOf(more);
  REQUIRE(list);
  return list->front();
}

}  // namespace

TEST_CASE("aMicrophoneTellsItsLevelBandsAndTonesAtEachInterval") {
  const FileMicrophone file(toneOf(2000, -40, 30) + noiseOf(-75, 30));
  InstrumentSource source(microphoneOf(
      R"(, "interval_s": 0.5, "calibration_db": 110, "readings": [{"role": "noise", "place": "50 cm"}, {"role": "noise.fast"}])"));
  REQUIRE(eventually([&] { return source.state().answers >= 2 * 29; }));
  const Sweep sweep = source.sweep();
  const auto valueOf = [&](std::string_view role) {
    for (size_t i = 0; i < source.info().readings.size(); ++i) {
      if (source.info().readings[i].role == role) return sweep.values[i];
    }
    return -1.0;
  };
  // A-weighting at 2 kHz is 1.2 dB (IEC 61672-1, table 3).
  CHECK(valueOf("noise") == Approx(110 - 40 + 1.2).margin(0.1));
  CHECK(valueOf("noise.fast") == Approx(110 - 40 + 1.2).margin(0.1));
  CHECK(valueOf("noise.band2000") == Approx(110 - 40 + 1.2).margin(0.1));
  CHECK(valueOf("noise.band500") < 60);
  CHECK(valueOf("noise.tone1") == Approx(2000).margin(1));
  CHECK(valueOf("noise.tone1.over") > 20);
  CHECK(std::isnan(valueOf("noise.tone2")));
  CHECK(source.info().readings[0].place == "50 cm");
  CHECK(source.state().identity == "48000 Hz, full scale is 110.0 dB");
}

TEST_CASE("aMicrophoneGivesNoMoreThanTimeHasBrought") {
  // The file would give half a minute in a moment.
  const FileMicrophone file(toneOf(1000, -40, 30));
  const double beganS = bootTimeS();
  InstrumentSource source(microphoneOf(R"(, "interval_s": 0.25, "spectrum": false)"));
  REQUIRE(eventually([&] { return source.state().answers >= 6; }));
  CHECK(bootTimeS() - beganS > 0.9 * (0.5 + 6 * 0.25) - 0.25);
}

TEST_CASE("withoutACalibrationItIsNoDba") {
  const FileMicrophone file(toneOf(1000, -40, 30));
  InstrumentSource source(microphoneOf(R"(, "interval_s": 0.3, "spectrum": false)"));
  REQUIRE(eventually([&] { return source.state().answers > 0; }));
  const Reading& reading = source.info().readings.at(0);
  CHECK(reading.role == "noise.relative");
  CHECK(reading.unit == "dB");
  CHECK(reading.quantity == Quantity::Level);
  CHECK(source.sweep().values[0] == Approx(-40).margin(0.05));
  CHECK(source.state().identity == "48000 Hz, not calibrated");
}

TEST_CASE("aClippedIntervalIsMissingAndNotedOnceForAsLongAsItLasts") {
  Samples loud = toneOf(1000, 3, 1.5);
  for (float& sample : loud) sample = std::clamp(sample, -1.0F, 1.0F);
  const FileMicrophone file(joined(joined(joined(toneOf(1000, -20, 1.5), loud), toneOf(1000, -20, 1.5)), loud));
  InstrumentSource source(microphoneOf(R"(, "interval_s": 0.25, "spectrum": false)"));
  std::vector<std::string> told;
  bool hasBeenMissing = false;
  REQUIRE(eventually([&] {
    for (std::string& text : source.takeTold()) told.push_back(std::move(text));
    const InstrumentState state = source.state();
    if (!state.last.empty() && state.last[0].isOverload)
      hasBeenMissing = hasBeenMissing || std::isnan(state.last[0].value);
    return told.size() >= 2;
  }));
  CHECK(hasBeenMissing);
  CHECK(told == std::vector<std::string>(
                    2, "mic: the sound is clipped: it is louder than full scale; turn the recording level down."));
}

TEST_CASE("aMicrophoneThatIsOffIsMissingAndSaysSo") {
  const FileMicrophone file(Samples(48'000 * 5));
  InstrumentSource source(microphoneOf(R"(, "interval_s": 0.25)"));
  REQUIRE(eventually([&] { return source.state().failures > 0; }));
  CHECK(source.whyMissing(0) == "the microphone is off: every sample is the same");
  CHECK(std::isnan(source.sweep().values[0]));
}

TEST_CASE("aFileOfMicrophonesIsRefusedWithItsPlace") {
  const auto refusal = [](const std::string& more) {
    const auto list = microphonesOf(more);
    return list ? std::string() : list.error().message;
  };
  CHECK(refusal(R"(, "readings": [{"role": "cpu.temp"}])") ==
        "file: list[0].readings[0].role of a microphone must be noise or noise.fast.");
  CHECK(refusal(R"(, "interval_s": 0.2, "spectrum": true)") ==
        "file: list[0].spectrum needs an interval_s of 0.5 or more.");
  CHECK_FALSE(refusal(R"(, "calibration_db": 900)").empty());
  CHECK_FALSE(refusal(R"(, "address": "x")").empty());
  CHECK(refusal(R"(, "interval_s": 0.2)").empty());
  CHECK(microphoneOf(R"(, "interval_s": 0.2)").readings.size() == 1);
  CHECK(microphoneOf("").readings.size() == 1 + 21 + 6);
}

TEST_CASE("whatIsWrittenOfAMicrophoneIsReadAgain") {
  const Instrument first =
      microphoneOf(R"(, "calibration_db": 104.25, "readings": [{"role": "noise.fast", "accuracy": "1.5 dBA"}])");
  const Json written = instrumentToJson(first);
  CHECK(written["readings"].size() == 1);
  CHECK(written["readings"][0]["role"] == "noise.fast");
  const auto again = parseInstruments(Json{{"instruments", 1}, {"list", {written}}}.dump(), "file");
  REQUIRE(again);
  CHECK(again->front().calibrationDb == 104.25);
  CHECK(again->front().readings.size() == first.readings.size());
  CHECK(again->front().readings[0].accuracy.plusMinus == 1.5);
}

TEST_CASE("oneShownLevelTiesFullScale") {
  const FileMicrophone file(toneOf(1000, -62, 30));
  Instrument microphone = microphoneOf(R"(, "interval_s": 0.2)");
  const auto levels = listenTo(microphone, 1);
  REQUIRE(levels);
  CHECK(levels->size() == 5);
  const auto calibration = calibrationFrom(*levels, microphone.calibrationDb, 38.2);
  REQUIRE(calibration);
  // Full scale is as far over the tone as the tone is below it.
  CHECK(calibration->fullScaleDb == Approx(38.2 + 62).margin(0.02));
  CHECK(calibration->intervals == 5);
  // Levels that were taken with a calibration: what counts is what it is then.
  CHECK(calibrationFrom({40, 40}, 100, 38)->fullScaleDb == Approx(98));
  CHECK(calibrationFrom({30, 50}, kMissing, 38).error().message.starts_with("The sound was not steady: 20.0 dB"));
  CHECK_FALSE(calibrationFrom({}, kMissing, 38));
}
