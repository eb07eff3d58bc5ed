// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/truth_logs.h"

#include <algorithm>
#include <cmath>
#include <random>

#include "model/role.h"

namespace ash::tests {
namespace {

struct Stage {
  double kelvinPerWatt, tauS, watts;
};

/// What one log is made from.
struct Recipe {
  double intervalS = 1, idleS = 120, loadS = 900, coolS = 0;
  double unevenShare = 0;  // of the interval, by which each sample may come earlier or later
  double idleW = 12, loadW = 80, boostW = 0, boostS = 0;
  std::vector<Stage> stages;
  double roomC = 22, roomDriftK = 0, roomSwingK = 0, roomSwingS = 1800;
  double noiseK = 0.15, noisePhi = 0, stepK = 0.1, noiseW = 0.4;
  double limitC = 0, swingK = 0;                      // governed at limitC, within swingK below it
  std::vector<std::array<double, 2>> pauses, bursts;  // s, from the log's start
  double changedAtS = INFINITY, changedLoadW = 0;     // s, from the load's start; W from then on, 0 = as before
  double changedResistance = 1;                       // of the last stage from then on, as a part of what it was: a fan
  double startedWarmK = 0;
  int spikes = 0, gaps = 0;
  bool hasRoom = true, hasPower = true, hasLoad = true, hasClock = true, hasFan = true;
};

class Maker {
 public:
  Maker(Recipe recipe, unsigned seed) : m_recipe(std::move(recipe)), m_random(seed) {}

  TruthLog make() {
    prepare();
    const double endS = m_recipe.idleS + m_recipe.loadS + m_recipe.coolS;
    long long next = 0;
    double uneven = 0;
    for (double t = 0; t < endS - 1e-9; t += kTickS) {
      if (t >= m_recipe.idleS + m_recipe.changedAtS && !m_isChanged) change();
      control(t);
      if (t >= (static_cast<double>(next) + uneven) * m_recipe.intervalS - 1e-9) {
        sample(t);
        ++next;
        if (m_recipe.unevenShare > 0) uneven = m_recipe.unevenShare * (2 * share() - 1);
      }
      for (Stage& stage : m_recipe.stages) stage.watts += (m_watts - stage.watts) * -std::expm1(-kTickS / stage.tauS);
      if (isUnderLoad(t)) m_clean.push_back(cleanC(t));
    }
    spoil();
    finish();
    return std::move(m_made);
  }

 private:
  static constexpr double kTickS = 0.05;
  static constexpr double kFullMhz = 4600;
  static constexpr double kLateShare = 0.04;  // of the load: what stands for the power of its end

  double normal() { return m_normal(m_random); }
  double share() { return m_uniform(m_random); }
  bool isUnderLoad(double t) const {
    return m_recipe.loadS > 0 && t >= m_recipe.idleS - 1e-9 && t < m_recipe.idleS + m_recipe.loadS - 1e-9;
  }
  bool isIn(const std::vector<std::array<double, 2>>& spans, double t) const {
    return std::any_of(spans.begin(), spans.end(), [t](const auto& span) { return t >= span[0] && t < span[1]; });
  }
  bool isBusy(double t) const { return isUnderLoad(t) ? !isIn(m_recipe.pauses, t) : isIn(m_recipe.bursts, t); }
  double roomC(double t) const {
    const double all = m_recipe.idleS + m_recipe.loadS + m_recipe.coolS;
    return m_recipe.roomC + m_recipe.roomDriftK * t / all +
           m_recipe.roomSwingK * std::sin(2 * M_PI * t / m_recipe.roomSwingS);
  }
  double cleanC(double t) const {
    double c = roomC(t);
    for (const Stage& stage : m_recipe.stages) c += stage.kelvinPerWatt * stage.watts;
    return c;
  }

  // The masses stay as they are: what they hold is K, and the time constant goes with the resistance.
  void change() {
    m_isChanged = true;
    if (m_recipe.changedLoadW > 0) m_recipe.loadW = m_recipe.changedLoadW;
    Stage& last = m_recipe.stages.back();
    last.kelvinPerWatt *= m_recipe.changedResistance;
    last.tauS *= m_recipe.changedResistance;
    last.watts /= m_recipe.changedResistance;
  }

