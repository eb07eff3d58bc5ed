// SPDX-License-Identifier: GPL-3.0-or-later
// The helper on the system bus: who may, who is there, who has gone.
#pragma once

#include <functional>
#include <map>
#include <memory>
#include <set>
#include <string>

#include "bus/owned_bus.h"
#include "helper/authority.h"
#include "helper/turn_service.h"

namespace ash {

/// One thread; nothing in it waits for a person. `service` outlives it.
class TurnBus {
 public:
  /// On the system bus ($DBUS_SYSTEM_BUS_ADDRESS where it is set). Refused: no bus, the name is another's.
  static Result<std::unique_ptr<TurnBus>> open(TurnService& service);
  ~TurnBus();

  /// Until `isAsked`, or the bus is gone, or nobody has been there for `idleS` and nothing is turned. What callers have
  /// turned goes back before it returns.
  Status serve(const std::function<bool()>& isAsked, double idleS);

 private:
  struct Caller {
    OwnedBusTrack track;
    bool mayTurn = false;  // has been asked once; a run is not asked again in its middle
  };

  explicit TurnBus(TurnService& service) : m_service(service) {}
  static int onTurn(sd_bus_message* call, void* self, sd_bus_error* error);
  static int onSet(sd_bus_message* call, void* self, sd_bus_error* error);
  static int onPutBack(sd_bus_message* call, void* self, sd_bus_error* error);
  static int onRelease(sd_bus_message* call, void* self, sd_bus_error* error);
  static int onRestore(sd_bus_message* call, void* self, sd_bus_error* error);
  static int onGone(sd_bus_track* track, void* self);
  int askFor(sd_bus_message* call, TurnedBy by, sd_bus_error* error);
  int authorise(sd_bus_message* call, TurnedBy by, const std::string& knob, const std::function<void()>& then,
                sd_bus_error* error);
  void carryOut(sd_bus_message* call, const TurnAsk& ask);
  bool follow(sd_bus_message* call);
  void forgetWhoMayNot(const std::string& name);
  void dropGone();

  TurnService& m_service;
  OwnedBus m_bus;
  OwnedBusSlot m_object;
  std::unique_ptr<Authority> m_authority;
  std::map<std::string, Caller> m_callers;
  std::set<std::string> m_gone;
};

}  // namespace ash
