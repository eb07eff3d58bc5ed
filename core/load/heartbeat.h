// SPDX-License-Identifier: GPL-3.0-or-later
// The sign of life that a recorder gives its load over a pipe: without it the load ends by itself.
#pragma once

namespace ash {

/// The load's side. Nothing that stops a whole machine for a moment counts as silence, since the load's own looks stop
/// with it.
class HeartbeatWatch {
 public:
  /// `descriptor` is made non-blocking; -1 = there is nobody to listen to, and nothing is ever lost.
  explicit HeartbeatWatch(int descriptor);

  enum class State { Heard, Silent, Closed };
  /// To be called about every 20 ms. Silent after 0.6 s and at least 12 looks without a sign; Closed when the other end
  /// of the pipe is gone. Both stay.
  State look();

  static constexpr double kMostSilentS = 0.6;
  static constexpr int kLeastSilentLooks = 12;

 private:
  int m_descriptor;
  int m_silentLooks = 0;
  double m_heardS;
  State m_state = State::Heard;
};

}  // namespace ash
