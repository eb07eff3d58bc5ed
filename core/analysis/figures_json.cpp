// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/figures_json.h"

namespace ash {
namespace {

Json toJson(const Stats& stats) {
  return {{"n", stats.n},
          {"mean", numberOrNull(stats.mean)},
          {"sd", numberOrNull(stats.sd)},
          {"se", numberOrNull(stats.se)},
          {"min", numberOrNull(stats.min)},
          {"p05", numberOrNull(stats.p05)},
          {"median", numberOrNull(stats.median)},
          {"p95", numberOrNull(stats.p95)},
          {"max", numberOrNull(stats.max)},
          {"first_max_at_s", numberOrNull(stats.firstMaxAtS)}};
}

Json toJson(const HeldForecast& held) {
  return {{"channel", held.channel},
          {"forecast", numberOrNull(held.value)},
          {"forecast_low", numberOrNull(held.low)},
          {"forecast_high", numberOrNull(held.high)},
          {"remaining_percent", numberOrNull(held.remainingPercent)}};
}

Json toJson(const SettlingVerdict& verdict) {
  Json delivers = Json::array();
  for (const HeldForecast& one : verdict.held) delivers.push_back(toJson(one));
  return {{"is_settled", verdict.isSettled},
          {"at_s", numberOrNull(verdict.atS)},
          {"remaining_k", numberOrNull(verdict.remainingK)},
          {"forecast", numberOrNull(verdict.forecast)},
          {"forecast_low", numberOrNull(verdict.forecastLow)},
          {"forecast_high", numberOrNull(verdict.forecastHigh)},
          {"time_constants_s", verdict.timeConstantsS},
          {"delivers", verdict.isGoverned ? delivers : Json(nullptr)}};
}

Json toJson(const ChannelFigures& channel) {
  return {{"unit", channel.unit},
          {"idle", toJson(channel.idle)},
          {"load", toJson(channel.load)},
          {"window", toJson(channel.window)},
          {"over_ambient_k", numberOrNull(channel.overAmbientK)},
          {"limit", numberOrNull(channel.limit)},
          {"headroom_k", numberOrNull(channel.headroomK)},
          {"settled", channel.settled ? toJson(*channel.settled) : Json(nullptr)}};
}

Json toJson(const Throttling& throttling) {
  Json intervals = Json::array();
  for (const ThrottleInterval& interval : throttling.intervals) {
    intervals.push_back({{"start_s", interval.span.startS},
                         {"end_s", interval.span.endS},
                         {"cause", causeText(interval.cause)},
                         {"planned", interval.isPlanned},
                         {"depth_mhz", numberOrNull(interval.depthMhz)}});
  }
  return {{"device", throttling.device.text()},
          {"share", throttling.share},
          {"share_thermal", throttling.shareThermal},
          {"share_power", throttling.sharePower},
          {"share_other", throttling.shareOther},
          {"time_to_limit_s", numberOrNull(throttling.timeToLimitS)},
          {"lost_clock_share", throttling.lostClockShare},
          {"lost_work_share", numberOrNull(throttling.lostWorkShare)},
          {"intervals", intervals}};
}

// value under `name`, its interval under `name`_low and `name`_high; all null when there is none.
void put(Json& object, const std::string& name, const std::optional<Estimate>& estimate) {
  const Estimate known = estimate.value_or(Estimate{});
  object[name] = numberOrNull(known.value);
  object[name + "_low"] = numberOrNull(known.low);
  object[name + "_high"] = numberOrNull(known.high);
}

Json toJson(const HeatPart& part) {
  Json object = {{"from", part.from}, {"to", part.to}, {"kelvin", numberOrNull(part.kelvin)}};
  put(object, "resistance_k_per_w", part.resistance);
  return object;
}

Json toJson(const Heat& heat) {
  Json object = {{"device", heat.device.text()},
                 {"power_w", numberOrNull(heat.powerW)},
                 {"wanted_power_w", numberOrNull(heat.wantedPowerW)},
                 {"fan", heat.fan.empty() ? Json(nullptr) : Json(heat.fan)},
                 {"fan_rpm", numberOrNull(heat.fanRpm)},
                 {"parts", Json::array()}};
  put(object, "resistance_k_per_w", heat.resistance);
  put(object, "headroom_w", heat.headroomW);
  put(object, "hottest_room_c", heat.hottestRoomC);
  for (const HeatPart& part : heat.parts) object["parts"].push_back(toJson(part));
  return object;
}

Json toJson(const Projection& projection) {
  Json object = {{"device", projection.device.text()},
                 {"room_c", numberOrNull(projection.roomC)},
                 {"power_w", numberOrNull(projection.powerW)},
                 {"limit", numberOrNull(projection.limitC)},
                 {"throttle_chance", numberOrNull(projection.throttleChance)},
                 {"fan_rpm", numberOrNull(projection.fanRpm)}};
  put(object, "temp_c", projection.temperatureC);
  put(object, "held_power_w", projection.heldPowerW);
  put(object, "held_clock_mhz", projection.heldMhz);
  return object;
}

Json toJson(const Problem& problem) {
  return {{"kind", problem.kind.text()},
          {"channel", problem.channel.empty() ? Json(nullptr) : Json(problem.channel)},
          {"start_s", numberOrNull(problem.startS)},
          {"end_s", numberOrNull(problem.endS)},
          {"text", problem.text}};
}

Json phasesToJson(const std::vector<PhaseSpan>& phases) {
  Json list = Json::array();
  for (const PhaseSpan& phase : phases) {
    list.push_back({{"kind", phaseKindText(phase.kind)},
                    {"start_s", phase.startS},
                    {"end_s", phase.endS},
                    {"source", phase.isGiven ? "given" : "detected"}});
  }
  return list;
}

Json energyToJson(const std::vector<Energy>& all) {
  Json energies = Json::object();
  for (const Energy& energy : all) {
    energies[energy.channel] = {{"total", numberOrNull(energy.totalJ)},
                                {"load", numberOrNull(energy.loadJ)},
                                {"per_work_unit", numberOrNull(energy.perWorkUnitJ)},
                                {"load_over_idle", numberOrNull(energy.loadOverIdleJ)},
                                {"per_pass", numberOrNull(energy.perPassJ)}};
  }
  return energies;
}

Json passesToJson(const std::optional<PassFigures>& passes) {
  if (!passes) return nullptr;
  Json each = Json::array();
  for (const OnePass& pass : passes->each) {
    each.push_back({{"start_s", numberOrNull(pass.startS)},
                    {"end_s", numberOrNull(pass.endS)},
                    {"score", numberOrNull(pass.score)},
                    {"highest_c", numberOrNull(pass.highestC)}});
  }
  return {{"each", each},
          {"count", passes->count},
          {"first", numberOrNull(passes->first)},
          {"best", numberOrNull(passes->best)},
          {"worst", numberOrNull(passes->worst)},
          {"last", numberOrNull(passes->last)},
          {"stability_percent", numberOrNull(passes->stabilityPercent)},
          {"sustained", numberOrNull(passes->sustained)},
          {"sustained_percent", numberOrNull(passes->sustainedPercent)},
          {"trend_percent", numberOrNull(passes->trendPercent)}};
}

Json batteryToJson(const std::optional<BatteryFigures>& battery) {
  if (!battery) return nullptr;
  return {{"drain_percent_per_hour", numberOrNull(battery->drainPercentPerHour)},
          {"used_percent", numberOrNull(battery->usedPercent)},
          {"runtime_s", numberOrNull(battery->runtimeS.value)},
          {"runtime_low_s", numberOrNull(battery->runtimeS.low)},
          {"runtime_high_s", numberOrNull(battery->runtimeS.high)},
          {"ran_down", battery->ranDown},
          {"last_sample_s", numberOrNull(battery->lastSampleS)}};
}

Json soundToJson(const SoundFigures& sound) {
  Json bands = Json::array(), tones = Json::array();
  for (const SoundBand& band : sound.bands) bands.push_back({{"hz", band.hz}, {"db", numberOrNull(band.db)}});
  for (const SoundTone& tone : sound.tones)
    tones.push_back({{"hz", numberOrNull(tone.hz)}, {"over_db", numberOrNull(tone.overDb)}, {"share", tone.share}});
  return {{"channel", sound.channel},
          {"calibrated", sound.isCalibrated},
          {"level_db", numberOrNull(sound.levelDb)},
          {"over_rest_db", numberOrNull(sound.overRestDb)},
          {"bands", std::move(bands)},
          {"tones", std::move(tones)}};
}

Json fansToJson(const std::vector<FanFigures>& all) {
  Json fans = Json::array();
  for (const FanFigures& fan : all) {
    fans.push_back({{"channel", fan.channel},
                    {"ramp_at_s", numberOrNull(fan.rampAtS)},
                    {"held_constant", fan.heldConstant ? Json(*fan.heldConstant) : Json(nullptr)},
                    {"duty_held", fan.dutyHeld ? Json(*fan.dutyHeld) : Json(nullptr)}});
  }
  return fans;
}

template <typename T>
Json listToJson(const std::vector<T>& items) {
  Json list = Json::array();
  for (const T& item : items) list.push_back(toJson(item));
  return list;
}

}  // namespace

Json projectionsToJson(const std::vector<Projection>& projections) { return listToJson(projections); }

Json settingStepsToJson(const std::vector<SettingStep>& steps) {
  Json list = Json::array();
  for (const SettingStep& step : steps) {
    Json readings = Json::object();
    for (const SteppedReading& one : step.readings) {
      readings[one.role] = {{"unit", one.unit},   {"before", one.before},
                            {"after", one.after}, {"difference", one.difference},
                            {"ci_low", one.low},  {"ci_high", one.high}};
    }
    list.push_back({{"at_s", step.atS},
                    {"text", step.text},
                    {"before", {{"start_s", step.before.startS}, {"end_s", step.before.endS}}},
                    {"after", {{"start_s", step.after.startS}, {"end_s", step.after.endS}}},
                    {"readings", std::move(readings)}});
  }
  return list;
}

Json figuresToJson(const Figures& figures) {
  Json channels = Json::object();
  for (const ChannelFigures& channel : figures.channels) channels[channel.name] = toJson(channel);
  Json window = nullptr;
  if (figures.window) {
    window = {{"start_s", figures.window->span.startS},
              {"end_s", figures.window->span.endS},
              {"reason", figures.window->reason}};
  }
  Json json = {
      {"contract", kContractVersion},
      {"figures_method", kFiguresMethod},
      {"samples", figures.samples},
      {"duration_s", figures.durationS},
      {"interval_s", figures.intervalS},
      {"problems", listToJson(figures.problems)},
      {"phases", phasesToJson(figures.phases)},
      {"window", window},
      {"channels", channels},
      {"throttling", listToJson(figures.throttling)},
      {"energy_j", energyToJson(figures.energy)},
      {"heat", listToJson(figures.heat)},
      {"passes", passesToJson(figures.passes)},
      {"battery", batteryToJson(figures.battery)},
      {"efficiency",
       {{"power_role", figures.efficiency.powerRole.empty() ? Json(nullptr) : Json(figures.efficiency.powerRole)},
        {"score_per_watt", numberOrNull(figures.efficiency.scorePerWatt)},
        {"work_per_joule", numberOrNull(figures.efficiency.workPerJoule)},
        {"frames_per_joule", numberOrNull(figures.efficiency.framesPerJoule)}}},
      {"fans", fansToJson(figures.fans)}};
  // Only a run with a microphone has it.
  if (figures.sound) json["sound"] = soundToJson(*figures.sound);
  return json;
}

namespace {

Json wordsOrNull(std::string_view words) { return words.empty() ? Json(nullptr) : Json(words); }

Json toJson(const MetricRow& metric) {
  return {{"value", numberOrNull(metric.value)},
          {"ci_low", numberOrNull(metric.ciLow)},
          {"ci_high", numberOrNull(metric.ciHigh)},
          {"difference", numberOrNull(metric.difference)},
          {"difference_percent", numberOrNull(metric.differencePercent)},
          {"difference_low", numberOrNull(metric.differenceLow)},
          {"difference_high", numberOrNull(metric.differenceHigh)},
          {"ratio", numberOrNull(metric.ratio)},
          {"ratio_low", numberOrNull(metric.ratioLow)},
          {"ratio_high", numberOrNull(metric.ratioHigh)},
          {"estimate", metric.isEstimate},
          {"assumed", metric.isAssumed},
          {"bound", wordsOrNull(wordsOf(metric.bound))},
          {"verdict", wordsOrNull(wordsOf(metric.verdict))},
          {"reason", wordsOrNull(metric.reason)}};
}

Json metricsToJson(const std::map<Figure, MetricRow>& all) {
  Json metrics = Json::object();
  for (const auto& [name, metric] : all) metrics[name.code()] = toJson(metric);
  return metrics;
}

Json codesOf(const std::set<Figure>& figures) {
  Json codes = Json::array();
  for (const Figure& figure : figures) codes.push_back(figure.code());
  return codes;
}

Json toJson(const FactorEffect& effect) {
  Json within = Json::array();
  for (const FactorEffect::Within& one : effect.within) {
    within.push_back({{"others", one.others},
                      {"setup", one.row.setup},
                      {"reference", one.referenceSetup},
                      {"metrics", metricsToJson(one.row.metrics)}});
  }
  return {{"factor", effect.factor},
          {"level", effect.level},
          {"reference", effect.reference},
          {"within", within},
          {"mean", metricsToJson(effect.mean)},
          {"depends_on_others", codesOf(effect.dependsOnOthers)}};
}

}  // namespace

Json comparisonToJson(const Comparison& comparison) {
  Json rows = Json::array();
  for (const ComparisonRow& row : comparison.rows) {
    rows.push_back({{"run", row.run},
                    {"setup", row.setup},
                    {"load", row.load},
                    {"repeats", row.repeats},
                    {"metrics", metricsToJson(row.metrics)}});
    if (!row.way.empty()) rows.back()["way"] = row.way;
    if (!row.levelField.empty())
      rows.back()["setting"] = {{"field", row.levelField},
                                {"value", numberOrNull(row.levelSetting)},
                                {"ci_low", numberOrNull(row.levelSettingLow)},
                                {"ci_high", numberOrNull(row.levelSettingHigh)}};
  }
  Json factors = Json::array();
  for (const FactorEffect& effect : comparison.factors) factors.push_back(toJson(effect));
  Json checks = Json::array();
  for (const ComparisonCheck& check : comparison.checks) {
    checks.push_back({{"severity", wordsOf(check.severity)},
                      {"between", check.between},
                      {"what", codeOf(check)},
                      {"text", check.text}});
  }
  Json differs = Json::array();
  for (const FieldDifference& difference : comparison.whatDiffers) {
    differs.push_back(
        {{"between", difference.between}, {"field", difference.field}, {"a", difference.a}, {"b", difference.b}});
  }
  return {{"contract", kContractVersion},
          {"figures_method", kFiguresMethod},
          {"reference", comparison.reference},
          {"runs", comparison.runs},
          {"equal", !comparison.equalBy ? Json(nullptr)
                                        : Json{{"by", comparison.equalBy->code()},
                                               {"at", numberOrNull(comparison.equalAt)},
                                               {"from", numberOrNull(comparison.equalFrom)},
                                               {"to", numberOrNull(comparison.equalTo)}}},
          {"rows", rows},
          {"factors", factors},
          {"checks", checks},
          {"what_differs", differs}};
}

}  // namespace ash
