// SPDX-License-Identifier: GPL-3.0-or-later
// A program of the reviewer's own: run at each interval, or left running and printing lines; a pattern with one group
// finds each reading.
#pragma once

#include <mutex>
#include <thread>
#include <vector>

#include "instruments/talk.h"
#include "load/guardian/guarded_command.h"
#include "model/pattern.h"

namespace ash {

/// Runs below a guardian: it and all that it starts end with the recorder, however that ends.
class CommandTalk : public Talk {
 public:
  explicit CommandTalk(const Instrument& instrument) : m_instrument(instrument) {}
  ~CommandTalk() override;
  Status open() override;
  Status ask(std::vector<Answer>& answers) override;

 private:
  Status askOnce(std::vector<Answer>& answers);
  Status takeTold(std::vector<Answer>& answers);
  void follow(const std::stop_token& stop);
  /// Reads what has been printed; false at its end.
  bool readLines(std::vector<Answer>& answers, double beganS);
  void takeLine(const std::string& line, std::vector<Answer>& answers, double beganS);
  std::string howItEnded() const;

  const Instrument& m_instrument;
  std::vector<Pattern> m_patterns;
  GuardedCommand m_command;
  std::string m_lines, m_lastLine;  // not yet whole; last whole one
  std::mutex m_mutex;
  // Guarded by m_mutex while lines are followed.
  std::vector<Answer> m_told;
  bool m_hasEnded = false;
  std::string m_ending;
  std::jthread m_thread;
};

}  // namespace ash
