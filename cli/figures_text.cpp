// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/figures_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "model/condition_field.h"
#include "model/number_text.h"
#include "model/role.h"
#include "model/text.h"

namespace ash::cli {
namespace {

std::string optionalText(const std::optional<double>& value, const char* unit, int digits = 1) {
  return value ? fmt::format("{:.{}f} {}", *value, digits, unit) : std::string("–");
}

std::string estimateText(const std::optional<Estimate>& estimate, const char* unit, int digits = 1) {
  if (!estimate) return "–";
  return fmt::format("{:.{}f} {} ({:.{}f} to {:.{}f})", estimate->value, digits, unit, estimate->low, digits,
                     estimate->high, digits);
}

std::string heatLines(const Heat& heat) {
  std::string text = fmt::format("{}: {} at {}, headroom {}, hottest room {}", heat.device.shortName(),
                                 estimateText(heat.resistance, "K/W", 3), optionalText(heat.powerW, "W"),
                                 estimateText(heat.headroomW, "W"), estimateText(heat.hottestRoomC, "°C"));
  if (heat.fanRpm) text += fmt::format(", with {} at {:.0f} RPM", heat.fan, *heat.fanRpm);
  text += ".\n";
  for (const HeatPart& part : heat.parts) {
    text += fmt::format("  {} to {}: {:.1f} K, {}.\n", part.from, part.to, part.kelvin,
                        estimateText(part.resistance, "K/W", 3));
  }
  return text;
}

std::string channelLine(const ChannelFigures& channel) {
  std::string line = fmt::format("  {:<18} {:>9.1f} ± {:<6.2f} {:<5}", channel.name, channel.window.mean,
                                 1.96 * channel.window.se, channel.unit);
  if (channel.overAmbientK) line += fmt::format("  over room {:.1f} K", *channel.overAmbientK);
  if (channel.headroomK) line += fmt::format("  headroom {:.1f} K", *channel.headroomK);
  if (channel.load.n > 0) line += fmt::format("  highest {:.1f}", channel.load.max);
  return line + "\n";
}

std::string settlingLine(const Figures& figures) {
  const ChannelFigures* watched = figures.channel(figures.watched);
  if (watched == nullptr || !watched->settled || !std::isfinite(watched->settled->forecast)) return {};
  const SettlingVerdict& settled = *watched->settled;
  if (settled.isGoverned) {
    const std::string held = heldWords(settled.held);
    const std::string holds = held.empty() ? ""
                              : settled.isSettled
                                  ? fmt::format(", and held {} since {}", held, clockText(settled.atS))
                                  : fmt::format("; what it delivers had not settled, it will hold {}", held);
    return fmt::format("{} was held at its limit, at {:.1f} °C in the mean{}.\n", Role(figures.watched).title(),
                       settled.forecast, holds);
  }
  if (settled.isSettled) {
    return fmt::format("{} had settled at {} ({:.2f} K still to come).\n", Role(figures.watched).title(),
                       clockText(settled.atS), settled.remainingK);
  }
  return fmt::format("{} had not settled; the forecast is {:.1f} °C ({:.1f} to {:.1f}).\n",
                     Role(figures.watched).title(), settled.forecast, settled.forecastLow, settled.forecastHigh);
}

std::string throttlingLine(const Throttling& throttling) {
  if (throttling.intervals.empty()) return {};
  const bool allPlanned = std::all_of(throttling.intervals.begin(), throttling.intervals.end(),
                                      [](const ThrottleInterval& interval) { return interval.isPlanned; });
  if (allPlanned) {
    return fmt::format("{} ran at its set power for {:.0f} % of the load.\n", throttling.device.shortName(),
                       100 * throttling.share);
  }
  return fmt::format("{} was slowed for {:.0f} % of the load ({:.0f} % heat, {:.0f} % power limit, {:.0f} % other).\n",
                     throttling.device.shortName(), 100 * throttling.share, 100 * throttling.shareThermal,
                     100 * throttling.sharePower, 100 * throttling.shareOther);
}

std::string soundLines(const SoundFigures& sound) {
  std::string text;
  if (sound.levelDb && sound.isCalibrated) text += fmt::format("The microphone heard {:.1f} dBA", *sound.levelDb);
  if (sound.levelDb && !sound.isCalibrated)
    text += fmt::format("The microphone, not calibrated, heard {:.1f} dB of full scale", *sound.levelDb);
  if (sound.levelDb && sound.overRestDb) text += fmt::format(", {:+.1f} dB over rest", *sound.overRestDb);
  if (!text.empty()) text += ".\n";
  for (const SoundTone& tone : sound.tones) {
    text +=
        fmt::format("  A tone of {:.0f} Hz stands {:.1f} dB over the noise around it, for {:.0f} % of the window.\n",
                    tone.hz, tone.overDb, 100 * tone.share);
  }
  return text;
}

// A few passes each, of many the first and the last ones.
std::string passLines(const PassFigures& passes) {
  constexpr size_t kEnds = 5;
  std::string text =
      fmt::format("{} passes: first {:.4g}, best {:.4g}, worst {:.4g}, sustained {:.4g} ({:.1f} % of the first).\n",
                  passes.count, passes.first, passes.best, passes.worst, passes.sustained, passes.sustainedPercent);
  for (size_t i = 0; i < passes.each.size(); ++i) {
    const OnePass& pass = passes.each[i];
    if (i >= kEnds && i + kEnds < passes.each.size()) {
      if (i == kEnds) text += "  …\n";
      continue;
    }
    text += fmt::format("  {:>3}  {:>8}  {:>10}", i + 1, clockText(pass.startS),
                        std::isfinite(pass.score) ? fmt::format("{:.4g}", pass.score) : "–");
    if (std::isfinite(pass.highestC)) text += fmt::format("  up to {:.1f} °C", pass.highestC);
    text += "\n";
  }
  return text;
}

std::string batteryLine(const BatteryFigures& battery) {
  std::string text = fmt::format("The load took {:.1f} % of the battery, {:.1f} % an hour; ", battery.usedPercent,
                                 battery.drainPercentPerHour);
  if (battery.ranDown) return text + fmt::format("it was empty after {}.\n", durationWords(battery.runtimeS.value));
  return text + fmt::format("a full run-down from where it began would take {} ({} to {}).\n",
                            durationWords(battery.runtimeS.value), durationWords(battery.runtimeS.low),
                            std::isfinite(battery.runtimeS.high) ? durationWords(battery.runtimeS.high) : "no end");
}

}  // namespace

std::string figuresText(const RunLog& run, const Figures& figures) {
  std::string text =
      fmt::format("{} · {} · {} samples over {}\n", run.facts.setup,
                  run.facts.load.empty() ? "any load" : run.facts.load, figures.samples, clockText(figures.durationS));
  if (!figures.window)
    text += "No load was found, so there is no window to take figures from.\n";
  else {
    text += fmt::format("Window {} to {} ({}):\n", clockText(figures.window->span.startS),
                        clockText(figures.window->span.endS), figures.window->reason);
    for (const ChannelFigures& channel : figures.channels) {
      // Bands and tones of a microphone stand together below.
      if (channel.window.n > 0 && !Role(channel.name).isOfSpectrum()) text += channelLine(channel);
    }
  }
  text += settlingLine(figures);
  for (const Throttling& throttling : figures.throttling) text += throttlingLine(throttling);
  for (const Heat& heat : figures.heat) text += heatLines(heat);
  if (figures.passes) text += passLines(*figures.passes);
  if (figures.battery) text += batteryLine(*figures.battery);
  if (figures.sound) text += soundLines(*figures.sound);
  for (const Problem& problem : figures.problems) text += fmt::format("! {}\n", problem.text);
  return text;
}

namespace {

std::string fanText(const std::optional<double>& rpm) {
  return rpm ? fmt::format(" with its fan at {:.0f} RPM", *rpm) : std::string();
}

// Nothing is certain.
std::string chanceText(double chance) {
  if (chance < 0.01) return "below 1 %";
  if (chance > 0.99) return "above 99 %";
  return fmt::format("of {:.0f} %", 100 * chance);
}

}  // namespace

std::string projectionText(const Projection& projection) {
  std::string text =
      fmt::format("{} in a room of {:.1f} °C at {:.1f} W{}: {}", projection.device.shortName(), projection.roomC,
                  projection.powerW, fanText(projection.fanRpm), estimateText(projection.temperatureC, "°C"));
  if (projection.throttleChance) {
    text += fmt::format("; with a chance {} it throttles at {:.0f} °C", chanceText(*projection.throttleChance),
                        *projection.limitC);
  }
  if (projection.heldPowerW) text += fmt::format(", where it carries {} off", estimateText(projection.heldPowerW, "W"));
  if (projection.heldMhz) text += fmt::format(" and holds {}", estimateText(projection.heldMhz, "MHz", 0));
  return text + ".\n";
}

namespace {

constexpr int kMostPlaces = 6;

/// How the figures of a row are written: in the shown unit, rounded as their uncertainty asks for.
struct Written {
  const Figure& figure;
  double scale = figure.kind().scale;
  int decimals(double low, double high) const {
    int places = decimalsFor(scale * (high - low) / 2, figure.digits());
    // An end beyond zero is not rounded to it: the verdict hangs on its side.
    const double nearest = low * high > 0 ? scale * std::min(std::abs(low), std::abs(high)) : INFINITY;
    while (nearest < 0.5 * std::pow(10, -places) && places < kMostPlaces) ++places;
    return places;
  }
  std::string interval(double low, double high, int decimals, bool withSign = false) const {
    if (!std::isfinite(low) || !std::isfinite(high)) return "";
    return fmt::format("[{}, {}]", roundedText(scale * low, decimals, withSign),
                       roundedText(scale * high, decimals, withSign));
  }
};

// Why it has no verdict, where that is no finding about the whole run: those stand below.
std::string ownReason(const MetricRow& metric, const std::vector<ComparisonCheck>& checks) {
  const bool isFinding = std::any_of(checks.begin(), checks.end(),
                                     [&](const ComparisonCheck& check) { return check.text == metric.reason; });
  return metric.verdict != Verdict::NotComparable || isFinding || metric.reason.empty() ? "" : ": " + metric.reason;
}

// Its verdict rests on an assumption, which stands below.
bool isStarred(const MetricRow& metric) { return metric.isAssumed && metric.verdict != Verdict::NotComparable; }

std::string lineOf(const Figure& name, const MetricRow& metric, const std::vector<ComparisonCheck>& checks) {
  const Written written{name};
  const int decimals = written.decimals(metric.ciLow, metric.ciHigh);
  std::string text =
      fmt::format("  {:<30} {:>10} {:<8} {}", name.code(), roundedText(written.scale * metric.value, decimals),
                  name.unit(), written.interval(metric.ciLow, metric.ciHigh, decimals));
  if (metric.verdict == Verdict::None) return text + "\n";
  const int apart = written.decimals(metric.differenceLow, metric.differenceHigh);
  return text + fmt::format("  {}{} {}  {}{}{}\n",
                            metric.bound == Bound::None ? "" : fmt::format("{} ", wordsOf(metric.bound)),
                            roundedText(written.scale * metric.difference, apart, true),
                            written.interval(metric.differenceLow, metric.differenceHigh, apart, true),
                            wordsOf(metric.verdict), isStarred(metric) ? " *" : "", ownReason(metric, checks));
}

std::string linesOf(const FactorEffect& effect) {
  std::string text = fmt::format("{} {} instead of {}\n", fieldTitle(effect.factor),
                                 fieldText(effect.factor, effect.level), fieldText(effect.factor, effect.reference));
  for (const auto& [name, metric] : effect.mean) {
    const Written written{name};
    const int apart = written.decimals(metric.differenceLow, metric.differenceHigh);
    text +=
        fmt::format("  {:<30} {:>10} {:<8} {}  {}, mean of {}{}\n", name.code(),
                    roundedText(written.scale * metric.difference, apart, true), name.unit(),
                    written.interval(metric.differenceLow, metric.differenceHigh, apart, true), wordsOf(metric.verdict),
                    effect.within.size(), effect.dependsOnOthers.contains(name) ? ", which disagree" : "");
  }
  return text;
}

}  // namespace

std::string comparisonText(const Comparison& comparison) {
  std::string text;
  std::set<std::string> assumed;
  for (const ComparisonRow& row : comparison.rows) {
    text += fmt::format("{} ({} {})\n", row.setup, row.repeats, row.repeats == 1 ? "run" : "repeats");
    for (const auto& [name, metric] : row.metrics) {
      if (!std::isfinite(metric.value)) continue;
      text += lineOf(name, metric, comparison.checks);
      if (isStarred(metric)) assumed.insert(assumptionWords(name));
    }
  }
  for (const std::string& sentence : assumed) text += "* " + sentence + "\n";
  for (const FactorEffect& effect : comparison.factors) text += linesOf(effect);
  for (const ComparisonCheck& check : comparison.checks)
    text += fmt::format("{}: {}\n", wordsOf(check.severity), check.text);
  return text;
}

std::string settingStepText(const SettingStep& step) {
  std::string text = fmt::format("At {}: {}\n", clockText(step.atS), step.text);
  for (const SteppedReading& one : step.readings) {
    const int digits = usualDigits(one.unit);
    text += fmt::format("  {:<18} {:>9.{}f} to {:<9.{}f} {:<5} {:+.{}f} ({:+.{}f} to {:+.{}f})\n", one.role, one.before,
                        digits, one.after, digits, one.unit, one.difference, digits, one.low, digits, one.high, digits);
  }
  return text;
}

}  // namespace ash::cli
