// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/comparison/first_mount.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "analysis/heat/contact.h"
#include "model/number_text.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kWorseContact = 0.17;
constexpr double kMountScatter = 0.04;  // from one good mount to the next, as a part of the contact
constexpr double kSureSd = 1.64;        // 95 %, one side
constexpr double kMostApartSampled = 2;
constexpr double kHardlyBetter = 0.03;  // of the resistance of what it replaces

bool isUnderTest(const Pool& pool, std::initializer_list<const char*> words) {
  const auto& fields = pool.first().run.facts.underTest;
  return std::any_of(fields.begin(), fields.end(), [&](const std::string& field) {
    return std::any_of(words.begin(), words.end(),
                       [&](const char* word) { return field.find(word) != std::string::npos; });
  });
}

Json conditionOf(const Pool& pool, const char* field) {
  return valueIn(pool.first().run.facts.conditions, field, Json());
}

// Two that were sampled very differently blur the seconds after a step differently.
bool areSampledAlike(const Pool& pool, const Pool& reference) {
  const double one = pool.first().figures.intervalS, other = reference.first().figures.intervalS;
  return one > 0 && other > 0 && std::max(one, other) <= kMostApartSampled * std::min(one, other);
}

void tellContact(const Pool& worse, const Pool& better, double worseKW, double betterKW, Comparison& comparison) {
  comparison.checks.push_back(
      {Severity::Warn,
       {better.first().run.name, worse.first().run.name},
       CheckKind::FirstMount,
       fmt::format("Check mount and paste of {} and mount it again: by one mount its contact resists {:.0f} % more "
                   "than that of "
                   "{} ({:.3f} and {:.3f} K/W).",
                   worse.setup, 100 * (worseKW / betterKW - 1), better.setup, worseKW, betterKW)});
}

// What a setup costs, where it is stated.
std::optional<double> priceOf(const Pool& pool) { return pool.first().run.facts.conditionNumber("price"); }

// A new cooler or paste that costs more was meant to be better; one that hardly is, after a single mount, may just sit
// badly. One that is clearly worse is worse.
void findHardlyBetter(const Pool& pool, const Pool& reference, const MetricMaps& maps, Comparison& comparison) {
  // Another fan speed makes another resistance.
  const auto dutyOf = [](const Pool& of) { return of.first().run.facts.conditionNumber("fan_duty"); };
  if (dutyOf(pool) != dutyOf(reference)) return;
  const Figure metric(Role(pool.first().figures.watched).device(), FigureId::Resistance);
  const Pooled own = pooled(pool, maps, metric), other = pooled(reference, maps, metric);
  if (own.n == 0 || other.n == 0) return;
  const double change = own.mean / other.mean - 1;
  if (!(std::abs(change) < kHardlyBetter)) return;
  const auto price = priceOf(pool), before = priceOf(reference);
  if (!price || !before || *price <= *before) return;
  comparison.checks.push_back(
      {Severity::Info,
       {reference.first().run.name, pool.first().run.name},
       CheckKind::FirstMount,
       fmt::format("{} is {} {} after one mount ({} % in resistance): check mount and airflow, and mount it again "
                   "before you judge it.",
                   pool.setup, change > 0 ? "no better than" : "barely better than", reference.setup,
                   signedText(100 * change, 1))});
}

}  // namespace

MountCheck::Contact MountCheck::contactOf(const Pool& pool) {
  Contact contact;
  const auto n = static_cast<double>(pool.runs.size());
  for (const AnalyzedRun* run : pool.runs) {
    const Spread one = ash::contactOf(run->run, Role(run->figures.watched).device(), run->figures.loads);
    contact.mean += one.mean / n;
    contact.relativeVariance += (std::pow(one.sd / one.mean, 2) + kMountScatter * kMountScatter) / (n * n);
  }
  return contact;
}

// True when the contacts of both are known: then they have said what there is to say of the mount.
bool MountCheck::compareContacts(const Pool& pool, Comparison& comparison) {
  const bool isMeantToDiffer =
      isUnderTest(pool, {"paste", "pad"}) || conditionOf(pool, "paste") != conditionOf(m_reference, "paste");
  if (isMeantToDiffer || pool.first().figures.watched != m_reference.first().figures.watched ||
      !areSampledAlike(pool, m_reference))
    return false;
  if (!m_contactOfReference) m_contactOfReference = contactOf(m_reference);
  const Contact own = contactOf(pool), &other = *m_contactOfReference;
  if (!std::isfinite(own.mean) || !std::isfinite(other.mean)) return false;
  const double least = std::max(kWorseContact, kSureSd * std::sqrt(own.relativeVariance + other.relativeVariance));
  if (own.mean > other.mean * (1 + least))
    tellContact(pool, m_reference, own.mean, other.mean, comparison);
  else if (other.mean > own.mean * (1 + least) && m_reference.runs.size() == 1 &&
           !std::exchange(m_isReferenceTold, true))
    tellContact(m_reference, pool, other.mean, own.mean, comparison);
  return true;
}

void MountCheck::look(const Pool& pool, const MetricMaps& maps, Comparison& comparison) {
  if (&pool == &m_reference || pool.runs.size() != 1 || !isUnderTest(pool, {"cooler", "paste", "pad", "mount"})) return;
  if (!compareContacts(pool, comparison)) findHardlyBetter(pool, m_reference, maps, comparison);
}

}  // namespace ash
