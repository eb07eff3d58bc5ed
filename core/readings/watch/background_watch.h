// SPDX-License-Identifier: GPL-3.0-or-later
// The machine watch on a thread of its own: whoever watches stop rules must never wait for a file of a device.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "model/json.h"
#include "model/run_facts.h"

namespace ash {

class BackgroundWatch {
 public:
  /// `asked` = the conditions of the setup, for "asked 45 W, got 23 W".
  BackgroundWatch(const std::string& root, const Json& asked);
  ~BackgroundWatch();
  BackgroundWatch(const BackgroundWatch&) = delete;
  BackgroundWatch& operator=(const BackgroundWatch&) = delete;

  /// What has come up since the last call. With `isLast` it waits, for two seconds at most, for what is only known at
  /// the end; a device that hangs then costs that, not the run.
  std::vector<Event> take(bool isLast);

 private:
  struct State;
  static void watch(const std::shared_ptr<State>& state);
  std::shared_ptr<State> m_state;
};

}  // namespace ash
