// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/hands.h"

#include <algorithm>
#include <cstdlib>
#include <cstring>

#include "bus/owned_bus.h"
#include "helper/helper_hand.h"
#include "helper/turn_words.h"
#include "knobs/turner.h"

namespace ash {
namespace {

constexpr uint64_t kBusPatienceUs = 2'000'000;

bool isForced() {
  const char* wish = std::getenv("ASHG_TURN_HELPER");
  return wish != nullptr && std::strcmp(wish, "always") == 0;
}

bool wantsRoot(const std::vector<Knob>& knobs) {
  return std::any_of(knobs.begin(), knobs.end(), [](const Knob& knob) { return knob.isForRoot; });
}

// Only the machine itself has a helper; a tree is turned by whoever owns it.
bool isHelperFor(const std::string& root, const std::vector<Knob>& knobs) {
  return isForced() || (root.empty() && wantsRoot(knobs) && isHelperThere());
}

bool isNamed(sd_bus* bus, const char* method) {
  sd_bus_message* raw = nullptr;
  if (sd_bus_call_method(bus, "org.freedesktop.DBus", "/org/freedesktop/DBus", "org.freedesktop.DBus", method, nullptr,
                         &raw, "") < 0)
    return false;
  const OwnedBusMessage answer(raw);
  if (sd_bus_message_enter_container(raw, 'a', "s") < 0) return false;
  const char* name = nullptr;
  while (sd_bus_message_read(raw, "s", &name) > 0) {
    if (std::strcmp(name, turning::kName) == 0) return true;
  }
  return false;
}

}  // namespace

bool isHelperThere() {
  const auto bus = openBus(WhichBus::System, kBusPatienceUs);
  return bus && (isNamed(bus->get(), "ListNames") || isNamed(bus->get(), "ListActivatableNames"));
}

std::vector<Knob> withHelper(std::vector<Knob> knobs) {
  for (Knob& knob : knobs) {
    if (std::exchange(knob.isForRoot, false)) knob.whyNot.clear();
  }
  return knobs;
}

std::vector<Knob> knobsHere(const std::string& root) {
  auto knobs = findKnobs(root);
  return isHelperFor(root, knobs) ? withHelper(std::move(knobs)) : knobs;
}

Result<std::unique_ptr<KnobHand>> openHand(const std::string& root, TurnedBy by) {
  if (auto knobs = findKnobs(root); isHelperFor(root, knobs)) {
    auto hand = HelperHand::open(std::move(knobs), by);
    if (!hand) return hand.error();
    return std::unique_ptr<KnobHand>(std::move(*hand));
  }
  auto turner = Turner::open(root, by);
  if (!turner) return turner.error();
  return std::unique_ptr<KnobHand>(std::make_unique<Turner>(std::move(*turner)));
}

Result<PutBack> putAllBack(const std::string& root) {
  auto turner = Turner::open(root, TurnedBy::Hand);
  if (!turner) return turner.error();
  const size_t before = turner->turned().size();
  PutBack back{0, turner->restore(true)};
  back.files = before - turner->turned().size();
  if (!isHelperFor(root, turner->knobs())) return back;
  auto helper = HelperHand::open(turner->knobs(), TurnedBy::Hand);
  if (!helper) return helper.error();
  PutBack itsOwn = (*helper)->restoreAll();
  back.files += itsOwn.files;
  for (std::string& trouble : itsOwn.troubles) back.troubles.push_back(std::move(trouble));
  return back;
}

}  // namespace ash
