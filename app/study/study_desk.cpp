// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/study_desk.h"

#include <QUndoCommand>
#include <algorithm>
#include <cmath>

#include "app/look/words.h"
#include "report/answer/stated.h"
#include "system/clock.h"

namespace ash {
using look::text;
namespace {

/// Two values of a study. Edits of the same text field in a row are one.
class StudyEdit : public QUndoCommand {
 public:
  StudyEdit(StudyDesk& desk, const QString& what, Study before, Study after)
      : QUndoCommand(what), m_desk(desk), m_before(std::move(before)), m_after(std::move(after)) {}
  void undo() override {
    m_desk.keepStatedTraces(m_after, m_before);
    m_desk.apply(m_after, m_before, this, true);
  }
  void redo() override { m_desk.apply(m_before, m_after, this, false); }

 private:
  StudyDesk& m_desk;
  Study m_before, m_after;
};

class NewStudy : public QUndoCommand {
 public:
  NewStudy(StudyDesk& desk, Study study)
      : QUndoCommand(QObject::tr("New study")), m_desk(desk), m_study(std::move(study)) {}
  void undo() override { m_desk.applyRemoval(m_study); }
  void redo() override { m_desk.apply(m_study, m_study, this, false); }

 private:
  StudyDesk& m_desk;
  Study m_study;
};

class VoidRun : public QUndoCommand {
 public:
  VoidRun(StudyDesk& desk, QString run, QString reason, bool makesVoid)
      : QUndoCommand(makesVoid ? QObject::tr("Void a run") : QObject::tr("Count a run again")),
        m_desk(desk),
        m_run(std::move(run)),
        m_reason(std::move(reason)),
        m_makesVoid(makesVoid) {}
  void undo() override { set(!m_makesVoid); }
  void redo() override { set(m_makesVoid); }

