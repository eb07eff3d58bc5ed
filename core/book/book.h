// SPDX-License-Identifier: GPL-3.0-or-later
// The book: one SQLite file that holds studies, setups, loads and runs. Format in docs/book-format.md.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "model/attachment.h"
#include "model/reading_choice.h"
#include "model/result.h"
#include "model/run_facts.h"
#include "model/study.h"

namespace SQLite {
class Database;
}

namespace ash {

enum class BookAccess { ReadOnly, ReadWrite };

/// A procedure that has a name.
struct NamedProcedure {
  std::string name;
  int version = 0;  ///< from 1; 0 = it ships with the program
  std::string text, created;
};

/// One of kProcedurePresets; empty when none is called so.
std::optional<NamedProcedure> shippedProcedure(const std::string& name);

/// A ladder of a study (core/ladder): what was asked, and how far it has come.
struct KeptLadder {
  std::string id, study, created;
  Json asked = Json::object(), state = Json::object();
};

/// An open book. Several processes may have it open at once (WAL, busy time-out). One thread at a time; every call is
/// one short transaction. A failed call changes nothing.
class Book {
 public:
  static Result<Book> create(const std::string& path);
  /// Refuses what is no book; brings older ones up to date when opened for writing. What a newer version wrote can be
  /// opened for reading only, and notice() says so.
  static Result<Book> open(const std::string& path, BookAccess access);
  /// Opens, or makes a new one when there is no file.
  static Result<Book> openOrCreate(const std::string& path);

  /// For a window: opened for writing where that can be, else for reading only with a notice(); made when missing.
  static Result<Book> openForWork(const std::string& path);

  Book(Book&&) noexcept;
  Book& operator=(Book&&) noexcept;
  ~Book();

  const std::string& path() const { return m_path; }
  /// The format that the file has now (PRAGMA user_version).
  int format() const { return m_format; }
  bool canWrite() const { return m_canWrite; }
  /// A sentence for the person on how it was opened; empty when there is nothing to say.
  const std::string& notice() const { return m_notice; }

  /// Names of the studies with their setups and loads, in the order in which they were made.
  Result<std::vector<Study>> studies() const;
  /// The study of that name; the error says how to see which there are.
  Result<Study> study(const std::string& name) const;
  /// Finds or makes a study, a setup and a load in it. Given conditions and spec fill in a new row; an old row keeps
  /// its own.
  Status ensurePlace(const std::string& study, const Setup& setup, const Load& load);

  /// Carries out an edit of a study with its setups and loads: each field in which `after` differs from `before` is
  /// brought from the one value to the other; of plan, parts, conditions, levels and spec each key is a field. All else
  /// stays as it is in the book, whoever wrote it. Rows without an id are new, rows of `before` that are missing in
  /// `after` are removed (refused while they have runs). Refused whole, with a sentence, when a field, or a row that is
  /// to go, is no longer what `before` says. Returns the study as it now stands in the book.
  Result<Study> putStudy(const Study& before, Study after);
  /// A number that grows with every edit and every run that begins or ends, whoever made it; samples do not count. For
  /// somebody who looks on: two equal numbers, nothing to read again.
  Result<long long> edition() const;
  /// Removes a study that has no runs.
  Status removeStudy(long long id);

  /// All runs in the order in which they were started. A run whose recorder is no longer alive is told as what became
  /// of it.
  Result<std::vector<RunSummary>> runs() const;
  Result<RunSummary> run(const std::string& id) const;
  /// A run with its samples merged onto one time axis, its phases and events.
  Result<RunLog> readRun(const std::string& id) const;
  /// Samples later than `afterS` only, for somebody who follows a run.
  Result<RunLog> readRunAfter(const std::string& id, double afterS) const;

  /// What a person has said of the readings of a machine (machineKey()); empty when nothing.
  Result<ReadingChoices> readingChoices(const std::string& machine) const;
  /// Says it of one reading; an empty choice takes back what was said.
  Status putReadingChoice(const std::string& machine, const std::string& reading, const ReadingChoice& choice);

  Status addEvent(const std::string& run, const Event& event);
  /// Marks a run void (one that goes on, too), with its reason; the run stays in the book.
  Status voidRun(const std::string& run, const std::string& reason);
  /// Takes a void back: the run has the outcome it had before.
  Status restoreRun(const std::string& run);

  /// Pictures and other files of all setups and runs, in the order in which they came; without their bytes.
  Result<std::vector<Attachment>> attachments() const;
  /// The bytes of one. Refused: no such one, one whose bytes are no longer what was kept.
  Result<std::string> attachmentBytes(long long id) const;
  /// Keeps files with runs or setups, all of them or none, each with its bytes; hash, size and (where it has none) time
  /// of adding are set here, its number when it has none (one that comes back by undo has its own). Refused: nothing in
  /// one, more than kLargestAttachmentB, no such run or setup.
  Result<std::vector<Attachment>> attach(const std::vector<std::pair<Attachment, std::string>>& files);
  /// The same of one.
  Result<Attachment> attach(const Attachment& wanted, const std::string& bytes);
  /// Says something else of one; what was said of it before.
  Result<std::string> describe(long long id, const std::string& text);
  /// Takes it off again; what it was.
  Result<Attachment> detach(long long id);

  /// Procedures that have a name here, by name, the newest version first.
  Result<std::vector<NamedProcedure>> procedures() const;
  /// One version of one; 0 = the newest of the book, else one that ships (kProcedurePresets).
  Result<NamedProcedure> procedure(const std::string& name, int version = 0) const;
  /// Keeps phases under a name: a new version, unless the newest says the same. Refused: phases that cannot be read.
  Result<NamedProcedure> putProcedure(const std::string& name, const std::string& text);
  /// Forgets all versions of one.
  Status dropProcedure(const std::string& name);

  /// Ladders in the order in which they were begun.
  Result<std::vector<KeptLadder>> ladders() const;
  /// Keeps a new one, or the state of one that is there; synced. Refused: no such study.
  Status putLadder(const KeptLadder& ladder);

  /// Runs that nobody closed and whose recorder is gone, with what became of them; not yet written down.
  Result<std::vector<RunSummary>> interrupted() const;
  /// Writes outcome and reason of a run that nobody closed; one that is closed stays as it is.
  Status close(const RunInfo& info);

  /// Every fault found, one sentence each; empty = sound.
  Result<std::vector<std::string>> check() const;

 private:
  friend class RunWriter;
  Book(std::string path, std::unique_ptr<SQLite::Database> database);

  std::string m_path;
  std::string m_notice;
  int m_format = 0;
  bool m_canWrite = true;
  std::unique_ptr<SQLite::Database> m_database;
};

}  // namespace ash
