// SPDX-License-Identifier: GPL-3.0-or-later
// `ashg attach`: what is kept of a picture, what is refused, and that it comes back from a package.
#include <SQLiteCpp/SQLiteCpp.h>

#include <catch2/catch.hpp>
#include <filesystem>

#include "book/book.h"
#include "model/json.h"
#include "tests/support/program.h"

using namespace ash;
using namespace ash::tests;

namespace {

// Taken upright by a camera that was held sideways (64 × 40, turned by Exif), with position, name and serial number.
const std::string kCamera = std::string(TEST_DATA) + "/pictures/camera.jpg";

std::string be32(unsigned value) {
  std::string bytes;
  for (int shift = 24; shift >= 0; shift -= 8) bytes += static_cast<char>(value >> shift & 0xff);
  return bytes;
}
// The head of a PNG (https://www.w3.org/TR/png/, 11.2.2) that claims to be of this size; the checksum is that of its
// 17 bytes as `cksum` of a table-driven CRC-32 gives it.
std::string pngOf(unsigned width, unsigned height) {
  const std::string data = "IHDR" + be32(width) + be32(height) + std::string("\x08\x02\x00\x00\x00", 5);
  unsigned crc = 0xffffffffu;
  for (const char c : data) {
    crc ^= static_cast<unsigned char>(c);
    for (int bit = 0; bit < 8; ++bit) crc = crc & 1u ? crc >> 1 ^ 0xedb88320u : crc >> 1;
  }
  return "\x89PNG\r\n\x1a\n" + be32(13) + data + be32(~crc);
}

std::string bookWithRun(const Bench& bench, const std::string& name) {
  bench.write("log.csv", "time,CPU [°C]\n0,40\n1,41\n2,42\n3,43\n");
  const Ran in = bench.ashg("import log.csv --book " + name + " --study Panels --setup Mesh --json");
  return valueIn(parseObject(in.out), "run", std::string());
}

Json listOf(const Bench& bench, const std::string& arguments) {
  return parseObject(bench.ashg("attach --list --json " + arguments).out)["files"];
}

}  // namespace

TEST_CASE("aPictureIsKeptWithoutWhatItsCameraWroteIntoIt") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook");
  REQUIRE(readFile(kCamera).find("Linnet Marsh") != std::string::npos);
  const Ran kept = bench.ashg("attach " + run + " '" + kCamera +
                              "' --book a.ashbook --at 2 --text 'the hinge' --reading 'surface hinge 47.5' --json");
  INFO(kept.err);
  REQUIRE(kept.status == 0);
  const Json file = parseObject(kept.out)["files"][0];
  CHECK(file["run"] == run);
  CHECK(file["name"] == "camera.jpg");
  CHECK(file["type"] == "image/jpeg");
  CHECK(file["at_s"] == 2.0);
  CHECK(file["text"] == "the hinge");
  CHECK(file["width"] == 40);  // as it is to be looked at
  CHECK(file["height"] == 64);
  CHECK(file["taken"] == "2026-11-03T19:04:11");
  const std::string remarks = file["remarks"];
  CHECK(remarks.find("the place where it was taken") != std::string::npos);
  CHECK(remarks.find("whose picture or camera it is") != std::string::npos);
  REQUIRE(bench.ashg("attach --get 1 --to out.jpg --book a.ashbook").status == 0);
  const std::string bytes = readFile(bench.path("out.jpg"));
  CHECK(static_cast<long long>(bytes.size()) == file["bytes"]);
  for (const char* told : {"Linnet", "SN-0042", "GPS", "Exif", "Teasel"}) CHECK(bytes.find(told) == std::string::npos);
  // The value that it shows is a reading of the run at that moment.
  const auto log = Book::open(bench.path("a.ashbook"), BookAccess::ReadOnly)->readRun(run);
  REQUIRE(log);
  REQUIRE(log->facts.events.size() == 1);
  CHECK(log->facts.events[0].role.text() == "surface.hinge");
  CHECK(log->facts.events[0].value == 47.5);
  CHECK(log->facts.events[0].atS == 2.0);
  CHECK("sha256:" + std::string(log->facts.events[0].extra["attachment"]) == file["hash"]);
}

