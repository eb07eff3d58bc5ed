// SPDX-License-Identifier: GPL-3.0-or-later
// The helper on a bus of the test's own, with a stand-in for polkit: who may, who waits, who has gone.
#include "helper/turn_bus.h"

#include <catch2/catch.hpp>
#include <chrono>
#include <cstring>
#include <random>
#include <thread>

#include "helper/hands.h"
#include "helper/helper_hand.h"
#include "helper/turn_words.h"
#include "tests/support/knob_tree.h"
#include "tests/support/stand_in_authority.h"
#include "tests/support/system_bus.h"

using namespace ash;
using namespace ash::tests;
using Says = StandInAuthority::Says;

namespace {

constexpr char kLimitKnob[] = "cpu.power.limit";

/// The helper on a thread, as it stands on the bus.
class Helper {
 public:
  explicit Helper(const std::string& root) : m_service(root) {
    auto opened = TurnBus::open(m_service);
    if (!opened) FAIL(opened.error().message);
    m_bus = std::move(*opened);
    m_thread = std::thread([this] {
      m_isWell = static_cast<bool>(m_bus->serve([this] { return m_isAsked.load(); }, 60));
      m_isOver = true;
    });
  }
  ~Helper() { end(); }
  bool end() {
    m_isAsked = true;
    if (m_thread.joinable()) m_thread.join();
    m_bus.reset();
    return m_isWell;
  }
  bool isOver() const { return m_isOver; }

 private:
  TurnService m_service;
  std::unique_ptr<TurnBus> m_bus;
  std::atomic<bool> m_isAsked{false}, m_isWell{false}, m_isOver{false};
  std::thread m_thread;
};

struct Desk {
  explicit Desk(Says says = Says::Yes) : authority(says), helper(tree.path()) { REQUIRE(authority.isUp()); }

  std::unique_ptr<HelperHand> hand(TurnedBy by = TurnedBy::Run) const {
    auto opened = HelperHand::open(findKnobs(tree.path()), by);
    REQUIRE(opened);
    return std::move(*opened);
  }
  static Result<Turned> turn(HelperHand& hand, const std::string& value, const char* knob = kLimitKnob) {
    return hand.turn(knob, value, [] { return NearLimit(); });
  }
  bool limitComesTo(const std::string& raw, double patienceS = 2) const {
    const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(patienceS);
    while (std::chrono::steady_clock::now() < end) {
      if (tree.limit() == raw) return true;
      std::this_thread::sleep_for(std::chrono::milliseconds(10));
    }
    return false;
  }

