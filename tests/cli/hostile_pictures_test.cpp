// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures that were changed at random: each is kept without what its camera wrote, or refused with a sentence.
#include <catch2/catch.hpp>
#include <filesystem>
#include <random>

#include "attach/take_file.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

PictureReader realReader() {
  return PictureReader((std::filesystem::path(ASHG_PROGRAM).parent_path() / kPictureProgram).string());
}

std::string changed(std::string bytes, std::mt19937& random) {
  const auto any = [&](size_t most) { return std::uniform_int_distribution<size_t>(0, most - 1)(random); };
  for (size_t i = 0, times = 1 + any(12); i < times; ++i) {
    const size_t at = 8 + any(bytes.size() - 8);  // it stays a picture by its first bytes
    switch (any(4)) {
      case 0:
        bytes[at] = static_cast<char>(any(256));
        break;
      case 1:
        bytes.erase(at, any(40));
        break;
      case 2:
        bytes.insert(at, std::string(any(300), static_cast<char>(any(256))));
        break;
      default:
        bytes.resize(std::max<size_t>(12, at));
    }
  }
  return bytes;
}

}  // namespace

TEST_CASE("picturesThatWereChangedAtRandomAreKeptCleanOrRefused") {
  const PictureReader reader = realReader();
  std::mt19937 random(4);
  int kept = 0, refused = 0;
  for (const char* name : {"camera.jpg", "wide.png"}) {
    const std::string whole = readFile(std::string(TEST_DATA) + "/pictures/" + name);
    for (int round = 0; round < 60; ++round) {
      INFO(name << ", round " << round);
      const auto taken = takeBytes(name, changed(whole, random), reader);
      taken ? ++kept : ++refused;
      if (!taken) {
        CHECK(taken.error().message.find(name) == 0);
        CHECK(taken.error().message.find('\n') == std::string::npos);
        continue;
      }
      CHECK((taken->about.type == "image/jpeg" || taken->about.type == "image/png"));
      for (const char* told : {"Linnet", "SN-0042", "GPS"}) CHECK(taken->bytes.find(told) == std::string::npos);
    }
  }
  // Both happen, else this would say nothing.
  CHECK(kept > 5);
  CHECK(refused > 20);
}

TEST_CASE("aPictureIsDrawnWithinItsBoundsAndNeverEnlarged") {
  const PictureReader reader = realReader();
  const std::string wide = readFile(std::string(TEST_DATA) + "/pictures/wide.png");  // 3000 × 10
  const auto small = reader.draw("wide.png", wide, 300, 300);
  REQUIRE(small);
  CHECK(small->width == 300);
  CHECK(small->height == 1);
  CHECK(small->pixels.size() == 300u * 4);
  const auto whole = reader.draw("wide.png", wide, 5000, 5000);
  REQUIRE(whole);
  CHECK(whole->width == 3000);
  CHECK(whole->height == 10);
  // Upright: taken at 64 × 40 by a camera that was held sideways.
  const auto upright = reader.draw("camera.jpg", readFile(std::string(TEST_DATA) + "/pictures/camera.jpg"), 20, 32);
  REQUIRE(upright);
  CHECK(upright->width == 20);
  CHECK(upright->height == 32);
  CHECK_FALSE(reader.draw("x.png", "\x89PNG\r\n\x1a\n", 10, 10));
}
