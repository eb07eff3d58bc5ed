// SPDX-License-Identifier: GPL-3.0-or-later
// What is made of a decoder that does not do what it should: stand-ins for one that a picture has taken over.
#include "attach/picture_reader.h"

#include <catch2/catch.hpp>
#include <filesystem>

#include "attach/take_file.h"
#include "system/short_process.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

class Decoders : public TempFolder {
 public:
  /// A decoder that does what the shell's commands say.
  PictureReader that(const std::string& commands) const {
    write("decoder", "#!/bin/sh\n" + commands + "\n");
    std::filesystem::permissions(path("decoder"), std::filesystem::perms::owner_all);
    return PictureReader(path("decoder"));
  }
};

constexpr char kJpeg[] = "\xff\xd8\xff\xe0";

}  // namespace

TEST_CASE("whatADecoderTellsIsBelievedOnlyAsFarAsItHoldsTogether") {
  const Decoders decoders;
  for (const char* commands :
       {"exit 0", "echo rubbish", "kill -SEGV $$", "echo '{\"width\":2,\"height\":2}'",
        "echo '{\"width\":-1,\"height\":-4}'; printf 1234", "echo '[]'; exit 0",
        "echo '{\"width\":99,\"height\":1}'; head -c 396 /dev/zero", "head -c 40000 /dev/zero"}) {
    INFO(commands);
    CHECK_FALSE(decoders.that(commands).draw("a.jpg", kJpeg, 10, 10));
    CHECK_FALSE(decoders.that(commands).keep("a.jpg", kJpeg));
  }
  const auto drawn = decoders.that("echo '{\"width\":2,\"height\":1}'; printf 12345678").draw("a.jpg", kJpeg, 10, 10);
  REQUIRE(drawn);
  CHECK(drawn->pixels == "12345678");
  const auto refused = decoders.that("echo '{\"refused\":\"is\\u001bcut off\"}'; exit 1").keep("a.jpg", kJpeg);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message == "a.jpg is cut off.");
  CHECK(PictureReader("").keep("a.jpg", kJpeg).error().kind == ErrorKind::Environment);
}

TEST_CASE("aHelperThatDoesNotEndIsEndedWithWhatItStarted") {
  const TempFolder folder;
  const std::string hangs = "sleep 100 & echo $! > " + folder.path("child") + "; cat > /dev/null; wait";
  const auto answer = answerOf({"/bin/sh", {"-c", hangs}, 0.3}, "input");
  REQUIRE(answer);
  CHECK(answer->isLate);
  CHECK(answer->status == -9);
  // Gone, or not yet collected by whoever adopted it; the kernel takes its time to end what was killed.
  const std::string stat = "/proc/" + std::to_string(std::stoi(readFile(folder.path("child")))) + "/stat";
  const auto isGone = [&] {
    const std::string state = readFile(stat);
    return state.empty() || state.find(") Z ") != std::string::npos || state.find(") X ") != std::string::npos;
  };
  CHECK(eventually(isGone));
}

TEST_CASE("aHelperGetsItsBytesAndGivesBackAsManyAsItMay") {
  const std::string input(300'000, '\xfe');
  const auto answer = answerOf({"/bin/cat", {}, 10}, input);
  REQUIRE(answer);
  CHECK(answer->status == 0);
  CHECK(answer->output == input);
  CHECK_FALSE(answerOf({"/bin/cat", {}, 10, 1000}, input));
  CHECK_FALSE(answerOf({"/nowhere/cat", {}, 10}, input));
  CHECK(answerOf({"/bin/sh", {"-c", "exit 7"}, 10}, "")->status == 7);
}

TEST_CASE("aFileIsTakenByItsOwnNameWithoutFoldersAndControls") {
  const TempFolder folder;
  folder.write("a\x1b[31mb.txt", "words");
  const auto taken = takeFile(folder.path("a\x1b[31mb.txt"), PictureReader(""));
  REQUIRE(taken);
  CHECK(taken->about.name.find('\x1b') == std::string::npos);
  CHECK(taken->about.name.find('/') == std::string::npos);
  CHECK(taken->bytes == "words");
  CHECK_FALSE(taken->remarks.empty());
  CHECK(takeBytes("../../x", "y", PictureReader(""))->about.name == "x");
}
