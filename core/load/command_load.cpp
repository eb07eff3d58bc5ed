// SPDX-License-Identifier: GPL-3.0-or-later
#include "load/command_load.h"

#include <fmt/format.h>
#include <poll.h>
#include <sys/eventfd.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <array>

#include "model/text.h"
#include "system/clock.h"
#include "system/descendants.h"

namespace ash {
namespace {

constexpr size_t kLongestLine = 10'000;          // a line that never ends is cut
constexpr size_t kReadAtMost = size_t{1} << 20;  // at once
constexpr size_t kShownOfLine = 160;
constexpr size_t kMostPatterns = 64, kLongestPatternName = 100;
constexpr int kLookEveryMs = 100;

Result<std::map<std::string, Pattern>> compiled(const std::map<std::string, std::string>& patterns) {
  std::map<std::string, Pattern> all;
  for (const auto& [name, text] : patterns) {
    auto pattern = Pattern::compile(text);
    if (!pattern) return pattern.error();
    all.emplace(name, *pattern);
  }
  return all;
}

void match(const std::map<std::string, Pattern>& patterns, const std::string& line,
           std::map<std::string, double>& values) {
  for (const auto& [name, pattern] : patterns) {
    const auto found = pattern.find(line);
    if (!found || found->size() < 2) continue;
    std::string number((*found)[1]);
    std::replace(number.begin(), number.end(), ',', '.');
    if (const auto value = parseNumber(number)) values[name] = *value;
  }
}

void closeIt(int& descriptor) {
  if (descriptor >= 0) close(std::exchange(descriptor, -1));
}

}  // namespace

CommandLoad::CommandLoad(LoadOptions options) : m_options(std::move(options)) {}

CommandLoad::~CommandLoad() {
  stop();
  closeIt(m_wake);
}

Status CommandLoad::start(double startS) {
  m_startS = startS;
  auto scores = compiled(m_options.scores), live = compiled(m_options.live);
  if (!scores || !live) return (scores ? live : scores).error();
  m_scorePatterns = std::move(*scores);
  m_livePatterns = std::move(*live);
  if (guardianProgram().empty()) {
    return Error::environment(
        fmt::format("The program {} is not beside ashg, and no command is run without it; install Ash Gauge whole.",
                    kGuardianName));
  }
  m_wake = eventfd(0, EFD_CLOEXEC | EFD_NONBLOCK);
  adoptOrphans();
  m_thread = std::jthread([this](const std::stop_token& stop) { work(stop); });
  return {};
}

void CommandLoad::stop() {
  if (!m_thread.joinable()) return;
  m_thread.request_stop();
  const uint64_t one = 1;
  if (write(m_wake, &one, sizeof one) < 0) return;
  m_thread.join();
}

// The course of all runs, on the thread.
void CommandLoad::work(const std::stop_token& stop) {
  while (!stop.stop_requested() && !isOver()) {
    auto run = spawn();
    if (!run) return fail(run.error().message);
    follow(*run, stop);
    endGuardian(*run);
    if (!stop.stop_requested()) judge(*run);
  }
}

Result<CommandLoad::Run> CommandLoad::spawn() const {
  GuardianOrder order{m_options.command, m_options.folder, {}};
  for (const auto& [name, value] : m_options.environment)
    order.environment.push_back(fmt::format("{}={}", name, value));
  auto command = GuardedCommand::start(order);
  if (!command) return command.error();
  Run run;
  run.command = std::move(*command);
  return run;
}

// Until the command has ended or is to end.
void CommandLoad::follow(Run& run, const std::stop_token& stop) {
  bool isThere = true;
  while (isThere && !run.command.ended && !stop.stop_requested()) {
    pollfd watched[] = {{run.command.output, POLLIN, 0}, {run.command.socket, POLLIN, 0}, {m_wake, POLLIN, 0}};
    poll(watched, 3, kLookEveryMs);
    if (watched[0].revents != 0) readOutput(run);
    if (watched[1].revents == 0) continue;
    run.command.takeWords();
    isThere = (watched[1].revents & POLLHUP) == 0;
  }
  readOutput(run);
  if (!run.lines.empty()) takeLine(std::exchange(run.lines, {}), run);
}

void CommandLoad::readOutput(Run& run) {
  std::array<char, 65536> chunk;
  size_t taken = 0;
  while (run.command.output >= 0 && taken < kReadAtMost) {
    const ssize_t length = read(run.command.output, chunk.data(), chunk.size());
    // At its end it would be ready for ever.
    if (length == 0) run.command.closeOutput();
    if (length <= 0) break;
    taken += static_cast<size_t>(length);
    run.lines.append(chunk.data(), static_cast<size_t>(length));
    size_t begin = 0;
    // Progress that rewrites its line counts as lines, too.
    for (size_t end = run.lines.find_first_of("\n\r"); end != std::string::npos;
         end = run.lines.find_first_of("\n\r", begin)) {
      takeLine(run.lines.substr(begin, std::min(end - begin, kLongestLine)), run);
      begin = end + 1;
    }
    run.lines.erase(0, begin);
    if (run.lines.size() > kLongestLine) run.lines.resize(kLongestLine);
  }
}

void CommandLoad::takeLine(const std::string& line, Run& run) {
  if (trimmed(line).empty()) return;
  run.lastLine = asUtf8(line);
  match(m_scorePatterns, run.lastLine, run.scores);
  if (m_livePatterns.empty()) return;
  std::map<std::string, double> told;
  match(m_livePatterns, run.lastLine, told);
  const std::lock_guard lock(m_mutex);
  for (const auto& [name, value] : told) m_live[name] = value;
}

// The guardian ends the command and all that hides, and then itself. What it could not end, or left behind because it
// was killed, is a child of this process now.
void CommandLoad::endGuardian(Run& run) {
  const bool isGone = run.command.end();
  DescendantsEnd(isGone ? kGuardianGraceS : 0).runFor(kGuardianPatienceS);
}

std::string CommandLoad::failureOf(const Run& run) const {
  if (!run.command.ended) return "The guardian of the command was ended, and the command with it.";
  const int status = run.command.ended->status;
  if (!WIFEXITED(status) || WEXITSTATUS(status) != m_options.exitCode) {
    const std::string how = WIFSIGNALED(status) ? fmt::format("by signal {}", WTERMSIG(status))
                                                : fmt::format("with {}", WEXITSTATUS(status));
    const std::string said = run.lastLine.empty()
                                 ? "it said nothing"
                                 : "its last words: " + asUtf8(withoutControls(run.lastLine.substr(0, kShownOfLine)));
    return fmt::format("The command ended {} instead of with {}; {}.", how, m_options.exitCode, said);
  }
  for (const auto& [name, pattern] : m_options.scores) {
    if (!run.scores.contains(name))
      return fmt::format("The command's output has no \"{}\" (pattern {}).", name, pattern);
  }
  return {};
}

void CommandLoad::judge(Run& run) {
  if (std::string failure = failureOf(run); !failure.empty()) return fail(std::move(failure));
  Pass pass;
  pass.startS = run.command.beganS - m_startS;
  pass.endS = run.command.ended->atS - m_startS;
  pass.scores = run.scores;
  // One score is the score; of several the one that is called so, else the first; without any it is the time.
  if (run.scores.contains("score"))
    pass.score = run.scores.at("score");
  else
    pass.score = run.scores.empty() ? pass.endS - pass.startS : run.scores.begin()->second;
  const std::lock_guard lock(m_mutex);
  m_passes.push_back(pass);
  ++m_runsDone;
  m_isDone = m_options.repeats > 0 && m_runsDone >= m_options.repeats;
  if (m_isDone) m_doneS = pass.endS;
}

void CommandLoad::fail(std::string why) {
  const std::lock_guard lock(m_mutex);
  m_failure = std::move(why);
}

bool CommandLoad::isOver() const {
  const std::lock_guard lock(m_mutex);
  return m_isDone || !m_failure.empty();
}

int CommandLoad::runsDone() const {
  const std::lock_guard lock(m_mutex);
  return m_runsDone;
}

bool CommandLoad::isDone() const {
  const std::lock_guard lock(m_mutex);
  return m_isDone;
}

double CommandLoad::doneS() const {
  const std::lock_guard lock(m_mutex);
  return m_doneS;
}

std::string CommandLoad::failure() const {
  const std::lock_guard lock(m_mutex);
  return m_failure;
}

std::map<std::string, double> CommandLoad::live() const {
  const std::lock_guard lock(m_mutex);
  return m_live;
}

std::vector<Pass> CommandLoad::takePasses() {
  const std::lock_guard lock(m_mutex);
  return std::exchange(m_passes, {});
}

namespace {

constexpr LoadField kCommandFields[] = {
    {"command", "--command", "Line for /bin/sh that the load \"command\" runs", LoadCommandLine{&LoadOptions::command}},
    {"environment", "--env", "NAME=VALUE for the command; may be given several times",
     LoadNamedTexts{&LoadOptions::environment, "env."}},
    {"repeats", "--repeats", "Runs of the command; until it is ended when not given", &LoadOptions::repeats,
     kNotNegative, "A command is run from 0 times (until it is ended) on."},
    {"exit_code",
     "--expect-exit",
     "Exit code that means success",
     &LoadOptions::exitCode,
     {0, 255},
     "An exit code is from 0 to 255."},
    {"scores", "--score", "NAME=PATTERN: a score in the command's output, a regular expression with one group",
     LoadNamedTexts{&LoadOptions::scores, "score."}},
    {"live", "--live", "NAME=PATTERN: a value in its output that is logged while it runs",
     LoadNamedTexts{&LoadOptions::live, "live."}},
};

Status checkPatterns(const std::map<std::string, std::string>& patterns) {
  if (patterns.size() > kMostPatterns)
    return Error::badInput(
        fmt::format("A command may have {} patterns of a kind, not {}.", kMostPatterns, patterns.size()));
  for (const auto& [name, text] : patterns) {
    const auto pattern = Pattern::compile(text);
    if (pattern && pattern->groupCount() == 1 && !name.empty() && name.size() <= kLongestPatternName) continue;
    return Error::badInput(
        fmt::format("The pattern \"{}\" of {} must be a regular expression (without look-ahead and back-references, at "
                    "most {} characters) with one group that holds the number, e.g. score: ([0-9.]+).",
                    withoutControls(asUtf8(text.substr(0, kLongestPatternName))),
                    name.empty() ? "a score" : withoutControls(asUtf8(name.substr(0, kLongestPatternName))),
                    Pattern::kLongestPattern));
  }
  return {};
}

// What is handed to the guardian in one piece, as texts that end with NUL.
Status checkOrder(const LoadOptions& options) {
  size_t bytes = options.command.size() + options.folder.size();
  bool hasNul = options.command.find('\0') != std::string::npos || options.folder.find('\0') != std::string::npos;
  for (const auto& [name, value] : options.environment) {
    bytes += name.size() + value.size() + 2;
    hasNul |= name.find('\0') != std::string::npos || value.find('\0') != std::string::npos;
    if (name.empty() || name.find('=') != std::string::npos)
      return Error::badInput("A variable of the command's environment needs a name without an equals sign.");
  }
  if (hasNul) return Error::badInput("A command, its folder and its environment cannot hold a NUL character.");
  if (bytes + 1024 > kLongestOrderB)
    return Error::badInput(fmt::format("The command with its environment is too long: {} bytes, at most {}.", bytes,
                                       kLongestOrderB - 1024));
  return {};
}

Status checkCommand(const LoadOptions& options) {
  if ((options.kind == LoadKind::Command) == options.command.empty())
    return Error::badInput("The load \"command\" needs a command line (--command), and only that load takes one.");
  if (Status checked = checkOrder(options); !checked) return checked;
  if (Status checked = checkPatterns(options.scores); !checked) return checked;
  return checkPatterns(options.live);
}

}  // namespace

// It runs beside the threads of the other kinds (CommandLoad), not among them.
extern const LoadKindRow kCommandLoad;
constinit const LoadKindRow kCommandLoad = {LoadKind::Command, nullptr, kCommandFields, checkCommand, true};

}  // namespace ash
