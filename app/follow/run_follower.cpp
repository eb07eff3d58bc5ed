// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/follow/run_follower.h"
#include "analysis/throttling/throttling.h"

#include <QLocalSocket>
#include <QTimer>
#include <algorithm>
#include <cmath>

#include "app/follow/live_messages.h"
#include "book/book.h"
#include "runner/interrupted.h"
#include "runner/message_type.h"
#include "runner/run_messages.h"
#include "runner/run_socket.h"
#include "system/clock.h"

namespace ash {
namespace {
constexpr int kFlushEveryMs = 100;
constexpr int kLookEveryMs = 250;
constexpr int kLooksForExpected = 40;
constexpr int kLooksPerBook = 4;  // once a second, whether somebody else has started a run
constexpr double kThrottlingEveryS = 0.5;
}  // namespace

RunFollower::RunFollower() : m_batch(std::make_shared<LiveBatch>()) {}
RunFollower::~RunFollower() = default;

void RunFollower::openBook(const QString& path) {
  if (m_flushTimer == nullptr) {
    m_flushTimer = new QTimer(this);
    connect(m_flushTimer, &QTimer::timeout, this, &RunFollower::flush);
    m_flushTimer->start(kFlushEveryMs);
    m_lookTimer = new QTimer(this);
    connect(m_lookTimer, &QTimer::timeout, this, &RunFollower::look);
    m_lookTimer->start(kLookEveryMs);
  }
  auto book = Book::open(path.toStdString(), BookAccess::ReadWrite);
  if (!book) {
    emit bookRefused(QString::fromStdString(book.error().message));
    return;
  }
  m_book = path.toStdString();
  const auto runs = book->runs();
  tellStudies();
  if (!runs || runs->empty()) return;
  for (const RunSummary& run : *runs) {
    if (run.info.outcome == Outcome::Running) return attach(run.info.id);
  }
  showFinished(runs->back().info.id);
}

void RunFollower::tellStudies() {
  const auto book = Book::open(m_book, BookAccess::ReadOnly);
  if (!book) return;
  const auto studies = book->studies();
  const auto runs = book->runs();
  if (!studies || !runs) return;
  m_studies = *studies;
  emit bookOpened(QString::fromStdString(m_book), std::make_shared<const std::vector<Study>>(m_studies),
                  static_cast<int>(runs->size()));
}

void RunFollower::expectRun(const QString& runId) {
  m_expected = runId.toStdString();
  m_looksLeft = kLooksForExpected;
}

// Looks for the run that was started, and for one that somebody else started on this book.
void RunFollower::look() {
  if (m_socket != nullptr || m_book.empty()) return;
  if (!m_expected.empty()) {
    attach(m_expected);
    if (--m_looksLeft > 0 || m_socket != nullptr) return;
    emit runMissing(QString::fromStdString(m_expected));
    m_expected.clear();
    return;
  }
  if (++m_looksLeft % kLooksPerBook != 0) return;
  const auto book = Book::open(m_book, BookAccess::ReadOnly);
  const auto runs = book ? book->runs() : Result<std::vector<RunSummary>>(book.error());
  if (runs && !runs->empty() && runs->back().info.outcome == Outcome::Running) attach(runs->back().info.id);
}

void RunFollower::attach(const std::string& runId) {
  const auto path = runSocketPath(runId);
  if (!path) return;
  auto* socket = new QLocalSocket(this);
  socket->connectToServer(QString::fromStdString(*path));
  if (!socket->waitForConnected(200)) {
    delete socket;
    return;
  }
  m_socket = socket;
  m_expected.clear();
  m_buffer.clear();
  connect(socket, &QLocalSocket::readyRead, this, &RunFollower::takeBytes);
  connect(socket, &QLocalSocket::disconnected, this, &RunFollower::detached);
  takeBytes();
}

void RunFollower::takeBytes() {
  if (m_socket == nullptr) return;
  m_buffer += m_socket->readAll();
  qsizetype from = 0;
  for (qsizetype end = m_buffer.indexOf('\n'); end >= 0; end = m_buffer.indexOf('\n', from)) {
    const Json message = parseQuietly(std::string(m_buffer.constData() + from, m_buffer.constData() + end));
    if (message.is_object()) takeMessage(message);
    from = end + 1;
  }
  m_buffer.remove(0, from);
}

void RunFollower::takeMessage(const Json& message) {
  switch (typeOf(message)) {
    case MessageType::Run:
      return takeHello(message);
    case MessageType::Samples:
      return takeSamples(message);
    case MessageType::State:
      m_batch->state = stateFromMessage(message);
      return;
    case MessageType::Event:
      m_batch->events.push_back(eventFromMessage(message));
      return;
    case MessageType::Phase:
      return takeState(message);
    case MessageType::Answer:
      return takeAnswer(answerFromMessage(message));
    case MessageType::Outcome:
      return takeOutcome(outcomeFromMessage(message));
    case MessageType::Other:
      return;
  }
}

void RunFollower::takeAnswer(const LiveAnswer& answer) {
  emit answered(answer.isDone, QString::fromStdString(answer.why));
}

void RunFollower::takeOutcome(const LiveOutcome& outcome) {
  m_batch->outcome = outcome.outcome;
  m_batch->reason = outcome.reason;
  m_isOver = true;
}

void RunFollower::takeHello(const Json& hello) {
  m_batch = std::make_shared<LiveBatch>();
  m_log = RunLog();
  m_isOver = false;
  tellStudies();
  auto info = std::make_shared<LiveRunInfo>(infoFromHello(hello));
  info->setupIndex = setupIndex(m_studies, info->study, info->setup);
  m_lastS.assign(info->columns.size(), -1);
  m_info = info;
  m_batch->begun = info;
  readPast(info->id);
}

// The past up to now; what the socket repeats of it is dropped by its time.
void RunFollower::readPast(const std::string& runId) {
  const auto book = Book::open(m_book, BookAccess::ReadOnly);
  auto run = book ? book->readRun(runId) : Result<RunLog>(book.error());
  if (!run) return;
  appendLog(*run);
  const double lastS = run->log.timeS.empty() ? -1 : run->log.timeS.back();
  std::fill(m_lastS.begin(), m_lastS.end(), lastS);
  m_log = std::move(*run);
}

void RunFollower::appendLog(const RunLog& run) {
  for (const Channel& channel : run.log.channels) m_batch->samples[channel.name] = seriesOf(run.log, channel);
  m_batch->phases = run.facts.phases;
  m_batch->events = run.facts.events;
}

void RunFollower::takeSamples(const Json& message) {
  const auto samples = samplesFromMessage(message);
  if (!samples || !m_info || samples->source >= m_info->columns.size()) return;
  // Times within half an interval of the past are of the past: sources are swept one after the other.
  if (samples->timeS <= m_lastS[samples->source] + 1e-9) return;
  m_lastS[samples->source] = samples->timeS;
  const auto& columns = m_info->columns[samples->source];
  for (size_t i = 0; i < columns.size() && i < samples->values.size(); ++i) {
    if (!std::isfinite(samples->values[i])) continue;
    Series& series = m_batch->samples[columns[i]];
    series.t.push_back(samples->timeS);
    series.v.push_back(samples->values[i]);
  }
  appendRow(m_log.log, columns, *samples, m_info->intervalS);
}

void RunFollower::takeState(const Json& message) {
  const auto phase = phaseFromMessage(message);
  if (!phase) return;
  const double start = phase->startS;
  auto& phases = m_log.facts.phases;
  const bool isKnown = !phases.empty() && std::abs(phases.back().startS - start) < 1e-6;
  if (!phases.empty() && !isKnown) phases.back().endS = start;
  if (!isKnown)
    phases.push_back({phase->kind, start, INFINITY, true});
  else
    phases.back().endS = INFINITY;
  m_batch->phases = phases;
}

void RunFollower::showFinished(const std::string& runId) {
  const auto book = Book::open(m_book, BookAccess::ReadOnly);
  if (!book) return;
  const auto summary = book->run(runId);
  auto run = book->readRun(runId);
  if (!summary || !run) return;
  m_batch = std::make_shared<LiveBatch>();
  auto info = std::make_shared<LiveRunInfo>(liveInfo(summary->info, *run));
  info->book = m_book;
  info->setupIndex = setupIndex(m_studies, info->study, info->setup);
  m_info = info;
  m_batch->begun = info;
  appendLog(*run);
  m_log = std::move(*run);
  m_batch->outcome = summary->info.outcome;
  m_batch->reason = summary->info.reason;
  m_throttlingAtS = 0;
  workOutThrottling();
  m_isOver = true;
}

void RunFollower::showRun(const QString& runId) {
  if (m_book.empty() || m_socket != nullptr) return;  // the run that goes on stays in view
  showFinished(runId.toStdString());
}

void RunFollower::workOutThrottling() {
  if (monotonicS() - m_throttlingAtS < kThrottlingEveryS || m_log.log.timeS.size() < 20) return;
  m_throttlingAtS = monotonicS();
  RunLog soFar = m_log;
  for (PhaseSpan& phase : soFar.facts.phases) phase.endS = std::min(phase.endS, soFar.log.timeS.back() + 1e-3);
  m_batch->throttling = throttlingOf(soFar);
  m_batch->hasThrottling = true;
}

void RunFollower::flush() {
  if (!m_isOver) workOutThrottling();
  const bool isEmpty = !m_batch->begun && m_batch->samples.empty() && !m_batch->state && m_batch->phases.empty() &&
                       m_batch->events.empty() && !m_batch->hasThrottling && !m_batch->outcome;
  if (isEmpty) return;
  const bool ended = m_batch->outcome.has_value();
  emit news(m_batch);
  m_batch = std::make_shared<LiveBatch>();
  if (ended) tellStudies();
}

void RunFollower::send(WishKind what, const QString& text) {
  if (m_socket == nullptr) return;
  Json wish = {{"do", what.text()}};
  if (!text.isEmpty()) wish["text"] = text.toStdString();
  m_socket->write(QByteArray::fromStdString(jsonText(wish) + "\n"));
  m_socket->flush();
}

// The recorder has gone. Without an outcome it died, and the book tells what is left.
void RunFollower::detached() {
  takeBytes();
  m_socket->deleteLater();
  m_socket = nullptr;
  if (m_isOver || !m_info) return;
  flush();
  if (auto book = Book::open(m_book, BookAccess::ReadWrite)) static_cast<void>(closeInterrupted(*book));
  showFinished(m_info->id);
}

}  // namespace ash

#include "moc_run_follower.cpp"
