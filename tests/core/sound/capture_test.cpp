// SPDX-License-Identifier: GPL-3.0-or-later
// A capture device through ALSA's own file plug-in.
#include <catch2/catch.hpp>

#include "sound/capture.h"
#include "tests/support/sounds.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("samplesOfADeviceComeAsTheyWere") {
  const Samples sound = toneOf(440, -12, 0.2);
  const FileMicrophone microphone(sound);
  Capture capture;
  REQUIRE(capture.open("bench"));
  CHECK(capture.rateHz() == 48'000);
  CHECK(capture.identity() == "48000 Hz");
  std::vector<float> samples;
  const auto read = capture.read(samples, 4800, 0.5);
  REQUIRE(read);
  REQUIRE(*read == Capture::Read::Samples);
  REQUIRE(samples.size() == 4800);
  for (size_t i = 0; i < samples.size(); i += 97) CHECK(samples[i] == Approx(sound[i]).margin(1e-6));
}

TEST_CASE("aDeviceThatIsNotThereIsToldByItsName") {
  const FileMicrophone microphone(Samples(10));
  Capture capture;
  const Status opened = capture.open("nowhere");
  REQUIRE_FALSE(opened);
  CHECK(opened.error().message.starts_with("there is no capture device “nowhere”"));
}
