// SPDX-License-Identifier: GPL-3.0-or-later
// A helper program of ours that gets bytes, gives bytes and ends: whatever it does, it ends in time.
#pragma once

#include <string>
#include <vector>

#include "model/result.h"

namespace ash {

struct ShortProcess {
  std::string program;  ///< path
  std::vector<std::string> arguments;
  double mostS = 30;                      ///< then it is killed, with what it has started
  size_t mostOutputB = size_t{64} << 20;  ///< more is an error
};

struct ProcessAnswer {
  int status = 0;       ///< exit status; negative: the signal that ended it
  bool isLate = false;  ///< it was killed when its time was up
  std::string output;   ///< of its standard output
};

/// Gives it `input` on standard input and waits for its end. Neither goes through a pipe (memfd_create(2)), so neither
/// side can wait for the other. The error: it could not be started, or told more than it may.
Result<ProcessAnswer> answerOf(const ShortProcess& wanted, const std::string& input);

/// The path of a program of ours: beside this one, as it is built, or in ../libexec/ash-gauge, as it is installed;
/// empty when it is in neither.
std::string programBeside(const std::string& name);

}  // namespace ash
