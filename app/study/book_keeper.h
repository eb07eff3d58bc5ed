// SPDX-License-Identifier: GPL-3.0-or-later
// Reads, writes and works out the book from a thread of its own, so that the interface never waits for a disk.
#pragma once

#include <QObject>
#include <functional>
#include <map>
#include <memory>
#include <optional>

#include "app/study/book_view.h"
#include "book/book.h"
#include "model/run_facts.h"
#include "system/confirmed.h"

class QTimer;

namespace ash {

using ReadinessList = std::vector<ReadinessCheck>;
using SetupList = std::vector<AlsoShown>;

/// Lives on a worker thread; talked to by queued signals only.
class BookKeeper : public QObject {
  Q_OBJECT
 public:
  /// `root`: where this machine's files are; empty = here.
  explicit BookKeeper(QString root = {});
  ~BookKeeper() override;

 public slots:
  /// Opens a book or makes a new one; closes runs whose recorder died.
  void open(const QString& path);
  /// Reads the list of studies and runs again.
  void refresh();
  /// Works a study out, run by run; what was worked out before is kept.
  void workOut(const QString& study);
  /// Writes a study as edited; ids of rows that were made meanwhile are filled in by name.
  void putStudy(const std::shared_ptr<const ash::Study>& before, const std::shared_ptr<const ash::Study>& after);
  void removeStudy(const QString& name);
  void voidRun(const QString& run, const QString& reason);
  void restoreRun(const QString& run);
  void addEvent(const QString& run, const std::shared_ptr<const ash::Event>& event);
  /// What has been said of a machine's readings; told by choices().
  void readChoices(const QString& machine);
  void putChoice(const QString& machine, const QString& reading,
                 const std::shared_ptr<const ash::ReadingChoice>& choice);
  /// Writes the page of the study that was worked out last.
  void writePage(const QString& path);
  /// Tells when everything that was given before is in the book.
  void settle() { emit settled(); }
  void lookAtReadiness(const QString& study, const std::shared_ptr<const ash::MachineNow>& machine);
  /// What a person has allowed, or typed, on this machine.
  void confirmParts(const std::vector<ash::ActivePart>& parts);
  /// What was allowed on this machine; told by confirmationsListed(), also after some of it was taken back.
  void listConfirmations();
  void takeBackConfirmations(const QStringList& keys);
  /// Accepts what the book proposes of this machine's readings.
  void acceptChoices(const QString& machine);
  void makeDemoBook(const QString& path);
  /// Keeps phases under a name; one that is there gets a new version.
  void putProcedure(const QString& name, const QString& phases);
  /// What runs of a setup could turn, on the bench of its study; told by knobs().
  void lookAtKnobs(const QString& study, const QString& setup);
  /// What another book (or, without a path, this one) has that could be shown beside a study; told by setups().
  void listSetups(const QString& path);

 signals:
  void opened(const std::shared_ptr<const ash::BookView>& view);
  void changed(const std::shared_ptr<const ash::BookView>& view);
  void workedOut(const std::shared_ptr<const ash::ReportView>& view);
  void outlook(const std::shared_ptr<const ash::OutlookView>& view);
  /// A study that was put has been written, or refused; what changed() tells from now on has it, or not.
  void putDone(bool isKept);
  void refused(const QString& why);
  void notOpened(const QString& why);
  void pageWritten(const QString& path);
  void settled();
  void readiness(const std::shared_ptr<const ash::ReadinessList>& checks);
  /// Runs that were interrupted and have now been closed.
  void interrupted(const std::shared_ptr<const ash::InterruptedRuns>& runs);
  /// What counts on this machine; what the book proposes besides.
  void choices(const std::shared_ptr<const ash::ReadingChoices>& choices);
  void proposals(const QString& machine, const std::shared_ptr<const ash::ReadingChoices>& proposed);
  void setups(const QString& path, const std::shared_ptr<const ash::SetupList>& setups);
  void knobs(const QString& setup, const std::shared_ptr<const ash::KnobList>& knobs, const QString& whyNot);
  void confirmationsListed(const std::shared_ptr<const ash::ConfirmationList>& given);
  void demoProgress(int done, int all);
  void demoMade(const QString& path);

 private:
  struct Worked {
    std::string key;  // what its figures depend on beside the samples
    std::shared_ptr<const AnalyzedRun> run;
  };
  void tell(bool isNew);
  void tellInterrupted();
  void look();
  void workOutNext();
  void tellReport();
  void expectEarlier(const Study& study);
  void readNextEarlier();
  void tellOutlook();
  std::string keyOf(const RunSummary& run) const;
  const Study* findStudy(const std::string& name) const;
  template <typename F>
  void write(F work);

  QString m_root;
  std::optional<Book> m_book;
  std::shared_ptr<const BookView> m_view;
  std::string m_study;
  std::vector<RunSummary> m_waiting;
  int m_all = 0;
  double m_toldS = 0;     // when a report was told last
  double m_tellingS = 0;  // what that took
  std::map<std::string, Worked> m_worked;
  std::vector<EarlierSetup> m_earlier;  // what the plan shows beside its own, as far as it has been read
  std::vector<AlsoShown> m_earlierWaiting;
  std::string m_earlierKey;
  std::shared_ptr<const StudyReport> m_report;
  RunEvidence m_evidence;
  std::string m_evidenceKey;  // what the evidence was gathered from; an edit of the plan asks no run again
  long long m_edition = 0;    // of the book, when it was told last
  QTimer* m_next = nullptr;
  QTimer* m_look = nullptr;
};

}  // namespace ash
