// SPDX-License-Identifier: GPL-3.0-or-later
// Score per watt, work and frames per joule: always with the role whose power was taken.
#include <cmath>

#include "analysis/energy/energy.h"

namespace ash {
namespace {

std::string powerRoleOf(const RunContext& context) {
  for (const char* role : {roles::kWallPower, roles::kBatteryPower}) {
    if (context.find(role) != nullptr) return role;
  }
  // The loaded device's own: the one that draws more than at rest by most.
  std::string best;
  double most = 0;
  for (const char* role : {roles::kCpuPower, roles::kGpuPower}) {
    if (context.find(role) == nullptr || !context.load) continue;
    const double atRest = context.idle ? meanIn(context, role, *context.idle) : 0;
    const double rise = meanIn(context, role, *context.load) - (std::isfinite(atRest) ? atRest : 0);
    if (rise > most) {
      most = rise;
      best = role;
    }
  }
  return best;
}

std::optional<double> scorePerWatt(const RunContext& context, const std::string& role) {
  std::vector<double> perPass;
  for (const Pass& pass : context.run.facts.passes) {
    const double watts = meanIn(context, role, {pass.startS, pass.endS});
    if (std::isfinite(pass.score) && watts > 0) perPass.push_back(pass.score / watts);
  }
  if (perPass.empty()) return std::nullopt;
  return meanOf(perPass);
}

// Amount per joule of a rate (1/s): the rate's mean over the power's mean, both over the load.
std::optional<double> ratePerWatt(const RunContext& context, const std::string& rate, const std::string& role) {
  if (!context.load) return std::nullopt;
  const double perSecond = meanIn(context, rate, *context.load);
  const double watts = meanIn(context, role, *context.load);
  if (!std::isfinite(perSecond) || !(watts > 0)) return std::nullopt;
  return perSecond / watts;
}

std::optional<double> workPerJoule(const RunContext& context, const std::string& role) {
  const auto& work = context.run.facts.work;
  if (!work || !context.load || !(work->units > 0)) return ratePerWatt(context, roles::kWorkRate, role);
  const double endS = std::isfinite(work->doneS) ? context.load->startS + work->doneS : context.load->endS;
  const auto joules = joulesOf(context, role, {context.load->startS, std::min(endS, context.load->endS)});
  if (!joules || *joules <= 0) return std::nullopt;
  return work->units / *joules;
}

}  // namespace

Efficiency efficiencyOf(const RunContext& context) {
  Efficiency efficiency;
  const std::string role = powerRoleOf(context);
  if (role.empty()) return efficiency;
  efficiency.powerRole = role;
  efficiency.scorePerWatt = scorePerWatt(context, role);
  efficiency.workPerJoule = workPerJoule(context, role);
  efficiency.framesPerJoule = ratePerWatt(context, roles::kFrameRate, role);
  return efficiency;
}

}  // namespace ash
