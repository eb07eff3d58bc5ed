// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/study/study_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>

#include "analysis/analyze.h"
#include "model/role.h"
#include "model/text.h"

namespace ash {

Figure leadingMetric(const StudyReport& report, const Comparison& comparison) {
  return leadingFigure(report.plan, pointersTo(report.runs), comparison);
}

std::vector<const AnalyzedRun*> pointersTo(const std::vector<std::shared_ptr<const AnalyzedRun>>& runs) {
  std::vector<const AnalyzedRun*> all;
  for (const auto& run : runs) all.push_back(run.get());
  return all;
}

namespace {

// Those that count of the setup that the others are held against.
std::vector<const AnalyzedRun*> referenceRuns(const std::vector<const AnalyzedRun*>& runs,
                                              const CompareOptions& options) {
  std::string setup;
  for (const AnalyzedRun* run : runs) {
    if (run->run.name == options.reference) setup = run->run.facts.setup;
  }
  std::vector<const AnalyzedRun*> reference;
  for (const AnalyzedRun* run : runs) {
    if (run->run.facts.setup == setup && run->run.facts.outcome != Outcome::Void) reference.push_back(run);
  }
  return reference;
}

}  // namespace

Result<StudyReport> assembleStudy(Study study, std::vector<RunSummary> summaries,
                                  std::vector<std::shared_ptr<const AnalyzedRun>> runs, const std::string& referenceRun,
                                  std::vector<EarlierSetup> earlier) {
  StudyReport report;
  report.plan = planFromJson(study.plan);
  report.study = std::move(study);
  report.runs = std::move(runs);
  report.summaries = std::move(summaries);
  report.earlier = std::move(earlier);
  bool isReferenceThere = referenceRun.empty();
  const std::string setup = referenceSetup(report.study, report.plan);
  for (const Load& load : report.study.loads) {
    std::vector<const AnalyzedRun*> ofLoad;
    bool countsAny = false, holdsReference = false;
    for (const auto& run : report.runs) {
      if (run->run.facts.load != load.name) continue;
      ofLoad.push_back(run.get());
      countsAny |= run->run.facts.outcome != Outcome::Void;
      holdsReference |= run->run.name == referenceRun;
    }
    if (!countsAny) continue;
    CompareOptions options = compareOptionsOf(report.plan, report.study.setups.size());
    options.reference = holdsReference ? referenceRun : firstRunOf(ofLoad, setup);
    isReferenceThere |= holdsReference;
    auto comparison = compareRuns(ofLoad, options);
    if (!comparison) return comparison.error();
    LoadStanding standing{load.name, std::move(*comparison), {}, {}};
    if (report.plan.isUntilDecided) standing.decisions = decisionsOf(report.study, report.plan, ofLoad);
    if (!report.earlier.empty())
      standing.earlier = earlierRows(report.earlier, load.name, referenceRuns(ofLoad, options), options);
    report.loads.push_back(std::move(standing));
  }
  if (!isReferenceThere)
    return Error::badInput(
        fmt::format("The reference \"{}\" is no finished run of \"{}\".", referenceRun, report.study.name));
  return report;
}

Result<StudyReport> gatherStudy(const Book& book, const std::string& name, const std::string& referenceRun,
                                const StudyProgress& progress) {
  const auto study = book.study(name);
  if (!study) return study.error();
  auto all = book.runs();
  if (!all) return all.error();
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  std::vector<RunSummary> summaries;
  std::erase_if(*all,
                [&](const RunSummary& one) { return one.info.study != name || one.info.outcome == Outcome::Running; });
  for (const RunSummary& summary : *all) {
    auto run = book.readRun(summary.info.id);
    if (!run) return run.error();
    auto analyzed = std::make_shared<AnalyzedRun>(AnalyzedRun{std::move(*run), {}});
    analyzed->figures = analyzeRun(analyzed->run);
    runs.push_back(std::move(analyzed));
    summaries.push_back(summary);
    if (progress) progress(runs.size(), all->size());
  }
  if (runs.empty()) return Error::badInput(fmt::format("The study \"{}\" has no finished run to report.", name));
  std::vector<EarlierSetup> earlier;
  for (const AlsoShown& also : planFromJson(study->plan).alsoShown) earlier.push_back(readEarlier(book, also));
  auto report = assembleStudy(*study, std::move(summaries), std::move(runs), referenceRun, std::move(earlier));
  if (!report) return report;
  const auto kept = book.attachments();
  if (!kept) return kept.error();
  report->pictures = picturesAmong(*study, *kept);
  // What does not fit on a page is not read, and what is damaged hides no result: it is named.
  long long leftB = kMostPicturesB;
  for (StudyPicture& picture : report->pictures) {
    if (picture.kept.sizeB > leftB) continue;
    auto bytes = book.attachmentBytes(picture.kept.id);
    if (!bytes) continue;
    picture.bytes = std::move(*bytes);
    leftB -= picture.kept.sizeB;
  }
  return report;
}

std::vector<StudyPicture> picturesAmong(const Study& study, const std::vector<Attachment>& kept) {
  std::vector<StudyPicture> all;
  for (size_t setup = 0; setup < study.setups.size(); ++setup) {
    for (const Attachment& each : kept) {
      if (each.setup != 0 && each.setup == study.setups[setup].id && isPicture(each)) all.push_back({setup, each, {}});
    }
  }
  return all;
}

int setupIndexOf(const StudyReport& report, const ComparisonRow& row) {
  if (const int own = setupIndexIn(report.study, row.setup); own >= 0) return own;
  for (const auto& run : report.runs) {
    if (run->run.name == row.run) return setupIndexIn(report.study, run->run.facts.setup);
  }
  return -1;
}

namespace {

// Small letters, digits and what is beyond ASCII; all else parts words.
std::string plainName(const std::string& study) {
  constexpr size_t kLongest = 80;
  std::string name;
  for (const char c : study.substr(0, kLongest)) {
    const auto letter = static_cast<unsigned char>(c);
    if (letter >= 0x80 || std::isalnum(letter) != 0)
      name += letter < 0x80 ? static_cast<char>(std::tolower(letter)) : c;
    else if (!name.empty() && name.back() != '-')
      name += '-';
  }
  while (name.ends_with('-')) name.pop_back();
  return asUtf8(name);
}

}  // namespace

std::string pageFileName(const std::string& study, const std::vector<Study>& studies) {
  const std::string name = plainName(study);
  int number = 1;
  for (const Study& other : studies) {
    if (other.name == study) break;
    number += plainName(other.name) == name;
  }
  const std::string whole = name.empty() ? "study" : name;
  return number == 1 ? whole : fmt::format("{}-{}", whole, number);
}

}  // namespace ash
