// SPDX-License-Identifier: GPL-3.0-or-later
// The words of the Watch station: verdicts and states as sentences.
#pragma once

#include <QString>

#include "model/procedure.h"
#include "model/run_facts.h"

namespace ash {

class LiveModel;

QString phaseTitle(PhaseKind kind);
/// What ends a phase: "5 min", "until settled, 1 to 5 min", "to 45 °C".
QString phaseEnding(const Phase& phase);

struct SettlingWords {
  QString head, figure, rest;
};
/// "Settles at" / "59.3 ± 0.5 K" / "over room, in about 6 min".
SettlingWords settlingWords(const LiveModel& model);

/// What ending the phase by hand means now, with what the device is short of where it settles.
QString endPhaseWords(const LiveModel& model);

/// True while the watched device is at its limit: what it shows then is the limit, no settled figure.
bool isPinned(const LiveModel& model);

/// What slows the processor now and has slowed it so far, in one or two sentences.
QString slowedWords(const LiveModel& model);

/// The state of the run in a few words for the trail: "soaking 12:31", "completed".
QString stationLine(const LiveModel& model);

/// The banner after a run: what happened and what is kept. Empty while one goes on.
QString outcomeSentence(const LiveModel& model);

/// "24 Sep, 15:26" of an ISO time.
QString startedWords(const std::string& iso);

}  // namespace ash
