// SPDX-License-Identifier: GPL-3.0-or-later
// What the desktop hears of a run, on a bus of the test's own.
#include "desktop/desktop_link.h"

#include <fcntl.h>

#include <catch2/catch.hpp>
#include <chrono>
#include <optional>

#include "tests/support/stand_in_desktop.h"

using namespace ash;
using tests::StandInDesktop;

namespace {

double nowS() { return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count(); }

bool waitForCount(const StandInDesktop& desktop, size_t count) {
  for (const double endS = nowS() + 5; nowS() < endS;) {
    if (desktop.heard().size() >= count) return true;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  return false;
}

}  // namespace

TEST_CASE("theMachineIsKeptAwakeAsLongAsTheLinkLives") {
  StandInDesktop desktop;
  REQUIRE(desktop.isUp());
  std::optional<DesktopLink> link(std::in_place);
  link->keepAwake("A run is being recorded.");
  REQUIRE(waitForCount(desktop, 2));
  CHECK(desktop.heard() == std::vector<std::string>{"sleep:idle/block/Ash Gauge", "screen"});
  CHECK(desktop.isKeptAwake());
  link.reset();
  REQUIRE(waitForCount(desktop, 3));
  CHECK(desktop.heard()[2] == "screen freed 77");
  CHECK_FALSE(desktop.isKeptAwake());
}

TEST_CASE("aNoticeHasItsUrgencyAndNoMarkupOfItsOwn") {
  StandInDesktop desktop;
  REQUIRE(desktop.isUp());
  {
    DesktopLink link;
    link.tell("mesh / vector: completed", "The run is over.", false);
    link.tell("mesh / vector", "<b>80 °C & more</b>", true);
  }
  CHECK(desktop.heard() == std::vector<std::string>{"notice: mesh / vector: completed: The run is over. (1)",
                                                    "notice: mesh / vector: &lt;b&gt;80 °C &amp; more&lt;/b&gt; (2)"});
}

TEST_CASE("aDesktopThatHangsOrIsNotThereHoldsNobodyUp") {
  {
    StandInDesktop desktop;
    REQUIRE(desktop.isUp());
    desktop.isDeaf = true;
    const double startS = nowS();
    DesktopLink link;
    link.keepAwake("x");
    for (int i = 0; i < 100; ++i) link.tell("a", "b", false);
    CHECK(nowS() - startS < 0.5);
  }
  setenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nowhere/bus", 1);
  setenv("DBUS_SYSTEM_BUS_ADDRESS", "unix:path=/nowhere/bus", 1);
  const double startS = nowS();
  {
    DesktopLink link;
    link.keepAwake("x");
    link.tell("a", "b", false);
  }
  CHECK(nowS() - startS < 3);
}