  void prepare() {
    for (Stage& stage : m_recipe.stages) {
      stage.watts = m_recipe.idleW + m_recipe.startedWarmK / stage.kelvinPerWatt / double(m_recipe.stages.size());
    }
    const auto add = [&](const char* role, bool isThere) {
      if (!isThere) return;
      Channel channel;
      channel.name = role;
      channel.role = role;
      channel.quantity = channel.role.quantity();
      channel.unit = unitOf(channel.quantity);
      m_made.run.log.channels.push_back(channel);
    };
    add("cpu.temp", true);
    add("cpu.power", m_recipe.hasPower);
    add("cpu.load", m_recipe.hasLoad);
    add("cpu.clock", m_recipe.hasClock);
    add("fan.cpu", m_recipe.hasFan);
    add("room.temp", m_recipe.hasRoom);
    m_made.run.name = m_made.run.facts.setup = "made";
    if (m_recipe.limitC > 0) m_made.run.facts.limits["cpu.temp"]["throttle"] = m_recipe.limitC;
  }

  // The governor steps every half second.
  void control(double t) {
    const double full = t - m_recipe.idleS < m_recipe.boostS && isUnderLoad(t) ? m_recipe.boostW : m_recipe.loadW;
    if (m_recipe.limitC > 0 && isBusy(t) && std::fmod(t + 1e-9, 0.5) < kTickS) {
      const double c = cleanC(t);
      if (m_recipe.swingK > 0) {
        if (c >= m_recipe.limitC) m_clock = 0.55 * kFullMhz;
        if (c <= m_recipe.limitC - m_recipe.swingK) m_clock = kFullMhz;
      } else {
        m_clock = std::clamp(m_clock + (c > m_recipe.limitC - 0.3 ? -25.0 : 25.0), 800.0, kFullMhz);
      }
      m_wasHeld |= m_clock < 0.97 * kFullMhz;
    }
    const double ofFull = std::pow(m_clock / kFullMhz, 2.2);
    m_watts = isBusy(t) ? m_recipe.idleW + (full - m_recipe.idleW) * ofFull : m_recipe.idleW;
    if (isUnderLoad(t) && t >= m_recipe.idleS + (1 - kLateShare) * m_recipe.loadS) m_lateWs += m_watts * kTickS;
  }

  void sample(double t) {
    auto& log = m_made.run.log;
    log.timeS.push_back(std::round(t * 1000) / 1000);
    m_noise = m_recipe.noisePhi * m_noise + std::sqrt(1 - m_recipe.noisePhi * m_recipe.noisePhi) * normal();
    const double c = cleanC(t) + m_recipe.noiseK * m_noise;
    const bool busy = isBusy(t);
    for (Channel& channel : log.channels) {
      double value = 0;
      if (channel.name == "cpu.temp") value = m_recipe.stepK > 0 ? std::round(c / m_recipe.stepK) * m_recipe.stepK : c;
      if (channel.name == "cpu.power") value = std::round((m_watts + m_recipe.noiseW * normal()) * 100) / 100;
      if (channel.name == "cpu.load") value = busy ? 99 + share() : std::round(30 * share()) / 10;
      if (channel.name == "cpu.clock")
        value = busy ? std::round(m_clock + 8 * normal()) : 1800 + std::round(200 * share());
      if (channel.name == "fan.cpu")
        value = (m_isChanged ? 1200 / m_recipe.changedResistance : 1200) + std::round(6 * normal());
      if (channel.name == "room.temp") value = std::round((roomC(t) + 0.04 * normal()) * 10) / 10;
      channel.values.push_back(value);
    }
  }

  void spoil() {
    auto& log = m_made.run.log;
    const auto count = static_cast<double>(log.timeS.size());
    auto& temperature = log.channels[0].values;
    for (int k = 0; k < m_recipe.spikes; ++k) {
      temperature[static_cast<size_t>((0.1 + 0.8 * share()) * count)] += share() < 0.5 ? 30 : -25;
      m_made.truth.planted.insert("spike");
    }
    for (int k = 0; k < m_recipe.gaps; ++k) {
      const auto first = static_cast<size_t>((0.1 + 0.7 * share()) * count);
      const auto length = std::min<size_t>(static_cast<size_t>(8 + 20 * share()), log.timeS.size() - first - 5);
      log.timeS.erase(log.timeS.begin() + long(first), log.timeS.begin() + long(first + length));
      for (Channel& channel : log.channels)
        channel.values.erase(channel.values.begin() + long(first), channel.values.begin() + long(first + length));
      m_made.truth.planted.insert("gap");
    }
  }