 private:
  void set(bool isVoid) {
    if (isVoid)
      emit m_desk.voidWanted(m_run, m_reason);
    else
      emit m_desk.restoreWanted(m_run);
  }
  StudyDesk& m_desk;
  QString m_run, m_reason;
  bool m_makesVoid;
};

const std::vector<Study>& noStudies() {
  static const std::vector<Study> none;
  return none;
}
const std::vector<RunSummary>& noRuns() {
  static const std::vector<RunSummary> none;
  return none;
}

}  // namespace

StudyDesk::StudyDesk(QObject* parent) : QObject(parent) {}

const std::vector<Study>& StudyDesk::studies() const { return m_view ? m_view->studies : noStudies(); }
const std::vector<RunSummary>& StudyDesk::allRuns() const { return m_view ? m_view->runs : noRuns(); }

const AnalyzedRun* StudyDesk::figuresOf(const std::string& run) const {
  if (!m_report) return nullptr;
  for (const auto& known : m_report->runs) {
    if (known->run.name == run) return known.get();
  }
  return nullptr;
}

std::vector<Ladder> StudyDesk::ladders() const {
  std::vector<Ladder> ours;
  if (!m_view || !m_hasStudy) return ours;
  for (const Ladder& ladder : m_view->ladders) {
    if (ladder.ask.study == m_study.name) ours.push_back(ladder);
  }
  return ours;
}

std::optional<Ladder> StudyDesk::ladderOf(const std::string& run) const {
  if (!m_view) return std::nullopt;
  for (const Ladder& ladder : m_view->ladders) {
    const bool isOurs = std::any_of(ladder.steps.begin(), ladder.steps.end(),
                                    [&](const LadderStep& step) { return step.runId == run; });
    if (isOurs) return ladder;
  }
  return std::nullopt;
}

const std::vector<Attachment>& StudyDesk::attachments() const {
  static const std::vector<Attachment> kNone;
  return m_view ? m_view->attachments : kNone;
}

std::vector<NamedProcedure> StudyDesk::procedures() const {
  std::vector<NamedProcedure> newest;
  if (!m_view) return newest;
  for (const NamedProcedure& one : m_view->procedures) {
    if (newest.empty() || newest.back().name != one.name) newest.push_back(one);
  }
  return newest;
}

std::vector<Attachment> StudyDesk::attachmentsOf(long long setup) const {
  std::vector<Attachment> all;
  std::copy_if(attachments().begin(), attachments().end(), std::back_inserter(all),
               [&](const Attachment& one) { return setup != 0 && one.setup == setup; });
  return all;
}

std::vector<Attachment> StudyDesk::attachmentsOf(const std::string& run) const {
  std::vector<Attachment> all;
  std::copy_if(attachments().begin(), attachments().end(), std::back_inserter(all),
               [&](const Attachment& one) { return one.run == run; });
  return all;
}

std::vector<PlannedRun> StudyDesk::plannedRuns() const {
  return m_hasStudy ? ash::runsToDo(m_study, m_plan.repeats, m_runs) : std::vector<PlannedRun>();
}

std::vector<DecidedCell> StudyDesk::decided() const {
  std::vector<DecidedCell> decided;
  if (!m_plan.isUntilDecided || !m_report) return decided;
  const std::string reference = referenceSetup(m_study, m_plan);
  for (const LoadStanding& load : m_report->loads) {
    const auto cells = decidedCells(m_study, reference, load.load, load.decisions);
    decided.insert(decided.end(), cells.begin(), cells.end());
  }
  return decided;
}

std::vector<PlannedRun> StudyDesk::runsToDo() const { return withoutDecided(plannedRuns(), decided()); }

bool StudyDesk::isDecided(const std::string& setup, const std::string& load) const {
  const auto cells = decided();
  return std::find(cells.begin(), cells.end(), DecidedCell{setup, load}) != cells.end();
}

size_t StudyDesk::savedRuns() const { return plannedRuns().size() - runsToDo().size(); }

const Setup* StudyDesk::lastSetup() const {
  if (m_runs.empty()) return nullptr;
  const int index = setupIndexIn(m_study, m_runs.back().info.setup);
  return index < 0 ? nullptr : &m_study.setups[static_cast<size_t>(index)];
}

bool StudyDesk::knowsRunTime() const {
  return std::any_of(m_runs.begin(), m_runs.end(), [](const RunSummary& run) {
    return run.info.outcome == Outcome::Completed && std::isfinite(run.lastSampleS);
  });
}

double StudyDesk::usualRunS() const {
  double sum = 0;
  int count = 0;
  for (const RunSummary& run : m_runs) {
    if (run.info.outcome != Outcome::Completed || !std::isfinite(run.lastSampleS)) continue;
    sum += run.lastSampleS;
    ++count;
  }
  if (count > 0) return sum / count;
  const auto procedure = parsePhases(m_plan.phases);
  if (!procedure) return 0;
  for (const Phase& phase : procedure->phases) sum += reckonedPhaseS(phase);
  return sum;
}

void StudyDesk::takeStudy(const Study& study) {
  const bool isOther = !m_hasStudy || m_study.name != study.name;
  m_study = study;
  m_plan = planFromJson(study.plan);
  m_hasStudy = true;
  m_runs.clear();
  for (const RunSummary& run : allRuns()) {
    if (run.info.study == study.name) m_runs.push_back(run);
  }
  if (!isOther) return;
  m_report.reset();
  m_outlook.reset();
}

void StudyDesk::takeBook(const std::shared_ptr<const BookView>& view, bool isNew) {
  m_view = view;
  if (isNew) {
    m_puts = 0;
    m_undo.clear();
    m_hasStudy = false;
    m_report.reset();
    m_runs.clear();
  }
  const auto same = std::find_if(view->studies.begin(), view->studies.end(), [&](const Study& study) {
    return m_hasStudy && (m_study.id != 0 ? study.id == m_study.id : study.name == m_study.name);
  });
  if (m_hasStudy && m_puts > 0) {
    // An older state of the book must not undo what was edited since; its runs are news all the same.
    takeStudy(Study(m_study));
  } else if (same != view->studies.end()) {
    takeStudy(*same);
  } else if (!view->studies.empty()) {
    takeStudy(view->studies.front());
    emit workWanted(text(m_study.name));
  } else {
    m_hasStudy = false;
    m_runs.clear();
  }
  emit changed();
}

void StudyDesk::takePutDone(bool isKept) {
  m_puts = std::max(0, m_puts - 1);
  if (!isKept) dropRefused();
}

// What the book did not take can be neither undone nor done again. An edit that was built upon it goes with it.
void StudyDesk::dropRefused() {
  const int index = m_undo.index() - (m_appliedIsUndo ? 0 : 1);
  const bool isLast =
      m_puts == 0 && m_applied != nullptr && index >= 0 && index < m_undo.count() && m_undo.command(index) == m_applied;
  if (!isLast) {
    m_undo.clear();
  } else {
    // An obsolete command is not carried out, only taken off the stack.
    m_applied->setObsolete(true);
    m_appliedIsUndo ? m_undo.redo() : m_undo.undo();
  }
  m_applied = nullptr;
}

std::vector<ActivePart> StudyDesk::unconfirmed(const std::string& study, const std::string& setup,
                                               const std::string& load) const {
  if (!m_view || !m_view->unconfirmed.contains(study)) return {};
  const auto& open = m_view->unconfirmed.at(study);
  if (setup.empty() && load.empty()) return open;
  const auto known = std::find_if(m_view->studies.begin(), m_view->studies.end(),
                                  [&](const Study& candidate) { return candidate.name == study; });
  std::vector<ActivePart> ofCell;
  for (const ActivePart& part : activeParts(*known, setup, load)) {
    if (std::find(open.begin(), open.end(), part) != open.end()) ofCell.push_back(part);
  }
  return ofCell;
}

void StudyDesk::takeReport(const std::shared_ptr<const ReportView>& view) {
  if (!m_hasStudy || view->study != m_study.name) return;
  m_report = view->report;
  m_done = view->done;
  m_all = view->all;
  emit reportChanged();
}

void StudyDesk::takeOutlook(const std::shared_ptr<const OutlookView>& view) {
  if (!m_hasStudy || view->study != m_study.name) return;
  m_outlook = view->outlook;
  emit outlookChanged();
}

void StudyDesk::takeReadiness(const std::shared_ptr<const ReadinessList>& checks) {
  m_readiness = *checks;
  emit readinessChanged();
}

void StudyDesk::tellAgain() {
  emit changed();
  if (m_report) emit reportChanged();
}

void StudyDesk::chooseStudy(const QString& name) {
  for (const Study& study : studies()) {
    if (text(study.name) != name) continue;
    takeStudy(study);
    emit workWanted(name);
    emit changed();
    return;
  }
}

void StudyDesk::edit(const QString& what, const std::function<void(Study&, StudyPlan&)>& change) {
  if (!m_hasStudy) return;
  Study after = m_study;
  StudyPlan plan = m_plan;
  change(after, plan);
  after.plan = planToJson(plan);
  const bool isSame = after.name == m_study.name && after.question == m_study.question &&
                      planToJson(m_plan) == after.plan && after.setups.size() == m_study.setups.size() &&
                      after.loads.size() == m_study.loads.size() &&
                      std::equal(after.setups.begin(), after.setups.end(), m_study.setups.begin(),
                                 [](const Setup& a, const Setup& b) {
                                   return a.name == b.name && a.parts == b.parts && a.conditions == b.conditions;
                                 }) &&
                      std::equal(after.loads.begin(), after.loads.end(), m_study.loads.begin(),
                                 [](const Load& a, const Load& b) { return a.name == b.name && a.spec == b.spec; });
  if (!isSame) m_undo.push(new StudyEdit(*this, what, m_study, after));
}

void StudyDesk::newStudy(Study study, const StudyPlan& plan) {
  study.plan = planToJson(plan);
  // What was typed in this window has been confirmed by that.
  if (const auto typed = activeParts(study); !typed.empty()) emit confirmWanted(typed);
  m_undo.push(new NewStudy(*this, std::move(study)));
}

void StudyDesk::apply(const Study& before, const Study& after, QUndoCommand* command, bool isUndo) {
  m_applied = command;
  m_appliedIsUndo = isUndo;
  takeStudy(after);
  ++m_puts;
  emit putWanted(std::make_shared<const Study>(before), std::make_shared<const Study>(after));
  emit workWanted(text(after.name));
  emit changed();
}

// What was expected cannot be unsaid in silence once there is a result.
void StudyDesk::keepStatedTraces(const Study& now, Study& then) const {
  const StudyPlan plan = planFromJson(now.plan);
  StudyPlan target = planFromJson(then.plan);
  if (plan.stated == target.stated) return;
  keepTraces(plan.stated, target.stated, isoTimeNow(),
             [this](const StatedFigure& one) { return hasResult(one, m_runs); });
  then.plan = planToJson(target);
}

void StudyDesk::applyRemoval(const Study& study) { emit removeWanted(text(study.name)); }

void StudyDesk::voidRun(const QString& run, const QString& reason) {
  m_undo.push(new VoidRun(*this, run, reason, true));
}

void StudyDesk::restoreRun(const QString& run) {
  QString reason;
  for (const RunSummary& known : m_runs) {
    if (text(known.info.id) == run) reason = text(known.info.reason);
  }
  m_undo.push(new VoidRun(*this, run, reason, false));
}

void StudyDesk::addEvent(const QString& run, const Event& event) {
  emit eventWanted(run, std::make_shared<const Event>(event));
}

}  // namespace ash

#include "moc_study_desk.cpp"
