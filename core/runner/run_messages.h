// SPDX-License-Identifier: GPL-3.0-or-later
// The messages of a run as JSON: docs/run-socket.md. Who tells and who listens stand side by side, so that a field is
// in both or in none.
#pragma once

#include <optional>

#include "runner/run_recorder.h"
#include "runner/run_told.h"

namespace ash {

Json helloMessage(const RunInfo& info, const RunPlan& plan, const RunBench& bench);
Json samplesMessage(int source, double timeS, const std::vector<double>& values);
Json phaseMessage(const PhaseMachine& phases, double timeS);
Json stateMessage(const RunProgress& progress, const std::vector<RuleState>& rules, bool isLoadOn);
Json eventMessage(const Event& event);
Json outcomeMessage(const RunResult& result);

// The other end. What is missing or of the wrong shape has its default; a message comes from a socket and may hold
// anything.
LiveRunInfo infoFromHello(const Json& message);
std::optional<LiveSamples> samplesFromMessage(const Json& message);
std::optional<LivePhase> phaseFromMessage(const Json& message);
LiveState stateFromMessage(const Json& message);
Event eventFromMessage(const Json& message);
LiveOutcome outcomeFromMessage(const Json& message);
LiveAnswer answerFromMessage(const Json& message);

}  // namespace ash
