// SPDX-License-Identifier: GPL-3.0-or-later
// Drives, the claim on a machine, the reserve, what was confirmed.
#include <sys/stat.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>

#include "system/confirmed.h"
#include "system/drive.h"
#include "system/machine_claim.h"
#include "system/runtime_folder.h"
#include "system/space_reserve.h"
#include "tests/support/temp_folder.h"

using namespace ash;
namespace fs = std::filesystem;
using tests::TempFolder;

namespace {

/// /sys as the kernel lays it out: links of /sys/dev/block into the devices' folders.
struct FakeSys : TempFolder {
  void device(const std::string& number, const std::string& folder) {
    fs::create_directories(path("devices/" + folder));
    fs::create_directories(path("dev/block"));
    fs::create_directory_symlink(path("devices/" + folder), path("dev/block/" + number));
  }
};

}  // namespace

TEST_CASE("aPartitionLiesOnItsDriveAndAMappedDeviceOnItsParts") {
  FakeSys sys;
  sys.device("259:0", "pci/nvme0n1");
  sys.device("259:1", "pci/nvme0n1/nvme0n1p1");
  sys.write("devices/pci/nvme0n1/nvme0n1p1/partition", "1\n");
  sys.device("8:0", "ata/sda");
  sys.device("253:0", "virtual/dm-0");
  fs::create_directories(sys.path("devices/virtual/dm-0/slaves"));
  fs::create_directory_symlink(sys.path("devices/pci/nvme0n1/nvme0n1p1"),
                               sys.path("devices/virtual/dm-0/slaves/nvme0n1p1"));
  fs::create_directory_symlink(sys.path("devices/ata/sda"), sys.path("devices/virtual/dm-0/slaves/sda"));
  using Names = std::vector<std::string>;
  CHECK(drivesOfDevice(259, 0, sys.path()) == Names{"nvme0n1"});
  CHECK(drivesOfDevice(259, 1, sys.path()) == Names{"nvme0n1"});
  CHECK(drivesOfDevice(253, 0, sys.path()) == Names{"nvme0n1", "sda"});
  CHECK(drivesOfDevice(0, 30, sys.path()).empty());  // memory, network
  // A device that is its own part ends somewhere.
  sys.device("253:9", "virtual/dm-9");
  fs::create_directories(sys.path("devices/virtual/dm-9/slaves"));
  fs::create_directory_symlink(sys.path("devices/virtual/dm-9"), sys.path("devices/virtual/dm-9/slaves/dm-9"));
  CHECK(drivesOfDevice(253, 9, sys.path()).empty());
}

TEST_CASE("aMachineIsClaimedOnceAndFreeAgain") {
  const TempFolder folder;
  setenv("XDG_RUNTIME_DIR", folder.path().c_str(), 1);
  {
    const auto claim = MachineClaim::take("", "(of s / x)");
    REQUIRE(claim);
    const auto second = MachineClaim::take("", "(of s / y)");
    REQUIRE_FALSE(second);
    CHECK(second.error().message.find("Another recording (of s / x) is at work on this machine") == 0);
    CHECK(MachineClaim::take(folder.path(), "x"));  // a tree is another machine
    const auto moved = std::move(*MachineClaim::take(folder.path(), "x"));
    CHECK_FALSE(MachineClaim::take(folder.path("."), "y"));  // the same tree by another name
  }
  CHECK(MachineClaim::take("", "z"));
}

TEST_CASE("aReserveIsThereUntilItIsGivenBack") {
  const TempFolder folder;
  const std::string path = folder.path("reserve");
  {
    SpaceReserve reserve(path, 65536);
    CHECK(fs::file_size(path) == 65536);
    SpaceReserve moved(std::move(reserve));
    CHECK(moved.release());
    CHECK_FALSE(fs::exists(path));
    CHECK_FALSE(moved.release());
  }
  { SpaceReserve reserve(path, 4096); }
  CHECK_FALSE(fs::exists(path));
  // What is there already is nobody's reserve.
  folder.write("reserve", "precious");
  { SpaceReserve reserve(path, 4096); }
  CHECK(tests::readFile(path) == "precious");
  CHECK(freeSpaceB(path) > 0);
  CHECK(std::isnan(freeSpaceB("/no/such/folder/file")));
}

TEST_CASE("whatWasConfirmedIsKeptForItsUserAlone") {
  const TempFolder folder;
  setenv("XDG_CONFIG_HOME", folder.path("config").c_str(), 1);
  CHECK(confirmedTexts().empty());
  REQUIRE(confirmTexts({"command touch x", "address 10.0.0.1:5025"}));
  REQUIRE(confirmTexts({"knob pwm1"}));
  CHECK(confirmedTexts() == std::set<std::string>{"command touch x", "address 10.0.0.1:5025", "knob pwm1"});
  struct stat file {};
  REQUIRE(stat(folder.path("config/ash-gauge/confirmed.json").c_str(), &file) == 0);
  CHECK((file.st_mode & 0777) == 0600);
  folder.write("config/ash-gauge/confirmed.json", "{\"confirmed\": 5}");
  CHECK(confirmedTexts().empty());
  folder.write("config/ash-gauge/confirmed.json", "[[[[");
  CHECK(confirmedTexts().empty());
  unsetenv("XDG_CONFIG_HOME");
}
