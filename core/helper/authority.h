// SPDX-License-Identifier: GPL-3.0-or-later
// Asks polkit whether a caller on the bus may (polkit's reference manual, org.freedesktop.PolicyKit1.Authority).
#pragma once

#include <functional>
#include <map>
#include <string>

#include "bus/owned_bus.h"

namespace ash {

/// Nothing waits for an answer: a person may be looking for a password meanwhile.
class Authority {
 public:
  /// `bus` outlives it.
  explicit Authority(sd_bus* bus) : m_bus(bus) {}

  /// `then` is called once, from the bus's loop, with what polkit says; an authority that is not there says no.
  /// `knob` is told to the person: the helper's own name of it. False when it cannot even be asked.
  bool ask(const std::string& caller, const std::string& action, const std::string& knob,
           std::function<void(bool isAllowed)> then);
  /// Takes all questions of a caller back; their `then` is not called any more.
  void forget(const std::string& caller);
  /// How many of a caller's questions are not answered yet.
  size_t open(const std::string& caller) const;
  size_t open() const { return m_questions.size(); }

 private:
  struct Question {
    Authority* authority = nullptr;
    unsigned long number = 0;
    std::string caller;
    std::function<void(bool)> then;
    OwnedBusSlot slot;
  };
  static int answered(sd_bus_message* answer, void* question, sd_bus_error*);

  sd_bus* m_bus;
  unsigned long m_last = 0;
  std::map<unsigned long, Question> m_questions;
};

}  // namespace ash
