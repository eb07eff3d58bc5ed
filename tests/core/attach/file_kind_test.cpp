// SPDX-License-Identifier: GPL-3.0-or-later
#include "attach/file_kind.h"

#include <catch2/catch.hpp>

#include "tests/support/temp_folder.h"

using namespace ash;
using namespace std::string_view_literals;

TEST_CASE("aNameThatSaysPictureIsHeldAgainstTheBytes") {
  CHECK(isCalledPicture("Camera.JPG"));
  CHECK(isCalledPicture("a.b.heic"));
  for (const char* name : {"jpg", "drawing.svg", "log.csv", "picture.png.zip", ""}) CHECK_FALSE(isCalledPicture(name));
}

TEST_CASE("aFileIsWhatItsBytesSayAndNotItsName") {
  CHECK(fileKindOf(tests::readFile(std::string(TEST_DATA) + "/pictures/camera.jpg")).type == "image/jpeg");
  CHECK(fileKindOf(tests::readFile(std::string(TEST_DATA) + "/pictures/wide.png")).type == "image/png");
  for (const auto& [bytes, type, isPicture] :
       {std::tuple("GIF89a"sv, "image/gif"sv, true), std::tuple("RIFF\x10\0\0\0WEBPVP8 "sv, "image/webp"sv, true),
        std::tuple("RIFF\x10\0\0\0WAVEfmt "sv, "audio/vnd.wave"sv, false),
        std::tuple("II*\0\x08"sv, "image/tiff"sv, true), std::tuple("OggS\0"sv, "audio/ogg"sv, false),
        std::tuple("%PDF-1.7"sv, "application/pdf"sv, false),
        std::tuple("\0\0\0\x18"
                   "ftypmp42"sv,
                   "video/mp4"sv, false),
        std::tuple("BM and more text"sv, "text/plain"sv, false), std::tuple("RIFF"sv, "text/plain"sv, false),
        std::tuple("<svg/>"sv, "text/plain"sv, false),
        std::tuple("\x7f"
                   "ELF\x02\x01\0"sv,
                   "application/octet-stream"sv, false),
        std::tuple("\0\0\0\x18"
                   "ftypheic"sv,
                   "image/heic"sv, true),
        std::tuple("\0\0\0\x1c"
                   "ftypavif"sv,
                   "image/avif"sv, true),
        std::tuple(""sv, "application/octet-stream"sv, false)}) {
    INFO(bytes);
    CHECK(fileKindOf(bytes).type == type);
    CHECK(fileKindOf(bytes).isPicture == isPicture);
  }
}
