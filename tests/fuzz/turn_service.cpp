// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever callers ask of the helper for knobs, in whatever order: once all of them are gone and everything was
// restored, the machine is as it was, and nothing beside its knobs was ever written.
#include "helper/turn_service.h"

#include <array>
#include <cstring>

#include "tests/fuzz/fuzz.h"
#include "tests/support/knob_tree.h"

using namespace ash;

namespace {

/// Reads calls out of bytes; at their end it gives zeros.
class Bytes {
 public:
  Bytes(const uint8_t* data, size_t size) : m_data(data), m_size(size) {}
  bool isAtEnd() const { return m_size == 0; }
  uint8_t one() {
    if (m_size == 0) return 0;
    --m_size;
    return *m_data++;
  }
  double number() {
    // Mostly what a knob could take, sometimes any bits at all.
    const uint8_t kind = one();
    if (kind % 4 != 0) return static_cast<double>(one()) * (kind % 4 == 1 ? 1 : 40);
    std::array<uint8_t, sizeof(double)> raw{};
    for (uint8_t& byte : raw) byte = one();
    double value = 0;
    std::memcpy(&value, raw.data(), sizeof value);
    return value;
  }
  std::string knob() {
    constexpr std::array kKnobs = {"cpu.power.limit", "cpu.power.limit.short", "cpu.clock.most",
                                   "cpu.clock.least", "cpu.governor",          "cpu.boost",
                                   "gpu.power.limit", "fan.fan1.duty"};
    const uint8_t which = one();
    if (which % 16 < kKnobs.size()) return kKnobs.at(which % 16);
    std::string text;
    for (uint8_t left = one() % 40; left > 0; --left) text += static_cast<char>(one());
    return text;
  }

 private:
  const uint8_t* m_data;
  size_t m_size;
};

}  // namespace

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const tests::KnobTree machine;
  const auto before = machine.all();
  constexpr std::array kCallers = {":1.1", ":1.2", ":1.3"};
  constexpr int kMostCalls = 60;
  {
    TurnService service(machine.path());
    Bytes bytes(data, size);
    for (int call = 0; call < kMostCalls && !bytes.isAtEnd(); ++call) {
      const uint8_t what = bytes.one();
      const std::string caller = kCallers.at(what % kCallers.size());
      const TurnAsk ask{what % 2 == 0 ? TurnedBy::Run : TurnedBy::Hand, bytes.knob(), bytes.number()};
      switch (what / 8 % 6) {
        case 0:
          static_cast<void>(service.check(ask));
          break;
        case 1:
        case 2:
          if (const auto turned = service.turn(caller, ask)) fuzz::mustHold(!turned->readBack.empty());
          break;
        case 3:
          static_cast<void>(service.putBack(caller));
          break;
        case 4:
          static_cast<void>(service.releaseFans(caller));
          break;
        default:
          service.callerIsGone(caller);
      }
    }
    for (const char* caller : kCallers) service.callerIsGone(caller);
    fuzz::mustHold(static_cast<bool>(service.restore()));
    fuzz::mustHold(!service.hasTurned());
  }
  fuzz::mustHold(machine.all() == before);
  return 0;
}
