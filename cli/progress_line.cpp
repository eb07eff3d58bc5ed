// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/progress_line.h"

#include <fmt/format.h>
#include <unistd.h>

#include <cmath>

#include "model/role.h"
#include "model/text.h"
#include "runner/drain_watch.h"
#include "system/clock.h"

namespace ash::cli {

std::string progressText(const RunProgress& progress, const Procedure& procedure) {
  std::string line = fmt::format("{} ({} of {}) {} in", phaseKindWords(progress.phase.kind), progress.phaseIndex + 1,
                                 procedure.phases.size(), clockText(progress.phaseS));
  if (std::isfinite(progress.watchedC)) {
    line += fmt::format(" · {} {:.1f} °C", Role(progress.watched).shortName(), progress.watchedC);
    if (std::isfinite(progress.roomC)) line += fmt::format(", {:.1f} K over room", progress.watchedC - progress.roomC);
    if (progress.throttleLimitC) line += fmt::format(" · {:.1f} K left", *progress.throttleLimitC - progress.watchedC);
  } else {
    line += " · no temperature";
  }
  const SettlingVerdict& settling = progress.settling;
  if (settling.isSettled) {
    line += fmt::format(" · settled at {:.1f} °C", settling.forecast);
  } else if (std::isfinite(settling.forecast)) {
    const double half = (settling.forecastHigh - settling.forecastLow) / 2;
    line += fmt::format(" · settles at {:.1f} ± {:.1f} °C", settling.forecast, half);
    if (progress.settlesAtS > progress.timeS)
      line += fmt::format(" in {}", clockText(progress.settlesAtS - progress.timeS));
  }
  if (const std::string drained = drainedInWords(progress.drainedInS, progress.phase); !drained.empty())
    return line + " · " + drained;
  return std::isfinite(progress.longestRunLeftS)
             ? line + fmt::format(" · at most {} left", clockText(progress.longestRunLeftS))
             : line;
}

std::string pauseText(const RunProgress& progress) {
  const auto* pause = std::get_if<EndsByAnswer>(&progress.phase.end);
  if (pause == nullptr) return {};
  return fmt::format(
      "Pause: {}. Then: ashg answer {}{}", pause->words, progress.runId,
      std::isfinite(pause->mostS) ? fmt::format(" (it goes on by itself after {})", durationWords(pause->mostS)) : "");
}

ProgressLine::ProgressLine(Procedure procedure, Speaker& speaker)
    : m_procedure(std::move(procedure)), m_speaker(speaker), m_isTerminal(isatty(2) != 0) {}

void ProgressLine::show(const RunProgress& progress) {
  const double nowS = monotonicS();
  const bool isNewPhase = progress.phaseIndex != m_shownPhase;
  if (!isNewPhase && nowS - m_shownS < (m_isTerminal ? 0.2 : 10.0)) return;
  m_shownS = nowS;
  m_shownPhase = progress.phaseIndex;
  if (const std::string pause = isNewPhase ? pauseText(progress) : std::string(); !pause.empty())
    m_speaker.say((m_isTerminal ? "\r\033[K" : "") + pause + "\n");
  const std::string line = progressText(progress, m_procedure);
  m_speaker.say(m_isTerminal ? "\r\033[K" + line : line + "\n");
}

void ProgressLine::finish() {
  if (m_isTerminal) m_speaker.say("\n");
}

}  // namespace ash::cli
