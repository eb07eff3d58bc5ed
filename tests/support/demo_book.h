// SPDX-License-Identifier: GPL-3.0-or-later
// The demo book, made once by each build of the program: making it takes as long as all else that is asked of it.
#pragma once

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <string>

#include "tests/support/program.h"

namespace ash::tests {

/// Puts a copy of it into a bench's folder, under this name.
inline void putDemoBook(const Bench& bench, const std::string& name) {
  namespace fs = std::filesystem;
  const fs::path program = ASHG_PROGRAM, kept = program.parent_path() / "demo-for-tests.ashbook";
  const int lock = open((kept.string() + ".lock").c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0600);
  REQUIRE(lock >= 0);
  REQUIRE(flock(lock, LOCK_EX) == 0);
  std::error_code error;
  const bool isOfThisBuild =
      fs::exists(kept, error) && fs::last_write_time(kept, error) > fs::last_write_time(program, error);
  if (!isOfThisBuild) {
    fs::remove(kept, error);
    const Ran made = bench.ashg("demo --to made.ashbook");
    INFO(made.err);
    REQUIRE(made.status == 0);
    fs::copy_file(bench.path("made.ashbook"), kept);
    fs::remove(bench.path("made.ashbook"), error);
  }
  fs::copy_file(kept, bench.path(name));
  close(lock);
}

}  // namespace ash::tests
