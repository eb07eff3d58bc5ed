// SPDX-License-Identifier: GPL-3.0-or-later
// A recorder as a process of its own, for commands that carry out one run after the other.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace ash::cli {

/// The path of this program.
std::string thisProgram();

/// Starts a program (arguments[0]) and waits until it is over; what it prints goes to stderr. Its exit status, -1 when
/// a signal has ended it; none when it could not be started. Once `isAsked` says so it is told to end, and waited for.
std::optional<int> carryOutRecorder(const std::vector<std::string>& arguments, const std::function<bool()>& isAsked);

}  // namespace ash::cli
