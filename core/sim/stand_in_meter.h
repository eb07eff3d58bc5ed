// SPDX-License-Identifier: GPL-3.0-or-later
// A small power meter that answers SCPI over a TCP socket, as a stand-in for one on the bench; with the faults that
// real ones have.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "model/result.h"

namespace ash::sim {

/// What it measures now.
struct MeterValues {
  double powerW = 0, volts = 230, energyWh = 0;
};

enum class MeterFault { None, Slow, Late, Rubbish, Half, HangUp, WrongUnit, Silent };
/// "slow", "late", "rubbish", "half", "hang-up", "wrong-unit", "silent".
std::optional<MeterFault> meterFaultFrom(std::string_view text);
std::string meterFaultWords();

struct MeterOptions {
  int port = 0;  ///< 0 = any that is free
  MeterFault fault = MeterFault::None;
  int everyNth = 1;  ///< of its measured answers; identity and errors are always told
};

/// Listens on 127.0.0.1 and answers *IDN?, *RST, *CLS, *OPC?, SYST:ERR?, MEAS:POW?, MEAS:VOLT?, MEAS:CURR?, MEAS:ENER?
/// and FETC?, short or long, upper or lower case, several in a line by ";". What it does not know goes into its error
/// queue (SCPI-1999: -113). Serves at most 8 at a time.
class StandInMeter {
 public:
  /// `values` is asked on threads of the meter's own.
  static Result<std::unique_ptr<StandInMeter>> start(const MeterOptions& options, std::function<MeterValues()> values);
  ~StandInMeter();
  int port() const;

 private:
  struct State;
  explicit StandInMeter(std::shared_ptr<State> state);
  std::shared_ptr<State> m_state;
};

}  // namespace ash::sim