  void finish() {
    Truth& truth = m_made.truth;
    double lowest = INFINITY, highest = -INFINITY;
    for (double t = m_recipe.idleS; t < m_recipe.idleS + m_recipe.loadS; t += 1) {
      lowest = std::min(lowest, roomC(t));
      highest = std::max(highest, roomC(t));
    }
    if (highest - lowest > 1.5) truth.planted.insert("room_moved");
    if (highest - lowest > 0.6 && highest - lowest <= 1.5) truth.planted.insert("room_moved a little");
    if (m_recipe.changedResistance != 1) truth.planted.insert("fan_moved");
    if (m_recipe.startedWarmK > 0) truth.planted.insert("started_warm");
    if (!m_recipe.bursts.empty()) truth.planted.insert("background_load");
    truth.hasLoad = m_recipe.loadS > 0;
    truth.loadStartS = m_recipe.idleS;
    truth.loadEndS = m_recipe.idleS + m_recipe.loadS;
    truth.kelvinPerWatt = 0;
    for (const Stage& stage : m_recipe.stages) {
      truth.tausS.push_back(stage.tauS);
      truth.kelvinPerWatt += stage.kelvinPerWatt;
    }
    std::sort(truth.tausS.begin(), truth.tausS.end());
    if (!truth.hasLoad || m_clean.empty()) return;
    const size_t fifth = m_clean.size() - m_clean.size() / 5 - 1;
    truth.isGoverned = m_wasHeld && m_recipe.limitC > 0;
    const double roomEndC = roomC(truth.loadEndS);
    if (truth.isGoverned) {
      const double lastS = kLateShare * m_recipe.loadS;
      double sum = 0;
      for (size_t i = fifth; i < m_clean.size(); ++i) sum += m_clean[i];
      truth.finalC = sum / double(m_clean.size() - fifth);
      truth.remainingK = truth.trendK = 0;
      if (m_recipe.swingK > 0) return;  // the mean over cycles is not told by the last of them
      // At its limit for ever it draws what all of its metal carries away at that temperature.
      truth.heldW = (truth.finalC - roomEndC) / truth.kelvinPerWatt;
      truth.heldRemainingPercent = 100 * (m_lateWs / lastS / truth.heldW - 1);
      return;
    }
    truth.finalC = roomEndC + truth.kelvinPerWatt * m_recipe.loadW;
    truth.remainingK = truth.finalC - m_clean.back();
    const auto left = [&](size_t i) {
      const double t = truth.loadStartS + double(i) * kTickS;
      return truth.kelvinPerWatt * m_recipe.loadW - (m_clean[i] - roomC(t));
    };
    truth.trendK = left(fifth) - left(m_clean.size() - 1);
    size_t since = m_clean.size();
    while (since > 0 && std::abs(left(since - 1)) < 0.5) --since;
    if (since < m_clean.size()) truth.settledAtS = truth.loadStartS + double(since) * kTickS;
  }

  Recipe m_recipe;
  std::mt19937 m_random;
  std::normal_distribution<double> m_normal;
  std::uniform_real_distribution<double> m_uniform;
  TruthLog m_made;
  double m_watts = 0, m_clock = kFullMhz, m_noise = 0, m_lateWs = 0;
  bool m_wasHeld = false, m_isChanged = false;
  std::vector<double> m_clean;  // under load, every tick
};

/// Draws recipes.
class Chef {
 public:
  explicit Chef(unsigned seed) : m_random(seed) {}

  double from(double low, double high) { return std::uniform_real_distribution<double>(low, high)(m_random); }
  double logFrom(double low, double high) { return low * std::pow(high / low, from(0, 1)); }
  template <typename T>
  T oneOf(std::initializer_list<T> values) {
    return *(values.begin() + std::uniform_int_distribution<int>(0, int(values.size()) - 1)(m_random));
  }

