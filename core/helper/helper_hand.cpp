// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/helper_hand.h"

#include <fmt/format.h>

#include <cstring>

#include "helper/hands.h"
#include "helper/turn_words.h"
#include "model/text.h"

namespace ash {
namespace {

constexpr uint64_t kForAPersonUs = 160'000'000, kUs = 10'000'000;

// What the helper says comes from another process: one plain line.
std::string said(const char* text) {
  constexpr size_t kLongest = 400;
  return withoutControls(asUtf8(std::string(text == nullptr ? "" : text).substr(0, kLongest)));
}

struct BusError {
  sd_bus_error raw = {};  // SD_BUS_ERROR_NULL is a literal that C++ does not have
  BusError() = default;
  BusError(const BusError&) = delete;
  BusError& operator=(const BusError&) = delete;
  ~BusError() { sd_bus_error_free(&raw); }

  Error asOurs() const {
    const auto is = [&](const char* name) { return raw.name != nullptr && std::strcmp(raw.name, name) == 0; };
    if (is(turning::kRefused)) return Error::badInput(said(raw.message));
    if (is(turning::kNotNow) || is(turning::kNoRight)) return Error::environment(said(raw.message));
    return Error::environment(
        fmt::format("The helper that turns knobs did not answer ({}); `systemctl status ash-gauge-turn` may say why.",
                    said(raw.message == nullptr ? raw.name : raw.message)));
  }
};

OwnedBusMessage newCall(sd_bus* bus, const char* method) {
  sd_bus_message* raw = nullptr;
  if (sd_bus_message_new_method_call(bus, &raw, turning::kName, turning::kPath, turning::kInterface, method) < 0)
    return nullptr;
  return OwnedBusMessage(raw);
}

}  // namespace

Result<std::unique_ptr<HelperHand>> HelperHand::open(std::vector<Knob> knobs, TurnedBy by) {
  auto bus = openBus(WhichBus::System, kUs);
  if (!bus) return bus.error();
  std::unique_ptr<HelperHand> hand(new HelperHand(std::move(*bus), by));
  hand->m_knobs = withHelper(std::move(knobs));
  return hand;
}

Result<Turned> HelperHand::turn(const std::string& id, const std::string& value, const std::function<NearLimit()>&) {
  if (Status checked = check(id, value); !checked) return checked.error();
  const Knob& knob = *find(id);
  const KnobTarget target = *targetOf(knob, value);
  const OwnedBusMessage call = newCall(m_bus.get(), m_by == TurnedBy::Hand ? turning::kSet : turning::kTurn);
  if (!call || sd_bus_message_append(call.get(), "sd", id.c_str(), target.number) < 0)
    return Error::environment("The helper that turns knobs cannot be asked.");
  sd_bus_message_set_allow_interactive_authorization(call.get(), 1);
  BusError error;
  sd_bus_message* raw = nullptr;
  // Once it has been allowed nobody is asked any more.
  if (sd_bus_call(m_bus.get(), call.get(), m_isAllowed ? kUs : kForAPersonUs, &error.raw, &raw) < 0)
    return error.asOurs();
  m_isAllowed = m_by == TurnedBy::Run;
  const OwnedBusMessage answer(raw);
  const char* readBack = nullptr;
  int isAsAsked = 0;
  if (sd_bus_message_read(raw, "sb", &readBack, &isAsAsked) < 0)
    return Error::environment("The helper that turns knobs answered something else than it should.");
  m_hasTurnedFans = m_hasTurnedFans || knob.isFan;
  return Turned{id, knob.unit, knob.isNumber() ? knobNumber(target.number) : target.word, said(readBack),
                isAsAsked != 0};
}

PutBack HelperHand::askForSentences(const char* method, bool hasCount) {
  const OwnedBusMessage call = newCall(m_bus.get(), method);
  if (!call) return {0, {"The helper that turns knobs cannot be asked."}};
  sd_bus_message_set_allow_interactive_authorization(call.get(), 1);
  BusError error;
  sd_bus_message* raw = nullptr;
  if (sd_bus_call(m_bus.get(), call.get(), hasCount ? kForAPersonUs : kUs, &error.raw, &raw) < 0)
    return {0, {error.asOurs().message}};
  const OwnedBusMessage answer(raw);
  constexpr size_t kMost = 100;
  uint32_t count = 0;
  PutBack back;
  const char* one = nullptr;
  if ((hasCount && sd_bus_message_read(raw, "u", &count) < 0) || sd_bus_message_enter_container(raw, 'a', "s") < 0)
    return {0, {"The helper's answer cannot be read."}};
  while (back.troubles.size() < kMost && sd_bus_message_read(raw, "s", &one) > 0) back.troubles.push_back(said(one));
  back.files = count;
  return back;
}

std::vector<std::string> HelperHand::restore(bool all) {
  if (all) return restoreAll().troubles;
  m_hasTurnedFans = false;
  return askForSentences(turning::kPutBack, false).troubles;
}

PutBack HelperHand::restoreAll() {
  m_hasTurnedFans = false;
  return askForSentences(turning::kRestore, true);
}

std::vector<std::string> HelperHand::releaseFans() {
  m_hasTurnedFans = false;
  return askForSentences(turning::kRelease, false).troubles;
}

}  // namespace ash
