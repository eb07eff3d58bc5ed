// SPDX-License-Identifier: GPL-3.0-or-later
#include "system/spawn.h"

#include <fcntl.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cerrno>

#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

int statusOf(pid_t pid) {
  int status = 0;
  REQUIRE(waitpid(pid, &status, 0) == pid);
  return status;
}

}  // namespace

TEST_CASE("aProgramIsStartedInAGroupOfItsOwnWithTheFilesItIsGiven") {
  const TempFolder folder;
  const int file = open(folder.path("out").c_str(), O_CREAT | O_WRONLY | O_CLOEXEC, 0600);
  REQUIRE(file >= 0);
  pid_t pid = 0;
  const std::string tells = "echo $(cut -d' ' -f5 /proc/$$/stat) $1; exit 5";
  REQUIRE(spawnInGroup({"/bin/sh", "-c", tells, "name", "two words"}, {{file, STDOUT_FILENO}}, pid) == 0);
  const int status = statusOf(pid);
  close(file);
  CHECK(WEXITSTATUS(status) == 5);
  CHECK(readFile(folder.path("out")) == std::to_string(pid) + " two words\n");
}

TEST_CASE("signalsThatAreBlockedHereReachTheProgram") {
  sigset_t blocked, before;
  sigemptyset(&blocked);
  sigaddset(&blocked, SIGTERM);
  pthread_sigmask(SIG_BLOCK, &blocked, &before);
  pid_t pid = 0;
  REQUIRE(spawnInGroup({"/bin/sleep", "60"}, {}, pid) == 0);
  kill(pid, SIGTERM);
  const int status = statusOf(pid);
  pthread_sigmask(SIG_SETMASK, &before, nullptr);
  CHECK(WIFSIGNALED(status));
  CHECK(WTERMSIG(status) == SIGTERM);
}

TEST_CASE("aProgramThatIsNotThereIsAnErrorAndNoProcess") {
  pid_t pid = 0;
  CHECK(spawnInGroup({"/nowhere/program"}, {}, pid) == ENOENT);
}
