// SPDX-License-Identifier: GPL-3.0-or-later
// Packages as one zip file: out and in again, and zip files that are made to do harm.
#include "package/zip_file.h"

#include <zip.h>

#include <catch2/catch.hpp>
#include <filesystem>

#include "book/book.h"
#include "book/run_import.h"
#include "book/whole_run.h"
#include "package/package.h"
#include "tests/support/made_reading.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

namespace fs = std::filesystem;

// A zip file with these entries, by the library and not by ours.
void makeZip(const std::string& path, const std::vector<std::pair<std::string, std::string>>& entries) {
  int error = 0;
  zip_t* zip = zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &error);
  REQUIRE(zip != nullptr);
  for (const auto& [name, bytes] : entries) {
    zip_source_t* source = zip_source_buffer(zip, bytes.data(), bytes.size(), 0);
    REQUIRE(zip_file_add(zip, name.c_str(), source, ZIP_FL_ENC_UTF_8) >= 0);
  }
  REQUIRE(zip_close(zip) == 0);
}

std::string runIn(const std::string& book) {
  RunInfo info;
  info.study = "Panels";
  info.setup = "Mesh";
  info.load = "vector";
  REQUIRE(Book::openOrCreate(book));
  auto import = RunImport::begin(book, info, {{"log", {readingCalled("cpu.temp")}}});
  REQUIRE(import);
  for (int i = 0; i < 500; ++i) REQUIRE(import->addSweep(0, i * 0.5, {40 + i / 7.0}));
  REQUIRE(import->finish(info.started, 0.5, Outcome::TakenIn));
  return info.id;
}

size_t leftBeside(const TempFolder& folder) {
  size_t count = 0;
  for (const auto& entry : fs::directory_iterator(folder.path())) {
    const std::string name = entry.path().filename().string();
    count += name.find(".part") != std::string::npos;
  }
  return count;
}

}  // namespace

TEST_CASE("aPackageIsOneZipFileAndComesBackFromIt") {
  const TempFolder folder;
  const std::string run = runIn(folder.path("a.ashbook"));
  REQUIRE(writePackage(folder.path("a.ashbook"), {{run}, "Panels", "CC-BY-4.0"}, folder.path("out.zip")));
  CHECK(isZip(folder.path("out.zip")));
  CHECK(isPackage(folder.path("out.zip")));
  CHECK_FALSE(isZip(folder.path("a.ashbook")));
  CHECK_FALSE(writePackage(folder.path("a.ashbook"), {{run}, "", ""}, folder.path("out.zip")));
  // Others can read what is in it.
  int error = 0;
  zip_t* zip = zip_open(folder.path("out.zip").c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &error);
  REQUIRE(zip != nullptr);
  CHECK(zip_name_locate(zip, "datapackage.json", 0) >= 0);
  CHECK(zip_name_locate(zip, (run + "/samples-1.csv").c_str(), 0) >= 0);
  zip_discard(zip);
  const auto ids = readPackage(folder.path("out.zip"), folder.path("b.ashbook"));
  REQUIRE(ids);
  CHECK(*ids == std::vector<std::string>{run});
  const auto before = readWholeRun(folder.path("a.ashbook"), run), after = readWholeRun(folder.path("b.ashbook"), run);
  REQUIRE(after);
  // What the package was called and its licence came along.
  WholeRun bare = *after;
  CHECK(bare.row["extra"].erase("package") == 1);
  CHECK(before->row == bare.row);
  CHECK(before->sources[0].columns == after->sources[0].columns);
  CHECK(leftBeside(folder) == 0);
}

TEST_CASE("aZipFileThatLeadsOutOrIsNoPackageLeavesNothing") {
  const TempFolder folder;
  fs::create_directories(folder.path("in"));
  for (const char* name :
       {"../out.txt", "/tmp/ash-zip-test-out.txt", "a/../../out.txt", "a\\..\\out.txt", "c:out.txt"}) {
    makeZip(folder.path("in/x.zip"), {{"datapackage.json", "{}"}, {name, "harm"}});
    const auto refused = readPackage(folder.path("in/x.zip"), folder.path("in/b.ashbook"));
    INFO(name);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().message.find("leads out") != std::string::npos);
    CHECK_FALSE(fs::exists(folder.path("out.txt")));
    CHECK_FALSE(fs::exists("/tmp/ash-zip-test-out.txt"));
    fs::remove(folder.path("in/x.zip"));
  }
  makeZip(folder.path("logs.zip"), {{"a.csv", "time,x\n0,1\n"}});
  CHECK(readPackage(folder.path("logs.zip"), folder.path("b.ashbook")).error().message.find("no data package") !=
        std::string::npos);
  CHECK_FALSE(fs::exists(folder.path("b.ashbook")));
  CHECK(leftBeside(folder) == 0);
}

TEST_CASE("aZipFileThatSwellsIsGivenUp") {
  const TempFolder folder;
  // 400 MiB of zeros are some 400 kB: more than 1,000 times as much.
  makeZip(folder.path("x.zip"), {{"zeros", std::string(400 << 20, '\0')}});
  REQUIRE(fs::file_size(folder.path("x.zip")) * 1000 < size_t{400} << 20);
  const Status refused = unzipInto(folder.path("x.zip"), folder.path("to"));
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message.find("more than a package may have") != std::string::npos);
}

TEST_CASE("aZipFileThatIsCutOrChangedIsRefused") {
  const TempFolder folder;
  makeZip(folder.path("x.zip"), {{"a", std::string(5000, 'a') + "end"}, {"b", "bbb"}});
  const std::string whole = readFile(folder.path("x.zip"));
  for (const size_t keep : {size_t{4}, whole.size() / 2, whole.size() - 3}) {
    folder.write("cut.zip", whole.substr(0, keep));
    CHECK_FALSE(unzipInto(folder.path("cut.zip"), folder.path("to")));
  }
  std::string changed = whole;
  changed[whole.find("bbb")] = 'c';  // stored as it is; its checksum no longer fits
  folder.write("changed.zip", changed);
  CHECK_FALSE(unzipInto(folder.path("changed.zip"), folder.path("to2")));
  CHECK(unzipInto(folder.path("x.zip"), folder.path("to3")));
  CHECK(readFile(folder.path("to3/b")) == "bbb");
}
