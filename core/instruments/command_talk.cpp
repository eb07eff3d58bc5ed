// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/command_talk.h"

#include <fmt/format.h>
#include <poll.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <utility>

#include "model/text.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr size_t kLongestLine = size_t{64} * 1024, kReadAtMost = size_t{1} << 20, kShownOfLine = 120;
constexpr int kLookEveryMs = 50;

}  // namespace

CommandTalk::~CommandTalk() {
  m_thread.request_stop();
  if (m_thread.joinable()) m_thread.join();
  if (m_command.guardian > 0) m_command.end();
}

Status CommandTalk::open() {
  for (const InstrumentReading& reading : m_instrument.readings) {
    auto pattern = Pattern::compile(reading.pattern);
    if (!pattern) return pattern.error();
    m_patterns.push_back(*pattern);
  }
  if (!m_instrument.isFollowed) return {};
  auto command = GuardedCommand::start({m_instrument.command, {}, {}});
  if (!command) return command.error();
  m_command = std::move(*command);
  m_told.resize(m_instrument.readings.size());
  m_thread = std::jthread([this](const std::stop_token& stop) { follow(stop); });
  return {};
}

Status CommandTalk::ask(std::vector<Answer>& answers) {
  return m_instrument.isFollowed ? takeTold(answers) : askOnce(answers);
}

void CommandTalk::takeLine(const std::string& line, std::vector<Answer>& answers, double beganS) {
  if (trimmed(line).empty()) return;
  m_lastLine = asUtf8(line);
  const double nowS = bootTimeS();
  for (size_t i = 0; i < m_patterns.size(); ++i) {
    const auto found = m_patterns[i].find(m_lastLine);
    if (!found || found->size() < 2) continue;
    std::string number(trimmed((*found)[1]));
    std::replace(number.begin(), number.end(), ',', '.');
    const InstrumentReading& reading = m_instrument.readings[i];
    const auto value = parseNumber(number.starts_with('+') ? number.substr(1) : number);
    answers[i] = value ? answerOf(reading, *value, nowS, beganS > 0 ? monotonicS() - beganS : kMissing)
                       : faultOf(fmt::format("\"{}\" is no number", withoutControls(number.substr(0, 40))));
  }
}

bool CommandTalk::readLines(std::vector<Answer>& answers, double beganS) {
  char chunk[16384];
  for (size_t taken = 0; taken < kReadAtMost;) {
    const ssize_t length = read(m_command.output, chunk, sizeof chunk);
    if (length == 0) return false;
    if (length < 0) return true;
    taken += static_cast<size_t>(length);
    m_lines.append(chunk, static_cast<size_t>(length));
    size_t begin = 0;
    for (size_t end = m_lines.find_first_of("\n\r"); end != std::string::npos;
         end = m_lines.find_first_of("\n\r", begin)) {
      takeLine(m_lines.substr(begin, std::min(end - begin, kLongestLine)), answers, beganS);
      begin = end + 1;
    }
    m_lines.erase(0, begin);
    if (m_lines.size() > kLongestLine) m_lines.resize(kLongestLine);
  }
  return true;
}

std::string CommandTalk::howItEnded() const {
  std::string how = "the command was ended";
  if (m_command.ended && WIFEXITED(m_command.ended->status))
    how = fmt::format("the command ended with {}", WEXITSTATUS(m_command.ended->status));
  else if (m_command.ended && WIFSIGNALED(m_command.ended->status))
    how = fmt::format("the command was ended by signal {}", WTERMSIG(m_command.ended->status));
  if (!m_lastLine.empty())
    how += fmt::format(", its last words: {}", withoutControls(m_lastLine.substr(0, kShownOfLine)));
  return how;
}

Status CommandTalk::askOnce(std::vector<Answer>& answers) {
  auto command = GuardedCommand::start({m_instrument.command, {}, {}});
  if (!command) return command.error();
  m_command = std::move(*command);
  m_lines.clear();
  m_lastLine.clear();
  const double beganS = monotonicS();
  bool isThere = true;
  while (isThere && monotonicS() - beganS < m_instrument.timeoutS) {
    pollfd watched[] = {{m_command.output, POLLIN, 0}, {m_command.socket, POLLIN, 0}};
    poll(watched, 2, kLookEveryMs);
    if (watched[0].revents != 0 && !readLines(answers, beganS)) m_command.closeOutput();
    if (watched[1].revents != 0) m_command.takeWords();
    isThere = !m_command.ended && (watched[1].revents & POLLHUP) == 0;
  }
  if (m_command.output >= 0) readLines(answers, beganS);
  if (!m_lines.empty()) takeLine(std::exchange(m_lines, {}), answers, beganS);
  const bool isLate = !m_command.ended;
  const std::string ending = isLate ? fmt::format("it did not end within {:g} s", m_instrument.timeoutS) : howItEnded();
  m_command.end();
  m_command.guardian = 0;
  for (size_t i = 0; i < answers.size(); ++i) {
    if (std::isfinite(answers[i].atS) || answers[i].isFailure()) continue;
    answers[i] = faultOf(isLate || (m_command.ended && m_command.ended->status != 0)
                             ? ending
                             : fmt::format("nothing that it printed matches {}", m_instrument.readings[i].pattern));
  }
  return {};
}

// On the thread: stamps are those of the lines' arrival, not of somebody's asking.
void CommandTalk::follow(const std::stop_token& stop) {
  while (!stop.stop_requested()) {
    pollfd watched[] = {{m_command.output, POLLIN, 0}, {m_command.socket, POLLIN, 0}};
    poll(watched, 2, kLookEveryMs);
    const std::lock_guard lock(m_mutex);
    if (watched[0].revents != 0 && !readLines(m_told, 0)) m_command.closeOutput();
    if (watched[1].revents == 0) continue;
    m_command.takeWords();
    if (!m_command.ended && (watched[1].revents & POLLHUP) == 0) continue;
    if (m_command.output >= 0) readLines(m_told, 0);
    m_hasEnded = true;
    m_ending = howItEnded();
    return;
  }
}

Status CommandTalk::takeTold(std::vector<Answer>& answers) {
  const std::lock_guard lock(m_mutex);
  answers = std::exchange(m_told, std::vector<Answer>(m_instrument.readings.size()));
  const bool isNews = std::any_of(answers.begin(), answers.end(),
                                  [](const Answer& one) { return std::isfinite(one.atS) || one.isFailure(); });
  if (m_hasEnded && !isNews) return Error::environment(m_ending);
  return {};
}

}  // namespace ash
