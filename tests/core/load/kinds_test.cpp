// SPDX-License-Identifier: GPL-3.0-or-later
// Every kind of load: it works, finds a flipped bit, and tells where.
#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <bit>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "load/cache_sizes.h"
#include "load/integer_kernel.h"
#include "load/load_worker.h"
#include "load/scratch_file.h"
#include "load/stream_kernel.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

LoadOptions smallLoad(const std::string& kind, const std::string& folder) {
  LoadOptions options;
  options.kind = LoadKind::fromText(kind);
  options.threads = 1;
  options.seconds = 1;
  options.memoryMb = kind == "cache" ? 0.1 : 8;
  options.width = options.height = 64;
  options.folder = kind == "storage" ? folder : "";
  options.fileMb = 16;
  return options;
}

Result<LoadReport> runSmall(const LoadOptions& options) {
  return runLoad(
      options, [] { return false; }, [](const LoadProgress&) {});
}

// A machine without a driver draws nothing; then there is nothing to test.
bool isMissingDriver(const std::string& kind, const Result<LoadReport>& report) {
  if (kind != "graphics" || report) return false;
  WARN("graphics not tested: " << report.error().message << " (install libegl1 and libgl1-mesa-dri)");
  return true;
}

const std::vector<std::string> kChecking = {"vector", "integer", "cache", "memory", "mixed", "storage", "graphics"};

}  // namespace

TEST_CASE("everyKindWorksAndFindsNothingWrong") {
  const tests::TempFolder folder;
  for (const std::string& kind : kChecking) {
    INFO(kind);
    LoadOptions options = smallLoad(kind, folder.path());
    options.seconds = 0.5;
    const auto report = runSmall(options);
    if (isMissingDriver(kind, report)) continue;
    REQUIRE(report);
    CHECK(report->parts.front().work > 0);
    CHECK(report->errors() == 0);
    CHECK_FALSE(report->parts.front().unit.empty());
  }
  CHECK(std::filesystem::is_empty(folder.path()));
}

TEST_CASE("aFlippedBitIsFoundByEveryKindAndHasItsPlaceAndTime") {
  const tests::TempFolder folder;
  for (const std::string& kind : kChecking) {
    INFO(kind);
    LoadOptions options = smallLoad(kind, folder.path());
    options.flipAtBlock = 5;
    const auto report = runSmall(options);
    if (isMissingDriver(kind, report)) continue;
    REQUIRE(report);
    CHECK(report->errors() == 1);
    REQUIRE(report->wrong.size() == 1);
    CHECK(report->wrong[0].core >= 0);
    CHECK(report->wrong[0].atS >= 0);
    CHECK(report->wrong[0].atS <= 1.2);
    // What was wrong is no work.
    CHECK(report->parts.front().work > 0);
  }
}

TEST_CASE("aFlippedBitIsFoundInEveryPatternOfMemory") {
  for (const char* pattern : {"triad", "copy", "read", "write"}) {
    INFO(pattern);
    LoadOptions options = smallLoad("memory", "");
    options.seconds = 0.3;
    options.pattern = pattern;
    options.flipAtBlock = 7;
    const auto report = runSmall(options);
    REQUIRE(report);
    CHECK(report->errors() == 1);
  }
}

TEST_CASE("wrongResultsAreToldInWords") {
  CHECK(wrongResultsText({}).empty());
  CHECK(wrongResultsText({{1, 5, 1}}) == "1 wrong result on core 5");
  CHECK(wrongResultsText({{1, 5, 1}, {2, 5, 2}}) == "3 wrong results on core 5");
  CHECK(wrongResultsText({{1, 5, 1}, {2, 1, 1}, {3, 2, 2}}) == "4 wrong results on cores 1, 2 and 5");
}

TEST_CASE("streamKernelsComputeWhatTheyShouldAndSumWhatTheyRead") {
  constexpr size_t kCount = 256;
  for (const StreamKernel& kernel : usableStreamKernels()) {
    INFO(kernel.name);
    alignas(64) double a[kCount] = {}, b[kCount], c[kCount];
    std::uint64_t sumB = 0, sumC = 0;
    for (size_t i = 0; i < kCount; ++i) {
      b[i] = 1.0 + static_cast<double>(i);
      c[i] = 3.0 - static_cast<double>(i) / 7;
      sumB += std::bit_cast<std::uint64_t>(b[i]);
      sumC += std::bit_cast<std::uint64_t>(c[i]);
    }
    const StreamSums sums = kernel.triad(a, b, c, kCount);
    CHECK(sums.b == sumB);
    CHECK(sums.c == sumC);
    for (size_t i = 0; i < kCount; ++i) CHECK(a[i] == b[i] / 2 + c[i] / 2);
    CHECK(kernel.copy(a, b, kCount).b == sumB);
    CHECK(std::equal(a, a + kCount, b));
    CHECK(kernel.read(c, kCount).b == sumC);
    kernel.write(a, 2.5, kCount);
    CHECK(std::all_of(a, a + kCount, [](double v) { return v == 2.5; }));
    alignas(64) std::uint64_t words[kCount];
    std::fill(words, words + kCount, 0xff00u);
    CHECK(kernel.toggle(words, 0x0ff0, kCount).b == 0xff00u * kCount);
    CHECK(words[kCount - 1] == 0xf0f0u);
  }
}

