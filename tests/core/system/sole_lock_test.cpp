// SPDX-License-Identifier: GPL-3.0-or-later
// A file that one process holds: another sees who does, and gets it when that one is gone, however it went.
#include "system/sole_lock.h"

#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <csignal>

#include "tests/support/fake_root.h"

using namespace ash;
using namespace ash::tests;

TEST_CASE("oneProcessHoldsALockAndAKilledOneGivesItBack") {
  FakeRoot root;
  const std::string path = root.path("held.lock");
  int told[2];
  REQUIRE(pipe(told) == 0);
  const pid_t other = fork();
  if (other == 0) {
    auto lock = SoleLock::take(path);
    if (!lock || !lock->isOurs()) _exit(1);
    lock->setNote("a run of 20 minutes");
    static_cast<void>(!write(told[1], "x", 1));
    pause();
    _exit(0);
  }
  close(told[1]);
  char sign = 0;
  REQUIRE(read(told[0], &sign, 1) == 1);
  close(told[0]);
  {
    auto second = SoleLock::take(path);
    REQUIRE(second);
    CHECK_FALSE(second->isOurs());
    CHECK(second->note() == "a run of 20 minutes");
  }
  kill(other, SIGKILL);
  waitpid(other, nullptr, 0);
  auto mine = SoleLock::take(path);
  REQUIRE(mine);
  CHECK(mine->isOurs());
  // Handed on, it stays held; let go, it is free.
  {
    const SoleLock moved = std::move(*mine);
    CHECK(moved.isOurs());
    CHECK_FALSE(SoleLock::take(path)->isOurs());
  }
  CHECK(SoleLock::take(path)->isOurs());
  CHECK_FALSE(SoleLock::take(root.path("no/such/folder/lock")));
}
