// SPDX-License-Identifier: GPL-3.0-or-later
// The study in hand, on the interface's thread: what the stations show and edit. Every edit can be undone.
#pragma once

#include <QObject>
#include <QUndoStack>
#include <functional>
#include <memory>

#include "app/study/book_keeper.h"
#include "model/run_order.h"

namespace ash {

class StudyDesk : public QObject {
  Q_OBJECT
 public:
  explicit StudyDesk(QObject* parent);

  bool hasBook() const { return m_view != nullptr; }
  QString bookPath() const { return m_view ? m_view->path : QString(); }
  const std::vector<Study>& studies() const;
  const std::vector<RunSummary>& allRuns() const;
  /// The study in hand; null when the book has none.
  const Study* study() const { return m_hasStudy ? &m_study : nullptr; }
  const StudyPlan& plan() const { return m_plan; }
  const std::vector<RunSummary>& runs() const { return m_runs; }
  /// Pictures and other files of a setup (by its row), or of a run.
  std::vector<Attachment> attachmentsOf(long long setup) const;
  std::vector<Attachment> attachmentsOf(const std::string& run) const;
  const std::vector<Attachment>& attachments() const;
  /// Procedures of the book that have a name, the newest version of each.
  std::vector<NamedProcedure> procedures() const;
  /// Ladders of the study in hand, in the order in which they were begun.
  std::vector<Ladder> ladders() const;
  /// The ladder that a run is a step of, of whatever study of the book.
  std::optional<Ladder> ladderOf(const std::string& run) const;
  /// The currency that a price gets in a study that has named none; empty = none.
  const QString& usualCurrency() const { return m_usualCurrency; }
  void setUsualCurrency(const QString& currency) { m_usualCurrency = currency; }
  /// Figures of the study as far as they are worked out; null before the first.
  const std::shared_ptr<const StudyReport>& report() const { return m_report; }
  int workedOut() const { return m_done; }
  int toWorkOut() const { return m_all; }
  /// The run's figures; null while they are not worked out.
  const AnalyzedRun* figuresOf(const std::string& run) const;
  /// Runs that are still to be done, in their order.
  std::vector<PlannedRun> runsToDo() const;
  /// What the study costs and can tell; none before it is known.
  const std::optional<StudyOutlook>& outlook() const { return m_outlook; }
  /// Runs of the plan that are not needed any more, for what they were to tell is decided.
  size_t savedRuns() const;
  /// True when no further run of the cell is needed, though the plan has room for one.
  bool isDecided(const std::string& setup, const std::string& load) const;
  /// The setup of the run that was done last, null before the first.
  const Setup* lastSetup() const;
  /// How long a run takes (bench seconds): the mean of those that were completed, else as long as the phases may last.
  double usualRunS() const;
  /// True when usualRunS() comes from runs that were done.
  bool knowsRunTime() const;
  const ReadinessList& readiness() const { return m_readiness; }
  /// What a run of this cell, or with empty names of any, would use on this machine and nobody has allowed here.
  std::vector<ActivePart> unconfirmed(const std::string& study, const std::string& setup,
                                      const std::string& load) const;

  void takeBook(const std::shared_ptr<const BookView>& view, bool isNew);
  /// The keeper has written an edit, or refused it.
  void takePutDone(bool isKept);
  void takeReport(const std::shared_ptr<const ReportView>& view);
  void takeOutlook(const std::shared_ptr<const OutlookView>& view);
  void takeReadiness(const std::shared_ptr<const ReadinessList>& checks);
  void chooseStudy(const QString& name);

  /// Changes the study in hand; `what` names it for undo ("Change the question").
  void edit(const QString& what, const std::function<void(Study&, StudyPlan&)>& change);
  void newStudy(Study study, const StudyPlan& plan);
  void voidRun(const QString& run, const QString& reason);
  void restoreRun(const QString& run);
  void addEvent(const QString& run, const Event& event);
  QUndoStack& undoStack() { return m_undo; }

  /// Tells everything again, for a station that was made just now.
  void tellAgain();

  // For the undo commands: applies without a new command. `command` is left out again when the book refuses it.
  void apply(const Study& before, const Study& after, QUndoCommand* command, bool isUndo);
  void applyRemoval(const Study& study);
  /// Before an undo from `now` to `then`: what was stated, and has a result, keeps its trace.
  void keepStatedTraces(const Study& now, Study& then) const;

 signals:
  /// Study, plan or runs are others than before.
  void changed();
  /// Figures are others than before.
  void reportChanged();
  void readinessChanged();
  void outlookChanged();
  // To the keeper.
  void workWanted(const QString& study);
  void putWanted(const std::shared_ptr<const ash::Study>& before, const std::shared_ptr<const ash::Study>& after);
  void removeWanted(const QString& name);
  void voidWanted(const QString& run, const QString& reason);
  void restoreWanted(const QString& run);
  void eventWanted(const QString& run, const std::shared_ptr<const ash::Event>& event);
  void confirmWanted(const std::vector<ash::ActivePart>& parts);
  void procedureWanted(const QString& name, const QString& phases);
  void knobsWanted(const QString& study, const QString& setup);
  // From the keeper.
  void knobsSeen(const QString& setup, const std::shared_ptr<const ash::KnobList>& knobs, const QString& whyNot);

 private:
  void takeStudy(const Study& study);
  std::vector<PlannedRun> plannedRuns() const;
  std::vector<DecidedCell> decided() const;
  void dropRefused();

  std::shared_ptr<const BookView> m_view;
  bool m_hasStudy = false;
  Study m_study;
  StudyPlan m_plan;
  int m_puts = 0;  ///< edits on their way into the book; until they are there the desk knows better than the book
  std::vector<RunSummary> m_runs;
  std::shared_ptr<const StudyReport> m_report;
  std::optional<StudyOutlook> m_outlook;
  ReadinessList m_readiness;
  QString m_usualCurrency;
  int m_done = 0, m_all = 0;
  QUndoStack m_undo;
  QUndoCommand* m_applied = nullptr;  ///< the command whose edit is on its way, while it is the last one
  bool m_appliedIsUndo = false;
};

}  // namespace ash