  Recipe plain() {
    Recipe recipe;
    recipe.intervalS = oneOf({0.1, 0.5, 0.5, 1.0, 2.0});
    recipe.idleS = std::round(from(40, 300));
    recipe.idleW = from(6, 20);
    recipe.loadW = from(40, 160);
    recipe.roomC = from(18, 28);
    recipe.noiseK = logFrom(0.03, 0.5);
    recipe.noisePhi = oneOf({0.0, 0.0, 0.5, 0.8});
    recipe.stepK = oneOf({0.0, 0.1, 0.125, 0.25, 0.5});
    oneStage(recipe, logFrom(30, 400));
    recipe.loadS = std::round(recipe.stages[0].tauS * oneOf({1.2, 2.0, 3.0, 8.0, 10.0, 12.0}));
    recipe.coolS = oneOf({0.0, 60.0, 200.0});
    return recipe;
  }
  void oneStage(Recipe& recipe, double tauS) { recipe.stages = {{from(25, 60) / recipe.loadW, tauS, 0}}; }
  void twoStages(Recipe& recipe, double fastS, double ratio) {
    recipe.stages = {{from(12, 40) / recipe.loadW, fastS, 0}, {from(4, 25) / recipe.loadW, fastS * ratio, 0}};
  }

 private:
  std::mt19937 m_random;
};

Recipe recipeOf(const std::string& scenario, Chef& chef) {
  Recipe recipe = chef.plain();
  if (scenario == "two stages") {
    chef.twoStages(recipe, chef.logFrom(5, 60), chef.logFrom(5, 30));
    recipe.loadS = std::round(recipe.stages[1].tauS * chef.oneOf({0.7, 1.5, 3.0, 6.0, 8.0}));
  } else if (scenario == "slow plateau") {
    chef.twoStages(recipe, chef.logFrom(8, 60), chef.logFrom(5, 40));
    recipe.loadS = std::round(recipe.stages[0].tauS * chef.from(4, 9));
  } else if (scenario == "coarse") {
    recipe.stepK = 1;
    recipe.noiseK = chef.oneOf({0.0, 0.05, 0.2, 0.5});
  } else if (scenario == "drifting room") {
    recipe.roomDriftK = chef.from(-4, 4);
    recipe.roomSwingK = chef.oneOf({0.0, 0.5, 1.0});
  } else if (scenario == "pinned" || scenario == "swinging") {
    recipe.intervalS = chef.oneOf({0.5, 1.0, 2.0});
    if (chef.from(0, 1) < 0.5) chef.twoStages(recipe, chef.logFrom(5, 40), chef.logFrom(5, 15));
    recipe.loadS = std::round(recipe.stages.back().tauS * chef.from(4, 8));
    double all = 0;
    for (const Stage& stage : recipe.stages) all += stage.kelvinPerWatt * recipe.loadW;
    recipe.limitC = std::round(recipe.roomC + all * chef.from(0.75, 0.92));
    recipe.swingK = scenario == "swinging" ? chef.from(2, 6) : 0;
  } else if (scenario == "pauses") {
    recipe.loadS = std::round(std::max(300.0, recipe.stages[0].tauS * chef.from(5, 10)));
    const double at = recipe.idleS + recipe.loadS * chef.from(0.2, 0.5);
    // Longer ones part two loads where the device cools (contract, "Several loads in one log").
    const double longestS = std::min(0.1 * (at - recipe.idleS), 100.0);
    recipe.pauses.push_back({at, at + chef.from(8, std::max(9.0, longestS))});
  } else if (scenario == "bursts") {
    recipe.idleS = std::round(chef.from(150, 400));
    for (double at = 20; at < recipe.idleS - 60; at += chef.from(50, 120))
      recipe.bursts.push_back({at, at + chef.from(2, 14)});
    recipe.loadS = std::max(recipe.loadS, 120.0);
  } else if (scenario == "no rest") {
    recipe.idleS = 0;
    recipe.hasLoad = chef.from(0, 1) < 0.5;
  } else if (scenario == "only rest") {
    recipe.loadS = 0;
    recipe.hasLoad = chef.from(0, 1) < 0.5;
    recipe.idleS = chef.from(120, 900);
  } else if (scenario == "boost") {
    recipe.boostW = recipe.loadW * chef.from(1.2, 1.8);
    recipe.boostS = chef.from(10, 60);
    recipe.loadS = std::max(recipe.loadS, 4 * recipe.boostS);
  } else if (scenario == "slow samples") {
    recipe.intervalS = chef.oneOf({10.0, 30.0, 60.0});
    recipe.idleS = recipe.intervalS * std::round(chef.from(4, 10));
    chef.oneStage(recipe, chef.from(5, 12) * recipe.intervalS);
    recipe.loadS =
        recipe.intervalS * std::round(recipe.stages[0].tauS / recipe.intervalS * chef.oneOf({3.0, 8.0, 12.0}));
  } else if (scenario == "uneven samples") {
    recipe.intervalS = chef.oneOf({2.0, 10.0, 40.0});
    recipe.unevenShare = chef.from(0.25, 0.45);
    recipe.idleS = recipe.intervalS * std::round(chef.from(6, 12));
    chef.oneStage(recipe, chef.from(8, 20) * recipe.intervalS);
    recipe.loadS =
        recipe.intervalS * std::round(recipe.stages[0].tauS / recipe.intervalS * chef.oneOf({2.0, 4.0, 8.0}));
  } else if (scenario == "short") {
    recipe.idleS = chef.from(5, 15);
    recipe.loadS = std::round(chef.from(25, 70));
    recipe.intervalS = chef.oneOf({0.1, 0.5, 1.0});
    chef.oneStage(recipe, chef.logFrom(4, 100));
  } else if (scenario == "spoiled") {
    recipe.spikes = 3;
    recipe.gaps = 2;
  } else if (scenario == "started warm") {
    recipe.startedWarmK = chef.from(8, 20);
    recipe.idleS = chef.oneOf({0.0, 10.0, 30.0});
  } else if (scenario == "load lowered" || scenario == "load raised" || scenario == "fan failed" ||
             scenario == "fan came back") {
    if (chef.from(0, 1) < 0.5) chef.twoStages(recipe, chef.logFrom(5, 40), chef.logFrom(5, 15));
    const double tauS = recipe.stages.back().tauS;
    recipe.intervalS = chef.oneOf({0.5, 1.0, 2.0});
    recipe.stepK = chef.oneOf({0.1, 0.125, 0.5, 1.0});
    recipe.changedAtS = std::round(tauS * chef.from(1.5, 5));
    recipe.loadS = std::round(recipe.changedAtS + tauS * chef.oneOf({1.0, 2.0, 3.0, 6.0, 8.0}));
    if (scenario == "load lowered") recipe.changedLoadW = recipe.loadW * chef.from(0.5, 0.8);
    if (scenario == "load raised") recipe.changedLoadW = recipe.loadW * chef.from(1.2, 1.6);
    if (scenario == "fan failed") recipe.changedResistance = chef.from(1.2, 1.6);
    if (scenario == "fan came back") recipe.changedResistance = chef.from(0.6, 0.85);
  } else if (scenario == "little seen") {
    chef.oneStage(recipe, chef.logFrom(200, 2000));
    recipe.loadS = std::round(recipe.stages[0].tauS * chef.from(0.35, 0.7));
    recipe.intervalS = chef.oneOf({1.0, 2.0, 5.0});
  } else if (scenario == "no power logged") {
    recipe.hasPower = false;
  }
  recipe.idleS = std::round(recipe.idleS / recipe.intervalS) * recipe.intervalS;
  recipe.loadS = std::round(recipe.loadS / recipe.intervalS) * recipe.intervalS;
  return recipe;
}

}  // namespace

const std::vector<std::string>& truthScenarios() {
  static const std::vector<std::string> kAll = {
      "one stage",    "two stages",     "slow plateau", "coarse",        "drifting room", "pinned",
      "swinging",     "pauses",         "bursts",       "no rest",       "only rest",     "boost",
      "slow samples", "uneven samples", "short",        "spoiled",       "started warm",  "no power logged",
      "load lowered", "load raised",    "fan failed",   "fan came back", "little seen"};
  return kAll;
}

TruthLog makeTruthLog(const std::string& scenario, unsigned seed) {
  Chef chef(seed * 7919 + static_cast<unsigned>(std::hash<std::string>()(scenario) % 1000));
  return Maker(recipeOf(scenario, chef), seed).make();
}

}  // namespace ash::tests
