// SPDX-License-Identifier: GPL-3.0-or-later
#include "ladder/arguments.h"

#include <fmt/format.h>

namespace ash {
namespace {

// "soak settled 5min..20min" -> "settled 5min..20min", as --hold and --rest have it.
std::string endText(const Phase& phase) {
  const std::string text = phasesText({{phase}, {}});
  const size_t blank = text.find(' ');
  return blank == std::string::npos ? text : text.substr(blank + 1);
}

}  // namespace

std::vector<std::string> ladderArguments(const LadderAsk& ask) {
  // With "=", so that what begins with "-" stays a value.
  std::vector<std::string> arguments = {"--study=" + ask.study,
                                        "--setup=" + ask.setup,
                                        "--load=" + ask.load,
                                        "--knob=" + ask.knob,
                                        fmt::format("--from={}", ask.from),
                                        fmt::format("--to={}", ask.to),
                                        fmt::format("--step={}", ask.step),
                                        std::string("--search=") + ladderSearchText(ask.search),
                                        "--hold=" + endText(ask.hold),
                                        "--rest=" + endText(ask.rest),
                                        fmt::format("--back={}", ask.back)};
  for (const LadderRule& rule : ask.until) arguments.push_back("--until=" + ladderRuleText(rule));
  if (ask.isConfirmed()) arguments.push_back(fmt::format("--confirm={}s", ask.confirmS));
  if (!ask.confirmLoad.empty()) arguments.push_back("--confirm-load=" + ask.confirmLoad);
  if (const std::string sim = valueIn(ask.bench, "sim", ""); !sim.empty()) {
    arguments.push_back("--sim=" + sim);
    arguments.push_back(fmt::format("--seed={}", valueIn(ask.bench, "seed", uint64_t{1})));
  }
  if (const std::string root = valueIn(ask.bench, "root", ""); !root.empty()) arguments.push_back("--root=" + root);
  return arguments;
}

}  // namespace ash
