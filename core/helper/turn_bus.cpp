// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/turn_bus.h"

#include <fmt/format.h>

#include <chrono>

#include "helper/turn_words.h"

namespace ash {
namespace {

using Clock = std::chrono::steady_clock;
constexpr size_t kMostCallers = 64, kMostQuestions = 4, kMostOfACaller = 1;
constexpr uint64_t kLookUs = 200'000, kCallUs = 5'000'000;
constexpr auto kGuardEvery = std::chrono::seconds(1);
constexpr char kDenied[] =
    "Turning knobs was not allowed: the question for a password was declined, or there is nobody to ask.";

std::string senderOf(sd_bus_message* call) {
  const char* sender = sd_bus_message_get_sender(call);
  return sender == nullptr ? "" : sender;
}

int refuse(sd_bus_error* error, const char* name, const std::string& words) {
  return sd_bus_error_set(error, name, words.c_str());
}

int refuse(sd_bus_error* error, const Error& why) {
  return refuse(error, why.kind == ErrorKind::BadInput ? turning::kRefused : turning::kNotNow, why.message);
}

void answerError(sd_bus_message* call, const char* name, const std::string& words) {
  sd_bus_reply_method_errorf(call, name, "%s", words.c_str());
}

Status busError(const std::string& doing, int code) { return Error::io(doing, "the system bus", -code); }

int answerSentences(sd_bus_message* call, const std::vector<std::string>& sentences, std::optional<size_t> count = {}) {
  sd_bus_message* raw = nullptr;
  if (const int made = sd_bus_message_new_method_return(call, &raw); made < 0) return made;
  const OwnedBusMessage answer(raw);
  if (count) sd_bus_message_append(raw, "u", static_cast<uint32_t>(*count));
  sd_bus_message_open_container(raw, 'a', "s");
  for (const std::string& one : sentences) sd_bus_message_append(raw, "s", one.c_str());
  sd_bus_message_close_container(raw);
  return sd_bus_send(nullptr, raw, nullptr);
}

// A call that is answered later.
std::shared_ptr<sd_bus_message> kept(sd_bus_message* call) {
  return {sd_bus_message_ref(call), [](sd_bus_message* one) { sd_bus_message_unref(one); }};
}

}  // namespace

Result<std::unique_ptr<TurnBus>> TurnBus::open(TurnService& service) {
  static const sd_bus_vtable kMethods[] = {
      SD_BUS_VTABLE_START(0),
      SD_BUS_METHOD(turning::kTurn, "sd", "sb", onTurn, SD_BUS_VTABLE_UNPRIVILEGED),
      SD_BUS_METHOD(turning::kSet, "sd", "sb", onSet, SD_BUS_VTABLE_UNPRIVILEGED),
      SD_BUS_METHOD(turning::kPutBack, "", "as", onPutBack, SD_BUS_VTABLE_UNPRIVILEGED),
      SD_BUS_METHOD(turning::kRelease, "", "as", onRelease, SD_BUS_VTABLE_UNPRIVILEGED),
      SD_BUS_METHOD(turning::kRestore, "", "uas", onRestore, SD_BUS_VTABLE_UNPRIVILEGED),
      SD_BUS_VTABLE_END};
  std::unique_ptr<TurnBus> self(new TurnBus(service));
  auto opened = openBus(WhichBus::System, kCallUs);
  if (!opened) return opened.error();
  self->m_bus = std::move(*opened);
  sd_bus* bus = self->m_bus.get();
  self->m_authority = std::make_unique<Authority>(bus);
  sd_bus_slot* slot = nullptr;
  if (const int code = sd_bus_add_object_vtable(bus, &slot, turning::kPath, turning::kInterface, kMethods, self.get());
      code < 0)
    return busError("stand on", code).error();
  self->m_object.reset(slot);
  if (const int code = sd_bus_request_name(bus, turning::kName, 0); code < 0)
    return busError(fmt::format("take the name {} on", turning::kName), code).error();
  return self;
}

TurnBus::~TurnBus() {
  // What stands on the bus goes before it.
  m_callers.clear();
  m_authority.reset();
  m_object.reset();
  sd_bus_flush(m_bus.get());
}

Status TurnBus::serve(const std::function<bool()>& isAsked, double idleS) {
  auto busy = Clock::now(), guarded = busy;
  int code = 0;
  while (!isAsked()) {
    while ((code = sd_bus_process(m_bus.get(), nullptr)) > 0) dropGone();
    if (code < 0) break;
    const auto now = Clock::now();
    if (m_service.hasFansToGuard() && now - guarded >= kGuardEvery) {
      m_service.guardFans();
      guarded = Clock::now();
    }
    if (!m_callers.empty() || m_authority->open() > 0) busy = now;
    if (now - busy > std::chrono::duration<double>(idleS)) break;
    if (code = sd_bus_wait(m_bus.get(), kLookUs); code < 0 && code != -EINTR) break;
  }
  if (!m_service.holder().empty()) m_service.callerIsGone(m_service.holder());
  return code < 0 && code != -EINTR ? busError("go on with", code) : Status();
}

// Somebody who asks is followed from now on, so that it is noticed when he goes. False when he has gone already or
// there are too many.
bool TurnBus::follow(sd_bus_message* call) {
  const std::string sender = senderOf(call);
  if (m_callers.contains(sender)) return true;
  if (sender.empty() || m_callers.size() >= kMostCallers) return false;
  sd_bus_track* raw = nullptr;
  if (sd_bus_track_new(m_bus.get(), &raw, onGone, this) < 0) return false;
  OwnedBusTrack track(raw);
  if (sd_bus_track_add_sender(raw, call) < 0) return false;
  m_callers.emplace(sender, Caller{std::move(track), false});
  return true;
}

int TurnBus::onGone(sd_bus_track* track, void* self) {
  auto* bus = static_cast<TurnBus*>(self);
  for (const auto& [name, caller] : bus->m_callers) {
    if (caller.track.get() == track) bus->m_gone.insert(name);
  }
  return 0;
}

// Outside the track's own handler, which goes with it.
void TurnBus::dropGone() {
  for (const std::string& name : std::exchange(m_gone, {})) {
    m_service.callerIsGone(name);
    m_authority->forget(name);
    m_callers.erase(name);
  }
}

int TurnBus::onTurn(sd_bus_message* call, void* self, sd_bus_error* error) {
  return static_cast<TurnBus*>(self)->askFor(call, TurnedBy::Run, error);
}

int TurnBus::onSet(sd_bus_message* call, void* self, sd_bus_error* error) {
  return static_cast<TurnBus*>(self)->askFor(call, TurnedBy::Hand, error);
}

int TurnBus::askFor(sd_bus_message* call, TurnedBy by, sd_bus_error* error) {
  const char* knob = nullptr;
  TurnAsk ask{by, {}, 0};
  if (const int read = sd_bus_message_read(call, "sd", &knob, &ask.number); read < 0) return read;
  ask.knob = knob;
  // What cannot be turned is said before anybody is asked for a password.
  const auto name = m_service.check(ask);
  if (!name) return refuse(error, name.error());
  const auto later = kept(call);
  return authorise(
      call, by, *name, [this, later, ask] { carryOut(later.get(), ask); }, error);
}

// Does it at once for who has been allowed to, or when polkit has said so.
int TurnBus::authorise(sd_bus_message* call, TurnedBy by, const std::string& knob, const std::function<void()>& then,
                       sd_bus_error* error) {
  const bool isForRun = by == TurnedBy::Run;
  const std::string sender = senderOf(call);
  if (const auto known = m_callers.find(sender); isForRun && known != m_callers.end() && known->second.mayTurn) {
    then();
    return 1;
  }
  if (m_authority->open() >= kMostQuestions || m_authority->open(sender) >= kMostOfACaller)
    return refuse(error, turning::kNotNow, "Somebody is being asked for a right already; try again after that.");
  if (!follow(call)) return refuse(error, turning::kNotNow, "The helper has too many callers; try again.");
  const auto later = kept(call);
  const auto answered = [this, later, sender, isForRun, then](bool isAllowed) {
    const auto caller = m_callers.find(sender);
    if (caller == m_callers.end()) return;  // has gone meanwhile
    caller->second.mayTurn |= isAllowed && isForRun;
    if (isAllowed)
      then();
    else
      answerError(later.get(), turning::kNoRight, kDenied);
    forgetWhoMayNot(sender);
  };
  if (m_authority->ask(sender, isForRun ? turning::kTurnAction : turning::kSetAction, knob, answered)) return 1;
  forgetWhoMayNot(sender);
  return refuse(error, turning::kNoRight, kDenied);
}

// Only who may turn knobs for a run is followed further: others would fill the room for callers.
void TurnBus::forgetWhoMayNot(const std::string& name) {
  const auto caller = m_callers.find(name);
  if (caller != m_callers.end() && !caller->second.mayTurn) m_callers.erase(caller);
}

void TurnBus::carryOut(sd_bus_message* call, const TurnAsk& ask) {
  const auto turned = m_service.turn(senderOf(call), ask);
  if (!turned) {
    const bool isWrong = turned.error().kind == ErrorKind::BadInput;
    return answerError(call, isWrong ? turning::kRefused : turning::kNotNow, turned.error().message);
  }
  sd_bus_reply_method_return(call, "sb", turned->readBack.c_str(), turned->isAsAsked ? 1 : 0);
}

// What one has turned oneself may always go back.
int TurnBus::onPutBack(sd_bus_message* call, void* self, sd_bus_error*) {
  return answerSentences(call, static_cast<TurnBus*>(self)->m_service.putBack(senderOf(call)));
}

int TurnBus::onRelease(sd_bus_message* call, void* self, sd_bus_error*) {
  return answerSentences(call, static_cast<TurnBus*>(self)->m_service.releaseFans(senderOf(call)));
}

int TurnBus::onRestore(sd_bus_message* call, void* self, sd_bus_error* error) {
  auto* bus = static_cast<TurnBus*>(self);
  if (!bus->m_service.hasTurned()) return answerSentences(call, {}, 0);
  const auto later = kept(call);
  return bus->authorise(
      call, TurnedBy::Hand, "all that was turned",
      [bus, later] {
        const auto restored = bus->m_service.restore();
        if (!restored) return answerError(later.get(), turning::kNotNow, restored.error().message);
        answerSentences(later.get(), restored->troubles, restored->files);
      },
      error);
}

}  // namespace ash
