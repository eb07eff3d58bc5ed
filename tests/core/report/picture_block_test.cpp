// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of setups on the page.
#include "report/picture_block.h"

#include <catch2/catch.hpp>

#include "report/page_blocks.h"
#include "system/base64.h"
#include "tests/support/made_study.h"

using namespace ash;
using namespace ash::tests;

namespace {

// The head of a PNG; what follows is nobody's business here.
const std::string kPng = "\x89PNG\r\n\x1a\n and so on";

StudyReport withPicture(const std::string& type, const std::string& bytes, const std::string& words) {
  StudyPlan plan;
  plan.reference = "Mesh";
  StudyReport report = madeStudy({{.setup = "Mesh", .repeats = 2}, {.setup = "Solid", .repeats = 2}}, plan);
  report.study.setups[0].id = 7;
  report.study.setups[1].id = 9;
  Attachment kept;
  kept.setup = 9;
  kept.type = type;
  kept.name = "side.png";
  kept.text = words;
  report.pictures = picturesAmong(report.study, {kept});
  REQUIRE(report.pictures.size() == 1);
  report.pictures.front().bytes = bytes;
  return report;
}

std::string block(const StudyReport& report, PageForm form) { return picturesOfSetups(report, form).str(); }

}  // namespace

TEST_CASE("bytesAsTextAreThoseOfTheStandard") {
  // RFC 4648, 10.
  const std::pair<const char*, const char*> vectors[] = {{"", ""},
                                                         {"f", "Zg=="},
                                                         {"fo", "Zm8="},
                                                         {"foo", "Zm9v"},
                                                         {"foob", "Zm9vYg=="},
                                                         {"fooba", "Zm9vYmE="},
                                                         {"foobar", "Zm9vYmFy"}};
  for (const auto& [bytes, letters] : vectors) CHECK(base64Of(bytes) == letters);
  // Longer than a block of three mebibytes: no padding inside, and every three bytes as before.
  const std::string many = base64Of(std::string((3U << 20) + 3, 'f'));
  CHECK(many.size() == (4U << 20) + 4);
  CHECK(many.find_first_not_of("Zm") == std::string::npos);
}

TEST_CASE("aPictureOfASetupStandsOnThePageItself") {
  const StudyReport report = withPicture("image/png", kPng, "the side, settled");
  const std::string html = block(report, PageForm::Either);
  CHECK(html.find("src=\"data:image/png;base64," + base64Of(kPng) + "\"") != std::string::npos);
  CHECK(html.find("alt=\"Picture of Solid: the side, settled\"") != std::string::npos);
  const std::string page = htmlPage(report);
  CHECK(page.find("<h2>Pictures</h2>") != std::string::npos);
  CHECK(page.find("data:image/png;base64,") != std::string::npos);
}

TEST_CASE("whereNothingMayDecodeAPictureIsNamed") {
  const std::string words = block(withPicture("image/png", kPng, "the side"), PageForm::Wide);
  CHECK(words.find("<img") == std::string::npos);
  CHECK(words.find("Solid: the side") != std::string::npos);
  CHECK(words.find("side.png") != std::string::npos);
}

TEST_CASE("whatIsNotThePictureItSaysIsNotPutOnThePage") {
  CHECK(block(withPicture("image/jpeg", kPng, ""), PageForm::Either).find("<img") == std::string::npos);
  CHECK(block(withPicture("image/png", "<svg onload='x'>", ""), PageForm::Either).find("<img") == std::string::npos);
  CHECK(block(withPicture("image/png", "", ""), PageForm::Either).find("<img") == std::string::npos);
  // Too large for a page that is sent around.
  CHECK(block(withPicture("image/png", kPng + std::string(13U << 20, 'x'), ""), PageForm::Either).find("<img") ==
        std::string::npos);
}

TEST_CASE("hostileWordsOfAPictureAreText") {
  const std::string html = block(withPicture("image/png", kPng, "\"><script>alert(1)</script>"), PageForm::Either);
  CHECK(html.find("<script") == std::string::npos);
  CHECK(html.find("&lt;script&gt;") != std::string::npos);
  CHECK(html.find("alt=\"Picture of Solid: &quot;&gt;") != std::string::npos);
}

TEST_CASE("onlyPicturesOfTheStudysOwnSetupsAreTaken") {
  Study study;
  study.setups = {{"Mesh", {}, {}, {}, 7}, {"Kept nowhere", {}, {}, {}, 0}};
  Attachment other, sound, ofRun, own;
  other.setup = 8;
  other.type = own.type = ofRun.type = "image/png";
  sound.setup = 7;
  sound.type = "audio/wav";
  ofRun.run = "mesh-1";
  own.setup = 7;
  own.id = 42;
  const auto pictures = picturesAmong(study, {other, sound, ofRun, own});
  REQUIRE(pictures.size() == 1);
  CHECK(pictures.front().kept.id == 42);
  CHECK(pictures.front().setup == 0);
}