TEST_CASE("aLargePictureIsScaledAndOtherFilesStayAsTheyAre") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook");
  bench.write("notes.txt", "the fan ticks at 900 1/min\n");
  const std::string large = std::string(TEST_DATA) + "/pictures/wide.png";  // 3000 × 10
  const Ran kept = bench.ashg("attach 'Panels / Mesh' notes.txt '" + large + "' --book a.ashbook --json");
  INFO(kept.err);
  REQUIRE(kept.status == 0);
  const Json files = parseObject(kept.out)["files"];
  REQUIRE(files.size() == 2);
  CHECK(files[0]["setup"] == "Panels / Mesh");
  CHECK(files[0]["type"] == "text/plain");
  CHECK(files[1]["width"] == 2560);
  CHECK((files[1]["height"] == 8 || files[1]["height"] == 9));
  CHECK(std::string(files[1]["remarks"]).find("3000 × 10") != std::string::npos);
  REQUIRE(bench.ashg("attach --get 1 --to out.txt --book a.ashbook").status == 0);
  CHECK(readFile(bench.path("out.txt")) == "the fan ticks at 900 1/min\n");
  CHECK(listOf(bench, "--book a.ashbook").size() == 2);
  CHECK(listOf(bench, run + " --book a.ashbook").empty());
  CHECK(bench.ashg("attach --off 1 --book a.ashbook").status == 0);
  CHECK(listOf(bench, "'Panels/Mesh' --book a.ashbook").size() == 1);
  CHECK(bench.ashg("attach --off 1 --book a.ashbook").status == 2);
}

TEST_CASE("brokenHugeAndHostilePicturesLeaveNothingBehind") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook");
  const std::string camera = readFile(kCamera);
  bench.write("cut.jpg", camera.substr(0, camera.size() * 3 / 4));
  bench.write("head.png", pngOf(40, 30));
  bench.write("bomb.png", pngOf(60'000, 60'000));
  bench.write("no.jpg", "\xff\xd8\xff\xe0 and no more");
  bench.write("short.bmp", std::string("BM\xff\xff\x01\x00\x00\x00\x00\x00", 10) + std::string(60, '\x01'));
  bench.write("empty.png", "");
  bench.write("words.png", "not a picture at all");
  bench.write("phone.heic", std::string("\0\0\0\x18"
                                        "ftypheic",
                                        12) +
                                std::string(400, '\x01') + "GPS 50 N");
  bench.write("drawing.svg", "<svg xmlns='http://www.w3.org/2000/svg'><script>1</script></svg>");
  std::filesystem::create_directories(bench.path("folder"));
  std::filesystem::resize_file((bench.write("large.bin", "x"), bench.path("large.bin")), (32u << 20) + 1);
  for (const char* name : {"cut.jpg", "head.png", "bomb.png", "no.jpg", "short.bmp", "empty.png", "words.png",
                           "phone.heic", "folder", "none.png", "large.bin"}) {
    INFO(name);
    // The good one beside it is not kept either.
    const Ran refused = bench.ashg("attach " + run + " '" + kCamera + "' " + name + " --book a.ashbook");
    INFO(refused.err);
    CHECK(refused.status == 2);
    CHECK(refused.err.find(name) != std::string::npos);
    CHECK(std::count(refused.err.begin(), refused.err.end(), '\n') == 1);
  }
  CHECK(listOf(bench, "--book a.ashbook").empty());
  // A drawing that can hold a program is a file, and no picture.
  const Ran drawing = bench.ashg("attach " + run + " drawing.svg --book a.ashbook --json");
  REQUIRE(drawing.status == 0);
  CHECK(parseObject(drawing.out)["files"][0]["type"] == "text/plain");
}

TEST_CASE("aFileNeedsARunOrASetupAndAMomentThatTheRunHas") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook");
  bench.write("n.txt", "n");
  CHECK(bench.ashg("attach nobody n.txt --book a.ashbook").status == 2);
  CHECK(bench.ashg("attach 'Panels / None' n.txt --book a.ashbook").err.find("Panels / Mesh") != std::string::npos);
  CHECK(bench.ashg("attach " + run + " n.txt --at 4 --book a.ashbook").status == 2);
  CHECK(bench.ashg("attach 'Panels / Mesh' n.txt --at 1 --book a.ashbook").status == 2);
  CHECK(bench.ashg("attach " + run + " n.txt --reading 'surface hinge 47' --book a.ashbook").status == 2);
  CHECK(bench.ashg("attach " + run + " n.txt --at 1 --reading 'note warm' --book a.ashbook").status == 2);
  CHECK(bench.ashg("attach " + run + " --book a.ashbook").status == 2);
  CHECK(listOf(bench, "--book a.ashbook").empty());
}

