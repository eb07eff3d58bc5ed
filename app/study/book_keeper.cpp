// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/study/book_keeper.h"

#include <fmt/format.h>

#include <QTimer>
#include <algorithm>
#include <filesystem>

#include "analysis/analyze.h"
#include "app/look/words.h"
#include "app/study/knob_look.h"
#include "app/study/read_book_view.h"
#include "demo/demo_book.h"
#include "report/page_blocks.h"
#include "system/clock.h"
#include "system/whole_file.h"

namespace ash {
using look::text;
namespace {

constexpr double kTellEveryS = 0.3;
constexpr int kLookForOthersMs = 400;  // for edits and runs of others

// Rows that were made in the book since the value was copied have an id there already.
template <typename Row>
void fillIds(std::vector<Row>& rows, const std::vector<Row>& known) {
  for (Row& row : rows) {
    if (row.id != 0) continue;
    const auto same =
        std::find_if(known.begin(), known.end(), [&](const Row& other) { return other.name == row.name; });
    if (same != known.end()) row.id = same->id;
  }
}

Study withIds(Study study, const Study* known) {
  if (known == nullptr) return study;
  study.id = known->id;
  fillIds(study.setups, known->setups);
  fillIds(study.loads, known->loads);
  return study;
}

}  // namespace

namespace {

Result<std::vector<RunSummary>> runsOfBook(const std::string& path) {
  const auto book = Book::open(path, BookAccess::ReadOnly);
  if (!book) return book.error();
  return book->runs();
}

}  // namespace

BookKeeper::BookKeeper(QString root) : m_root(std::move(root)) {}
BookKeeper::~BookKeeper() = default;

void BookKeeper::open(const QString& path) {
  auto book = Book::openForWork(path.toStdString());
  if (!book) {
    emit notOpened(text(book.error().message));
    return;
  }
  if (m_next == nullptr) {
    m_next = new QTimer(this);
    m_next->setSingleShot(true);
    connect(m_next, &QTimer::timeout, this, &BookKeeper::workOutNext);
    m_look = new QTimer(this);
    connect(m_look, &QTimer::timeout, this, &BookKeeper::look);
    m_look->start(kLookForOthersMs);
  }
  m_book.emplace(std::move(*book));
  m_worked.clear();
  m_waiting.clear();
  m_study.clear();
  tellInterrupted();
  tell(true);
  if (!m_book->notice().empty()) emit refused(text(m_book->notice()));
}

void BookKeeper::tellInterrupted() {
  if (!m_book->canWrite()) return;
  auto closed = closeInterrupted(*m_book);
  if (!closed) {
    emit refused(text(closed.error().message));
    return;
  }
  if (!closed->empty()) emit interrupted(std::make_shared<const InterruptedRuns>(std::move(*closed)));
}

void BookKeeper::refresh() {
  if (!m_book) return;
  tell(false);
  if (!m_study.empty()) workOut(text(m_study));
}

void BookKeeper::tell(bool isNew) {
  const auto edition = m_book->edition();
  if (edition) m_edition = *edition;
  std::vector<std::string> remarks;
  auto view = readBookView(*m_book, remarks);
  if (!view) remarks.push_back(view.error().message);
  for (const std::string& remark : remarks) emit refused(text(remark));
  if (!view) return;
  m_view = std::make_shared<const BookView>(std::move(*view));
  if (isNew)
    emit opened(m_view);
  else
    emit changed(m_view);
}

const Study* BookKeeper::findStudy(const std::string& name) const {
  if (!m_view) return nullptr;
  const auto found =
      std::find_if(m_view->studies.begin(), m_view->studies.end(), [&](const Study& s) { return s.name == name; });
  return found == m_view->studies.end() ? nullptr : &*found;
}

std::string BookKeeper::keyOf(const RunSummary& run) const {
  std::string key = std::string(outcomeText(run.info.outcome)) + run.info.reason + run.info.setup + run.samplesKey;
  const Study* study = findStudy(run.info.study);
  if (study == nullptr) return key;
  if (study->plan.contains("under_test")) key += jsonText(study->plan["under_test"]);
  for (const Setup& setup : study->setups) {
    if (setup.name == run.info.setup) key += jsonText(setup.conditions);
  }
  return key;
}

void BookKeeper::workOut(const QString& study) {
  m_study = study.toStdString();
  m_waiting.clear();
  m_all = 0;
  if (!m_book || findStudy(m_study) == nullptr) return;
  for (const RunSummary& run : m_view->runs) {
    if (run.info.study != m_study || run.info.outcome == Outcome::Running) continue;
    ++m_all;
    const auto known = m_worked.find(run.info.id);
    if (known == m_worked.end() || known->second.key != keyOf(run)) m_waiting.push_back(run);
  }
  expectEarlier(*findStudy(m_study));
  tellReport();
  m_next->start(0);
}

// One run at a time, so that an edit never waits long.
void BookKeeper::workOutNext() {
  if (m_waiting.empty() && !m_earlierWaiting.empty()) return readNextEarlier();
  if (m_waiting.empty()) return tellOutlook();
  const RunSummary summary = m_waiting.front();
  m_waiting.erase(m_waiting.begin());
  auto run = m_book->readRun(summary.info.id);
  if (!run) {
    emit refused(text(run.error().message));
  } else {
    auto analyzed = std::make_shared<AnalyzedRun>(AnalyzedRun{std::move(*run), {}});
    analyzed->figures = analyzeRun(analyzed->run);
    m_worked[summary.info.id] = {keyOf(summary), std::move(analyzed)};
  }
  // Seldom enough that telling stays a small part of the work, however many runs there are.
  if (m_waiting.empty() || monotonicS() - m_toldS > std::max(kTellEveryS, 10 * m_tellingS)) tellReport();
  m_next->start(0);
}

// After the figures, for it may have to read runs of other studies.
void BookKeeper::tellOutlook() {
  const Study* study = findStudy(m_study);
  if (study == nullptr) return;
  const auto key = evidenceKey(*m_book, *study);
  if (key && *key != m_evidenceKey) {
    const auto evidence = evidenceFor(*m_book, *study, [this](const std::string& run) {
      const auto known = m_worked.find(run);
      return known == m_worked.end() ? nullptr : known->second.run.get();
    });
    if (!evidence) return;  // what a run cannot tell has been said when it was worked out
    m_evidence = *evidence;
    m_evidenceKey = *key;
  }
  emit outlook(std::make_shared<const OutlookView>(OutlookView{m_study, outlookOf(*study, m_evidence)}));
}

void BookKeeper::tellReport() {
  const double beganS = monotonicS();
  const Study* study = findStudy(m_study);
  if (study == nullptr) return;
  std::vector<RunSummary> summaries;
  std::vector<std::shared_ptr<const AnalyzedRun>> runs;
  for (const RunSummary& summary : m_view->runs) {
    const auto known = m_worked.find(summary.info.id);
    if (summary.info.study != m_study || summary.info.outcome == Outcome::Running || known == m_worked.end()) continue;
    summaries.push_back(summary);
    runs.push_back(known->second.run);
  }
  auto view = std::make_shared<ReportView>();
  view->study = m_study;
  view->all = m_all;
  view->done = m_all - static_cast<int>(m_waiting.size());
  auto report = assembleStudy(*study, std::move(summaries), std::move(runs), {}, m_earlier);
  if (!report) {
    emit refused(text(report.error().message));
    return;
  }
  view->report = std::make_shared<const StudyReport>(std::move(*report));
  m_report = view->report;
  m_toldS = monotonicS();
  m_tellingS = m_toldS - beganS;
  emit workedOut(view);
}

// Read again when the plan shows others, or this book has others.
void BookKeeper::expectEarlier(const Study& study) {
  const StudyPlan plan = planFromJson(study.plan);
  std::string key;
  for (const AlsoShown& also : plan.alsoShown) {
    key += fmt::format("{}#{}/{};", also.book, also.study, also.setup);
    for (const RunSummary& run : m_view->runs) {
      const bool isIt = also.book.empty() && run.info.study == also.study && run.info.setup == also.setup;
      if (isIt) key += run.info.id + keyOf(run);
    }
  }
  if (key == m_earlierKey) return;
  m_earlierKey = key;
  m_earlier.clear();
  m_earlierWaiting = plan.alsoShown;
}

void BookKeeper::readNextEarlier() {
  m_earlier.push_back(readEarlier(*m_book, m_earlierWaiting.front()));
  m_earlierWaiting.erase(m_earlierWaiting.begin());
  if (m_earlierWaiting.empty()) tellReport();
  m_next->start(0);
}

void BookKeeper::listSetups(const QString& path) {
  if (!m_book) return;
  const auto other = path.isEmpty() ? Result<std::vector<RunSummary>>(m_view->runs) : runsOfBook(path.toStdString());
  if (!other) return emit refused(text(other.error().message));
  auto list = std::make_shared<SetupList>();
  // As a path from this book, so that both may be moved together.
  std::error_code error;
  const auto relative =
      std::filesystem::relative(path.toStdString(), std::filesystem::path(m_book->path()).parent_path(), error);
  const std::string book = path.isEmpty() ? std::string() : relative.empty() ? path.toStdString() : relative.string();
  for (const RunSummary& run : *other) {
    const AlsoShown also{book, run.info.study, run.info.setup, run.info.id};
    const bool isKnown = std::any_of(list->begin(), list->end(), [&](const AlsoShown& known) {
      return known.study == also.study && known.setup == also.setup;
    });
    if (!isKnown && ranWhole(run.info.outcome)) list->push_back(also);
  }
  emit setups(path, list);
}

template <typename F>
void BookKeeper::write(F work) {
  if (!m_book) return;
  const Status written = work();
  if (!written) emit refused(text(written.error().message));
  refresh();
}

void BookKeeper::putStudy(const std::shared_ptr<const Study>& before, const std::shared_ptr<const Study>& after) {
  write([&]() -> Status {
    const Study* known = nullptr;
    for (const Study& study : m_view->studies) {
      const bool isSame = after->id != 0 ? study.id == after->id : study.name == before->name;
      if (isSame) known = &study;
    }
    const auto kept = m_book->putStudy(withIds(*before, known), withIds(*after, known));
    emit putDone(kept.operator bool());
    if (!kept) return kept.error();
    if (m_study == before->name) m_study = after->name;
    return {};
  });
}

void BookKeeper::removeStudy(const QString& name) {
  write([&]() -> Status {
    const Study* study = findStudy(name.toStdString());
    return study == nullptr ? Status() : m_book->removeStudy(study->id);
  });
}

void BookKeeper::voidRun(const QString& run, const QString& reason) {
  write([&] { return m_book->voidRun(run.toStdString(), reason.toStdString()); });
}

void BookKeeper::restoreRun(const QString& run) {
  write([&] { return m_book->restoreRun(run.toStdString()); });
}

void BookKeeper::addEvent(const QString& run, const std::shared_ptr<const Event>& event) {
  m_worked.erase(run.toStdString());
  write([&] { return m_book->addEvent(run.toStdString(), *event); });
}

void BookKeeper::writePage(const QString& path) {
  while (!m_waiting.empty()) workOutNext();
  if (!m_report || m_report->runs.empty()) {
    emit refused(tr("There is no finished run to write up yet."));
    return;
  }
  if (Status written = writeWholeFile(htmlPage(*m_report), path.toStdString()); !written) {
    emit refused(text(written.error().message));
    return;
  }
  emit pageWritten(path);
}

// Another window, a recorder or a queue writes into the same book; a short run may begin and end between two looks of
// who follows it.
void BookKeeper::look() {
  if (!m_book || !m_view) return;
  const auto edition = m_book->edition();
  if (edition && *edition != m_edition) refresh();
}

void BookKeeper::lookAtReadiness(const QString& name, const std::shared_ptr<const MachineNow>& machine) {
  const Study* study = findStudy(name.toStdString());
  if (study == nullptr) return;
  double restC = kMissing;
  for (const auto& [id, worked] : m_worked) {
    const ChannelFigures* watched = worked.run->figures.channel(roles::kCpuTemp);
    if (watched != nullptr && watched->idle.n > 0) restC = watched->idle.mean;
  }
  const auto now = machine ? std::optional(*machine) : std::nullopt;
  emit readiness(
      std::make_shared<const ReadinessList>(readinessOf(planFromJson(study->plan), m_book->path(), restC, now)));
}

void BookKeeper::lookAtKnobs(const QString& name, const QString& setup) {
  const Study* study = findStudy(name.toStdString());
  if (study == nullptr) return;
  auto found = lookForKnobs(*m_view, *study, setup.toStdString(), m_root.toStdString());
  emit knobs(setup, std::make_shared<const KnobList>(found ? std::move(*found) : KnobList()),
             found ? QString() : text(found.error().message));
}

void BookKeeper::putProcedure(const QString& name, const QString& phases) {
  write([&]() -> Status {
    const auto kept = m_book->putProcedure(name.toStdString(), phases.toStdString());
    return kept ? Status() : Status(kept.error());
  });
}

void BookKeeper::makeDemoBook(const QString& path) {
  const Status made = writeDemoBook(path.toStdString(), [this](int done, int all) { emit demoProgress(done, all); });
  if (made)
    emit demoMade(path);
  else
    emit notOpened(text(made.error().message));
}

}  // namespace ash

#include "moc_book_keeper.cpp"
