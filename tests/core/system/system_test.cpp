// SPDX-License-Identifier: GPL-3.0-or-later
// Drives, the claim on a machine, the reserve, what was confirmed, whole files, the end of descendants.
#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <thread>

#include "system/confirmed.h"
#include "system/descendants.h"
#include "system/drive.h"
#include "system/machine_claim.h"
#include "system/runtime_folder.h"
#include "system/space_reserve.h"
#include "system/whole_file.h"
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
  const ActivePart touch{"load a", ActiveKind::Command, "touch x", {{"command", "touch x"}}};
  const ActivePart elsewhere{"load b", ActiveKind::Command, "touch x", {{"command", "touch x"}}};
  const ActivePart otherPath{
      "load a", ActiveKind::Command, "touch x", {{"command", "touch x"}, {"environment", {{"PATH", "/tmp/bin"}}}}};
  const ActivePart knob{"setup a", ActiveKind::Knob, "pwm1", {{"knobs", {{"pwm1", 128}}}}};
  CHECK(unconfirmedOf({touch, knob}).size() == 2);
  REQUIRE(confirm({touch}));
  REQUIRE(confirm({knob}));
  REQUIRE(confirm({touch}));
  CHECK(confirmedKeys().size() == 2);
  // Wherever it stands it is the same; whatever else decides what runs makes it another.
  CHECK(unconfirmedOf({touch, elsewhere, knob}).empty());
  CHECK(unconfirmedOf({otherPath}) == std::vector<ActivePart>{otherPath});
  CHECK(confirmationKey(touch).size() == 64);
  struct stat file {};
  REQUIRE(stat(folder.path("config/ash-gauge/confirmed.json").c_str(), &file) == 0);
  CHECK((file.st_mode & 0777) == 0600);
  folder.write("config/ash-gauge/confirmed.json", "{\"allowed\": 5}");
  CHECK(confirmedKeys().empty());
  folder.write("config/ash-gauge/confirmed.json", "[[[[");
  CHECK(confirmedKeys().empty());
  unsetenv("XDG_CONFIG_HOME");
}

TEST_CASE("whatWasConfirmedIsListedAndTakenBack") {
  const TempFolder folder;
  setenv("XDG_CONFIG_HOME", folder.path("config").c_str(), 1);
  CHECK(confirmations().empty());
  CHECK(takeBack({"none"}));
  const ActivePart touch{"load a", ActiveKind::Command, "touch x", {{"command", "touch x"}}};
  const ActivePart knob{"setup a", ActiveKind::Knob, "pwm1", {{"knobs", {{"pwm1", 128}}}}};
  REQUIRE(confirm({touch}));
  REQUIRE(confirm({knob}));
  const auto given = confirmations();
  REQUIRE(given.size() == 2);
  CHECK(given[0].kind == "knob");
  CHECK(given[0].what == std::vector<std::string>{"knobs.pwm1: 128"});
  CHECK(given[1].kind == "command");
  CHECK(given[1].what == std::vector<std::string>{"command: touch x"});
  CHECK(given[1].at.size() >= 19);  // 2026-12-01T13:40:00 and a zone
  REQUIRE(takeBack({given[0].key}));
  CHECK(unconfirmedOf({touch, knob}) == std::vector<ActivePart>{knob});
  REQUIRE(confirm({knob}));
  CHECK(unconfirmedOf({touch, knob}).empty());
  // What is no confirmation is not listed, and stays where it stands.
  folder.write("config/ash-gauge/confirmed.json",
               R"({"allowed": [5, {"kind": "knob"}, {"key": "k", "kind": "command", "what": [7, "x"], "at": 3}]})");
  REQUIRE(confirmations().size() == 1);
  CHECK(confirmations()[0].what == std::vector<std::string>{"x"});
  REQUIRE(takeBack({"k"}));
  CHECK(tests::readFile(folder.path("config/ash-gauge/confirmed.json")).find(R"("kind": "knob")") != std::string::npos);
  unsetenv("XDG_CONFIG_HOME");
}

TEST_CASE("aFileIsWrittenWholeBesideNobodysElse") {
  const TempFolder folder;
  folder.write("page.html.part", "precious");
  const std::string path = folder.path("page.html");
  REQUIRE(writeWholeFile("first", path));
  chmod(path.c_str(), 0640);
  REQUIRE(writeWholeFile("second", path));
  CHECK(tests::readFile(path) == "second");
  CHECK(tests::readFile(folder.path("page.html.part")) == "precious");
  struct stat file {};
  REQUIRE(stat(path.c_str(), &file) == 0);
  CHECK((file.st_mode & 0777) == 0640);  // who may read it does not change
  // A place that cannot be written leaves nothing behind and says so.
  const Status refused = writeWholeFile("x", folder.path("nowhere/page.html"));
  REQUIRE_FALSE(refused);
  CHECK(refused.error().message == "Cannot write " + folder.path("nowhere/page.html") + ": No such file or directory.");
  CHECK(std::distance(std::filesystem::directory_iterator(folder.path()), {}) == 2);
}

TEST_CASE("aFileIsReadWholeOrRefusedInASentence") {
  const TempFolder folder;
  const std::string bytes("one\0two\n", 8);
  folder.write("small", bytes);
  folder.write("empty", "");
  folder.write("large", std::string((1 << 20) + 1, 'x'));
  fs::create_symlink(folder.path("small"), folder.path("link"));
  CHECK(*readWholeFile(folder.path("small"), 1 << 20, "") == bytes);
  CHECK(*readWholeFile(folder.path("link"), 1 << 20, "") == bytes);
  CHECK(readWholeFile(folder.path("empty"), 1 << 20, "")->empty());
  REQUIRE(mkfifo(folder.path("pipe").c_str(), 0600) == 0);
  const auto said = [&](const char* name) {
    const auto text = readWholeFile(folder.path(name), 1 << 20, "it is no list");
    return text ? "read" : text.error().message;
  };
  CHECK(said("large") == folder.path("large") + " is larger than 1 MiB: it is no list.");
  // Neither is waited for, nor a folder taken for a file.
  CHECK(said("none") == "Cannot read " + folder.path("none") + ": No such file or directory.");
  CHECK(said("pipe").find("Cannot read ") == 0);
  CHECK(said(".").find("Cannot read ") == 0);
}

TEST_CASE("everythingBelowAProcessIsFoundAndEnded") {
  adoptOrphans();
  const pid_t child = fork();
  if (child == 0) {
    // A grandchild in a session of its own, deaf to SIGTERM, whose parent ends at once.
    if (fork() == 0) {
      setsid();
      signal(SIGTERM, SIG_IGN);
      if (fork() == 0) pause();
      pause();
    }
    _exit(0);
  }
  const auto count = [] { return descendants().size(); };
  for (int i = 0; i < 200 && count() < 2; ++i) std::this_thread::sleep_for(std::chrono::milliseconds(5));
  REQUIRE(count() == 2);
  CHECK(DescendantsEnd(0.1).runFor(3));
  CHECK(count() == 0);
  CHECK(waitpid(-1, nullptr, WNOHANG) == -1);  // no zombie either
}