TEST_CASE("picturesComeBackFromAPackageEachOnce") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook"), again = bookWithRun(bench, "a.ashbook");
  REQUIRE(run != again);
  REQUIRE(bench.ashg("attach 'Panels / Mesh' '" + kCamera + "' --text cooler --book a.ashbook").status == 0);
  REQUIRE(bench.ashg("attach " + again + " '" + kCamera + "' --at 1.5 --book a.ashbook").status == 0);
  bench.write("tick.wav", std::string("RIFF\x04\x00\x00\x00WAVE", 12) + std::string(1, '\0'));
  REQUIRE(bench.ashg("attach " + run + " tick.wav --book a.ashbook").status == 0);
  REQUIRE(bench.ashg("export --study Panels --book a.ashbook --to out").status == 0);
  REQUIRE(bench.ashg("import out --book b.ashbook").status == 0);
  const auto essence = [](Json files) {
    std::vector<std::string> all;
    for (Json& file : files) {
      file.erase("number");
      all.push_back(file.dump());
    }
    std::sort(all.begin(), all.end());
    return all;
  };
  const auto before = essence(listOf(bench, "--book a.ashbook")), after = essence(listOf(bench, "--book b.ashbook"));
  REQUIRE(before.size() == 3);
  CHECK(before == after);
  // The same bytes lie in the package once.
  CHECK(std::distance(std::filesystem::directory_iterator(bench.path("out/files")), {}) == 2);
  // One that was changed on its way is refused with all that came with it.
  for (const auto& file : std::filesystem::directory_iterator(bench.path("out/files"))) {
    if (file.path().extension() == ".wav") bench.write("out/files/" + file.path().filename().string(), "other");
  }
  CHECK(bench.ashg("import out --book c.ashbook").status == 2);
  CHECK_FALSE(std::filesystem::exists(bench.path("c.ashbook")));
}

TEST_CASE("aFileThatIsNoLongerWhatWasKeptIsNotGivenAwayInSilence") {
  const Bench bench;
  const std::string run = bookWithRun(bench, "a.ashbook");
  bench.write("n.txt", "words");
  REQUIRE(bench.ashg("attach " + run + " n.txt --book a.ashbook").status == 0);
  SQLite::Database(bench.path("a.ashbook"), SQLite::OPEN_READWRITE).exec("UPDATE attachment SET content = x'00'");
  const Ran out = bench.ashg("export " + run + " --book a.ashbook --to out");
  CHECK(out.status == 3);
  CHECK(out.err.find("n.txt") != std::string::npos);
  CHECK_FALSE(std::filesystem::exists(bench.path("out")));
  // Taken off, the rest goes out.
  REQUIRE(bench.ashg("attach --off 1 --book a.ashbook").status == 0);
  CHECK(bench.ashg("export " + run + " --book a.ashbook --to out").status == 0);
}

// The page that is one file has the picture's own bytes, as the book keeps them; one that is damaged hides no result.
TEST_CASE("aPictureOfASetupIsOnItsPageAndADamagedOneIsNamed") {
  const Bench bench;
  bookWithRun(bench, "a.ashbook");
  REQUIRE(bench.ashg("attach 'Panels / Mesh' '" + kCamera + "' --text 'the \"side\" <1>' --book a.ashbook").status ==
          0);
  REQUIRE(bench.ashg("attach --get 1 --to kept.jpg --book a.ashbook").status == 0);
  const auto page = [&] {
    const Ran ran = bench.ashg("report Panels --book a.ashbook --to page.html");
    INFO(ran.err);
    REQUIRE(ran.status == 0);
    return readFile(bench.path("page.html/panels.html"));
  };
  // What `base64` of another maker says of the file.
  REQUIRE(std::system(("base64 -w 0 '" + bench.path("kept.jpg") + "' >'" + bench.path("letters") + "'").c_str()) == 0);
  const std::string letters = readFile(bench.path("letters"));
  REQUIRE(letters.size() > 100);
  const std::string whole = page();
  CHECK(whole.find("src=\"data:image/jpeg;base64," + letters + "\"") != std::string::npos);
  CHECK(whole.find("alt=\"Picture of Mesh: the &quot;side&quot; &lt;1&gt;\"") != std::string::npos);
  SQLite::Database(bench.path("a.ashbook"), SQLite::OPEN_READWRITE).exec("UPDATE attachment SET content = x'00'");
  const std::string without = page();
  CHECK(without.find("<img") == std::string::npos);
  CHECK(without.find("camera.jpg") != std::string::npos);
}
