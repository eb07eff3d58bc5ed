// SPDX-License-Identifier: GPL-3.0-or-later
// Small files of a tree that looks like a kernel's: overwritten in one piece while others read them.
#include <atomic>
#include <catch2/catch.hpp>
#include <fstream>
#include <thread>

#include "readings/gauges/sysfs_file.h"
#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("aSmallFileThatIsOverwrittenIsNeverEmpty") {
  FakeRoot root;
  root.files("sys/x", {{"limit", "88000000"}});
  const std::string path = root.path("sys/x/limit");
  const char* const values[] = {"5", "140000000", "performance", "45000000"};
  std::atomic<bool> isOver = false;
  std::atomic<int> empty = 0, read = 0;
  std::thread reader([&] {
    while (!isOver) {
      const auto text = readSmallFile(path);
      ++read;
      if (!text || text->empty()) ++empty;
    }
  });
  for (int i = 0; i < 4000; ++i) REQUIRE(overwriteSmallFile(path, values[i % 4]));
  isOver = true;
  reader.join();
  CHECK(read > 0);
  CHECK(empty == 0);
  CHECK(readSmallFile(path) == "45000000");
}

TEST_CASE("aShorterNumberLeavesNothingOfTheLongerOne") {
  FakeRoot root;
  root.files("sys/x", {{"limit", "140000000"}});
  const std::string path = root.path("sys/x/limit");
  REQUIRE(overwriteSmallFile(path, "7"));
  CHECK(readSmallFile(path) == "7");
  CHECK(SysfsFile(path).readInteger(0) == 7);
  CHECK_FALSE(overwriteSmallFile(root.path("sys/x/none"), "7"));
  CHECK_FALSE(std::ifstream(root.path("sys/x/none")));
}
