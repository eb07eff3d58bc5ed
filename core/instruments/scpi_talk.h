// SPDX-License-Identifier: GPL-3.0-or-later
// A meter that speaks SCPI over a raw TCP socket: IEEE 488.2 common commands, SCPI-1999 program messages, lines ended
// by LF.
#pragma once

#include "instruments/line_socket.h"
#include "instruments/talk.h"

namespace ash {

/// One query at a time. After one that was not answered in time the connection is made anew and its identity asked for,
/// so that a late answer is never taken as the next one; lines that nobody asked for are dropped before each query.
class ScpiTalk : public Talk {
 public:
  explicit ScpiTalk(const Instrument& instrument) : m_instrument(instrument) {}
  Status open() override;
  std::string identity() const override { return m_identity; }
  Status ask(std::vector<Answer>& answers) override;

 private:
  Status begin();
  Status identify();
  Answer query(const InstrumentReading& reading, bool& isLost);
  Answer judge(const InstrumentReading& reading, const std::string& line, double sentS);
  Answer afterSilence(std::string why, bool& isLost);
  std::string errorWords();

  const Instrument& m_instrument;
  LineSocket m_socket;
  std::string m_identity;
};

}  // namespace ash
