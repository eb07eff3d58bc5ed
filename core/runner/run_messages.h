// SPDX-License-Identifier: GPL-3.0-or-later
// The messages of a run as JSON: docs/run-socket.md.
#pragma once

#include "runner/run_recorder.h"

namespace ash {

Json helloMessage(const RunInfo& info, const RunPlan& plan, const RunBench& bench);
Json samplesMessage(int source, double timeS, const std::vector<double>& values);
Json phaseMessage(const PhaseMachine& phases, double timeS);
Json stateMessage(const RunProgress& progress, const std::vector<RuleState>& rules, bool isLoadOn);
Json eventMessage(const Event& event);
Json outcomeMessage(const RunResult& result);

}  // namespace ash