  SystemBus bus;
  KnobTree tree;
  StandInAuthority authority;
  Helper helper;
};

template <typename F>
bool comesTrue(F condition) {
  for (int i = 0; i < 500; ++i) {
    if (condition()) return true;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  return false;
}

}  // namespace

TEST_CASE("aCallerThatMayTurnsAKnobAndItGoesBackWhenHeGoes") {
  const Desk desk;
  CHECK(isHelperThere());
  auto hand = desk.hand();
  const auto turned = Desk::turn(*hand, "65");
  if (!turned) FAIL(turned.error().message);
  CHECK(turned->isAsAsked);
  CHECK(turned->readBack == "65");
  CHECK(turnedWords(*turned) == "cpu.power.limit: 65 W");
  CHECK(desk.tree.limit() == "65000000");
  // A run is asked once, by its name on the bus and in the knob's own words.
  REQUIRE(Desk::turn(*hand, "performance", "cpu.governor"));
  REQUIRE(Desk::turn(*hand, "50"));
  const auto asked = desk.authority.asked();
  REQUIRE(asked.size() == 1);
  CHECK(asked[0].subject == "system-bus-name");
  CHECK(asked[0].caller.starts_with(":1."));
  CHECK(asked[0].action == turning::kTurnAction);
  CHECK(asked[0].knob == "Processor power limit, sustained");
  CHECK(asked[0].mayAskThePerson);
  hand.reset();
  CHECK(desk.limitComesTo("88000000"));
  CHECK(comesTrue(
      [&] { return desk.tree.at("sys/devices/system/cpu/cpufreq/policy0/scaling_governor") == "schedutil"; }));
}

TEST_CASE("whoMayNotTurnsNothingAndIsToldWhy") {
  const Desk desk(Says::No);
  auto hand = desk.hand();
  const auto refused = Desk::turn(*hand, "65");
  REQUIRE_FALSE(refused);
  CHECK(refused.error().kind == ErrorKind::Environment);
  CHECK(refused.error().message.find("not allowed") != std::string::npos);
  CHECK(desk.tree.limit() == "88000000");
  // Not remembered: the next one is asked for again.
  CHECK_FALSE(Desk::turn(*hand, "65"));
  CHECK(desk.authority.asked().size() == 2);
  // What is wrong as it stands troubles nobody.
  const auto wrong = Desk::turn(*hand, "500");
  REQUIRE_FALSE(wrong);
  CHECK(wrong.error().message == "cpu.power.limit goes from 0 W to 120 W.");
  CHECK(desk.authority.asked().size() == 2);
}

TEST_CASE("withoutAnAuthorityNothingIsTurned") {
  const SystemBus bus;
  const KnobTree tree;
  const Helper helper(tree.path());
  auto hand = HelperHand::open(findKnobs(tree.path()), TurnedBy::Run);
  REQUIRE(hand);
  CHECK_FALSE(Desk::turn(**hand, "65"));
  CHECK(tree.limit() == "88000000");
}

TEST_CASE("aQuestionThatIsNotAnsweredHoldsNobodyElseUp") {
  Desk desk;
  auto first = desk.hand();
  REQUIRE(Desk::turn(*first, "65"));
  desk.authority.say(Says::Nothing);
  std::thread waiting([&] {
    auto second = desk.hand(TurnedBy::Hand);
    static_cast<void>(second->turn("cpu.power.limit.short", "100", [] { return NearLimit(); }).operator bool());
  });
  REQUIRE(comesTrue([&] { return desk.authority.asked().size() == 2; }));
  // The first goes on meanwhile, and what he has turned goes back while the second still waits.
  REQUIRE(Desk::turn(*first, "60"));
  CHECK(desk.tree.limit() == "60000000");
  first.reset();
  CHECK(desk.limitComesTo("88000000"));
  // The helper ends though somebody waits; who waited is told.
  CHECK(desk.helper.end());
  waiting.join();
}

TEST_CASE("aCallerThatGoesTakesHisQuestionAlong") {
  const Desk desk(Says::Nothing);
  {
    sd_bus* bus = nullptr;
    REQUIRE(sd_bus_open_system(&bus) >= 0);
    const OwnedBus caller(bus);
    for (int i = 0; i < 2; ++i) {
      sd_bus_call_method_async(bus, nullptr, turning::kName, turning::kPath, turning::kInterface, turning::kTurn,
                               nullptr, nullptr, "sd", kLimitKnob, 65.0);
    }
    sd_bus_flush(bus);
    // One question a caller, however often he asks.
    REQUIRE(comesTrue([&] { return desk.authority.asked().size() == 1; }));
  }
  CHECK(comesTrue([&] { return desk.authority.cancelled() == 1; }));
  CHECK(desk.authority.asked().size() == 1);
  CHECK(desk.tree.limit() == "88000000");
}

TEST_CASE("callersThatMayNotLeaveRoomForOthers") {
  Desk desk(Says::No);
  std::vector<std::unique_ptr<HelperHand>> strangers;
  for (int i = 0; i < 80; ++i) {
    strangers.push_back(desk.hand(i % 2 == 0 ? TurnedBy::Run : TurnedBy::Hand));
    REQUIRE_FALSE(Desk::turn(*strangers.back(), "65"));
  }
  desk.authority.say(Says::Yes);
  auto hand = desk.hand();
  const auto turned = Desk::turn(*hand, "65");
  if (!turned) FAIL(turned.error().message);
  CHECK(desk.tree.limit() == "65000000");
}

TEST_CASE("whatIsSetStaysAndIsRestoredByWhoMay") {
  Desk desk;
  {
    auto hand = desk.hand(TurnedBy::Hand);
    REQUIRE(Desk::turn(*hand, "70"));
  }
  std::this_thread::sleep_for(std::chrono::milliseconds(300));
  CHECK(desk.tree.limit() == "70000000");
  CHECK(desk.authority.asked().back().action == turning::kSetAction);
  desk.authority.say(Says::No);
  auto hand = desk.hand(TurnedBy::Hand);
  CHECK(hand->restoreAll().troubles.size() == 1);
  CHECK(desk.tree.limit() == "70000000");
  desk.authority.say(Says::Yes);
  const PutBack back = hand->restoreAll();
  CHECK(back.files == 1);
  CHECK(back.troubles.empty());
  CHECK(desk.tree.limit() == "88000000");
  // Nothing is turned, so nobody is asked.
  const size_t asked = desk.authority.asked().size();
  CHECK(hand->restoreAll().files == 0);
  CHECK(desk.authority.asked().size() == asked);
}

TEST_CASE("aHelperThatIsToldToEndPutsBackFirst") {
  Desk desk;
  auto hand = desk.hand();
  REQUIRE(Desk::turn(*hand, "65"));
  CHECK(desk.helper.end());
  CHECK(desk.tree.limit() == "88000000");
  const auto gone = Desk::turn(*hand, "60");
  REQUIRE_FALSE(gone);
  CHECK(gone.error().message.find("did not answer") != std::string::npos);
}

TEST_CASE("whateverComesOverTheBusTheHelperGoesOn") {
  const Desk desk;
  sd_bus* bus = nullptr;
  REQUIRE(sd_bus_open_system(&bus) >= 0);
  const OwnedBus caller(bus);
  std::mt19937 random(7);
  const auto below = [&](unsigned count) { return std::uniform_int_distribution<unsigned>(0, count - 1)(random); };
  const char* methods[] = {"Turn", "Set", "PutBack", "Release", "Restore", "Nothing", "turn"};
  for (int i = 0; i < 300; ++i) {
    sd_bus_message* raw = nullptr;
    REQUIRE(sd_bus_message_new_method_call(bus, &raw, turning::kName, turning::kPath, turning::kInterface,
                                           methods[below(7)]) >= 0);
    const OwnedBusMessage call(raw);
    std::string text;
    for (unsigned n = below(40); n > 0; --n) text += static_cast<char>(1 + below(126));
    const uint64_t bits = (static_cast<uint64_t>(random()) << 32) | random();
    double number = 0;
    std::memcpy(&number, &bits, sizeof number);
    for (unsigned n = below(4); n > 0; --n) {
      switch (below(5)) {
        case 0:
          sd_bus_message_append(raw, "s", text.c_str());
          break;
        case 1:
          sd_bus_message_append(raw, "d", number);
          break;
        case 2:
          sd_bus_message_append(raw, "u", below(1000));
          break;
        case 3:
          sd_bus_message_append(raw, "as", 2, text.c_str(), "x");
          break;
        default:
          sd_bus_message_append(raw, "v", "s", text.c_str());
      }
    }
    if (below(8) == 0) sd_bus_message_append(raw, "s", std::string(1 << 20, 'x').c_str());
    sd_bus_send(bus, raw, nullptr);
  }
  sd_bus_flush(bus);
  auto hand = desk.hand();
  const auto turned = Desk::turn(*hand, "65");
  if (!turned) FAIL(turned.error().message);
  CHECK(desk.tree.limit() == "65000000");
  CHECK_FALSE(desk.helper.isOver());
}