TEST_CASE("aTaskIsTheSameWorkOnAnyNumberOfThreads") {
  for (const int threads : {1, 3}) {
    LoadOptions options = smallLoad("integer", "");
    options.threads = threads;
    options.seconds = 20;
    options.work = 0.5;
    const auto report = runSmall(options);
    REQUIRE(report);
    CHECK(report->isTaskDone);
    // Whole blocks of 60,000 rounds of 14 operations.
    const double block = 14 * 60'000 / 1e9;
    CHECK(report->parts.front().work == Approx(std::ceil(0.5 / block) * block));
    CHECK(report->seconds < 20);
  }
}

TEST_CASE("passesAreTimedOneByOneAndFollowEachOther") {
  LoadOptions options = smallLoad("integer", "");
  options.seconds = 30;
  options.passWork = 0.1;
  options.passes = 4;
  const auto report = runSmall(options);
  REQUIRE(report);
  REQUIRE(report->passes.size() == 4);
  CHECK(report->isTaskDone);
  for (size_t i = 0; i < 4; ++i) {
    const Pass& pass = report->passes[i];
    CHECK(pass.startS == (i == 0 ? 0 : report->passes[i - 1].endS));
    CHECK(pass.score == Approx(0.1 / (pass.endS - pass.startS)));
  }
}

TEST_CASE("severalLoadsWorkAtTheSameTime") {
  LoadOptions options = smallLoad("vector", "");
  options.also.push_back(smallLoad("integer", ""));
  const auto report = runSmall(options);
  REQUIRE(report);
  REQUIRE(report->parts.size() == 2);
  CHECK(report->parts[0].kind == "vector");
  CHECK(report->parts[0].work > 0);
  CHECK(report->parts[1].kind == "integer");
  CHECK(report->parts[1].work > 0);
}

TEST_CASE("aStorageFileHasNoNameAndLeavesNothing") {
  const tests::TempFolder folder;
  {
    const auto file = ScratchFile::make(folder.path(), 20'000'000);
    REQUIRE(file);
    CHECK(std::filesystem::is_empty(folder.path()));
  }
  CHECK(std::filesystem::is_empty(folder.path()));
}

TEST_CASE("whatAnEarlierStorageLoadLeftIsClearedAndNothingElse") {
  const tests::TempFolder folder;
  const std::string left = folder.path() + "/" + ScratchFile::kNameStart + "123", used = left + "4";
  std::ofstream(left) << "old";
  std::ofstream(used) << "in use";
  std::ofstream(folder.path() + "/mine") << "mine";
  const int descriptor = open(used.c_str(), O_RDWR | O_CLOEXEC);
  REQUIRE(flock(descriptor, LOCK_EX) == 0);
  CHECK(ScratchFile::clearLeftovers(folder.path()) == 1);
  CHECK_FALSE(std::filesystem::exists(left));
  CHECK(std::filesystem::exists(used));
  CHECK(std::filesystem::exists(folder.path() + "/mine"));
  close(descriptor);
}

TEST_CASE("storageRefusesWhatIsNoFolderAndWhatHasNoRoom") {
  const tests::TempFolder folder;
  std::ofstream(folder.path() + "/file") << "x";
  CHECK(ScratchFile::make(folder.path() + "/file", 1'000'000).error().message.find("is no folder") !=
        std::string::npos);
  CHECK(ScratchFile::make("/dev/null", 1'000'000).error().message.find("is no folder") != std::string::npos);
  const auto tooLarge = ScratchFile::make(folder.path(), 1'000'000'000'000'000);
  REQUIRE_FALSE(tooLarge);
  CHECK(tooLarge.error().kind == ErrorKind::DiskFull);
  CHECK(tooLarge.error().message.find("make room or take a smaller file") != std::string::npos);
  CHECK(std::filesystem::exists(folder.path() + "/file"));
}

TEST_CASE("cachesAreReadAsTheKernelTellsThem") {
  const tests::TempFolder root;
  const auto put = [&](int index, const char* type, int level, const char* size, const char* shared) {
    const std::string at = "sys/devices/system/cpu/cpu0/cache/index" + std::to_string(index) + "/";
    root.write(at + "type", std::string(type) + "\n");
    root.write(at + "level", std::to_string(level) + "\n");
    root.write(at + "size", std::string(size) + "\n");
    root.write(at + "shared_cpu_list", std::string(shared) + "\n");
  };
  put(0, "Data", 1, "48K", "0,8");
  put(1, "Instruction", 1, "32K", "0,8");
  put(2, "Unified", 2, "2048K", "0,8");
  put(3, "Unified", 3, "32M", "0-15");
  const auto levels = cacheLevels(root.path());
  REQUIRE(levels.size() == 3);
  CHECK(levels[0].bytes == 48 * 1024);
  CHECK(levels[1].bytes == 2048 * 1024);
  CHECK(levels[1].sharedBy == 2);
  CHECK(levels[2].bytes == size_t{32} << 20);
  CHECK(levels[2].sharedBy == 16);
}
