// SPDX-License-Identifier: GPL-3.0-or-later
#include "helper/authority.h"

#include <algorithm>

namespace ash {
namespace {

constexpr char kPolkit[] = "org.freedesktop.PolicyKit1", kPolkitPath[] = "/org/freedesktop/PolicyKit1/Authority",
               kPolkitInterface[] = "org.freedesktop.PolicyKit1.Authority";
constexpr uint32_t kMayAskThePerson = 1;       // CheckAuthorizationFlags: AllowUserInteraction
constexpr uint64_t kPatienceUs = 150'000'000;  // for a password

std::string cancelWord(unsigned long number) { return "turn-" + std::to_string(number); }

}  // namespace

bool Authority::ask(const std::string& caller, const std::string& action, const std::string& knob,
                    std::function<void(bool)> then) {
  sd_bus_message* raw = nullptr;
  if (sd_bus_message_new_method_call(m_bus, &raw, kPolkit, kPolkitPath, kPolkitInterface, "CheckAuthorization") < 0)
    return false;
  const OwnedBusMessage message(raw);
  const unsigned long number = ++m_last;
  if (sd_bus_message_append(raw, "(sa{sv})sa{ss}us", "system-bus-name", 1, "name", "s", caller.c_str(), action.c_str(),
                            1, "knob", knob.c_str(), kMayAskThePerson, cancelWord(number).c_str()) < 0)
    return false;
  Question& question = m_questions[number];
  question.authority = this;
  question.number = number;
  question.caller = caller;
  question.then = std::move(then);
  sd_bus_slot* slot = nullptr;
  if (sd_bus_call_async(m_bus, &slot, raw, answered, &question, kPatienceUs) < 0) {
    m_questions.erase(number);
    return false;
  }
  question.slot.reset(slot);
  return true;
}

// (bba{ss}): is authorized, is challenge, details.
int Authority::answered(sd_bus_message* answer, void* question, sd_bus_error*) {
  auto* asked = static_cast<Question*>(question);
  int isAllowed = 0;
  const bool isRead = sd_bus_message_is_method_error(answer, nullptr) == 0 &&
                      sd_bus_message_enter_container(answer, 'r', "bba{ss}") > 0 &&
                      sd_bus_message_read(answer, "b", &isAllowed) > 0;
  auto node = asked->authority->m_questions.extract(asked->number);
  node.mapped().then(isRead && isAllowed != 0);
  return 0;
}

void Authority::forget(const std::string& caller) {
  for (auto it = m_questions.begin(); it != m_questions.end();) {
    if (it->second.caller != caller) {
      ++it;
      continue;
    }
    // The question on the person's screen goes, too.
    sd_bus_call_method_async(m_bus, nullptr, kPolkit, kPolkitPath, kPolkitInterface, "CancelCheckAuthorization",
                             nullptr, nullptr, "s", cancelWord(it->first).c_str());
    it = m_questions.erase(it);
  }
}

size_t Authority::open(const std::string& caller) const {
  return static_cast<size_t>(std::count_if(m_questions.begin(), m_questions.end(),
                                           [&](const auto& one) { return one.second.caller == caller; }));
}

}  // namespace ash
