// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in machine for tests that turn its knobs.
#pragma once

#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <optional>

#include "model/json.h"
#include "tests/support/program.h"

namespace ash::tests {

/// A stand-in machine on whose knobs something happens, with a state folder of its own.
struct KnobBench : Bench {
  KnobBench() {
    setenv("XDG_STATE_HOME", path("state").c_str(), 1);
    m_machine = start({"stand-in", "machine", "--dir", "root"});
    REQUIRE(waitUntil([&] { return std::filesystem::exists(path("root/sys/class/hwmon")) && value("cpu.power.limit"); },
                      20));
  }
  ~KnobBench() {
    kill(m_machine, SIGTERM);
    Bench::wait(m_machine, 10);
  }
  KnobBench(const KnobBench&) = delete;
  KnobBench& operator=(const KnobBench&) = delete;

  /// What a knob stands at now; none when there is no such knob.
  std::optional<double> value(const std::string& id) const {
    const Json all = Json::parse(ashg("knobs --root root --json").out, nullptr, false);
    if (!all.is_object()) return std::nullopt;
    for (const Json& knob : all["knobs"]) {
      if (knob["id"] == id && knob["value"].is_number()) return knob["value"].get<double>();
    }
    return std::nullopt;
  }
  bool comesTo(const std::string& id, double wanted) const {
    return waitUntil([&] { return value(id) && std::abs(*value(id) - wanted) < 0.5; }, 5);
  }

 private:
  pid_t m_machine = 0;
};

}  // namespace ash::tests
