// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/scpi_talk.h"

#include <fmt/format.h>

#include "instruments/scpi_answer.h"
#include "model/text.h"
#include "system/clock.h"

namespace ash {
namespace {

constexpr char kUsualPort[] = "5025";  // IANA: scpi-raw
constexpr size_t kLongestIdentity = 200;
constexpr int kLateAnswers = 8;  // that may come before the identity

std::string printable(const std::string& text, size_t most) {
  return std::string(trimmed(withoutControls(asUtf8(text.substr(0, most)))));
}

bool isNoError(const std::string& answer) {
  const auto number = parseNumber(trimmed(std::string_view(answer).substr(0, answer.find(','))));
  return number && *number == 0;
}

}  // namespace

Status ScpiTalk::open() {
  const auto to = parseHostPort(m_instrument.address, kUsualPort);
  if (!to) return Error::badInput(fmt::format("\"{}\" is no host:port", m_instrument.address));
  if (Status connected = m_socket.connect(*to, m_instrument.timeoutS); !connected) return connected;
  return begin();
}

Status ScpiTalk::begin() {
  for (const std::string& line : m_instrument.setup) {
    if (Status sent = m_socket.send(line + "\n", m_instrument.timeoutS); !sent) return sent;
  }
  return identify();
}

// A number, or what it was asked before, is a late answer. One that does not tell who it is may still measure.
Status ScpiTalk::identify() {
  m_socket.drop();
  if (Status sent = m_socket.send("*IDN?\n", m_instrument.timeoutS); !sent) return sent;
  std::string line;
  for (int i = 0; i < kLateAnswers; ++i) {
    const auto got = m_socket.readLine(line, m_instrument.timeoutS);
    if (got == LineSocket::Got::Lost) return Error::environment("it hung up");
    if (got == LineSocket::Got::Nothing) return Error::environment("it does not answer *IDN?");
    if (parseScpiNumber(line)) continue;
    m_identity = printable(line, kLongestIdentity);
    return {};
  }
  return Error::environment("it answers *IDN? with numbers only");
}

Status ScpiTalk::ask(std::vector<Answer>& answers) {
  for (size_t i = 0; i < m_instrument.readings.size(); ++i) {
    bool isLost = false;
    answers[i] = query(m_instrument.readings[i], isLost);
    if (isLost) return Error::environment(answers[i].fault);
  }
  return {};
}

Answer ScpiTalk::query(const InstrumentReading& reading, bool& isLost) {
  m_socket.drop();
  const double sentS = monotonicS();
  if (Status sent = m_socket.send(reading.query + "\n", m_instrument.timeoutS); !sent) {
    isLost = true;
    return faultOf(sent.error().message);
  }
  std::string line;
  switch (m_socket.readLine(line, m_instrument.timeoutS)) {
    case LineSocket::Got::Line:
      return judge(reading, line, sentS);
    case LineSocket::Got::Lost:
      isLost = true;
      return faultOf("it hung up");
    case LineSocket::Got::Nothing:
      break;
  }
  return afterSilence(fmt::format("no answer to {} within {:g} s", reading.query, m_instrument.timeoutS), isLost);
}

Answer ScpiTalk::judge(const InstrumentReading& reading, const std::string& line, double sentS) {
  const double arrivedS = bootTimeS(), roundTripS = monotonicS() - sentS;
  const auto number = parseScpiNumber(line);
  if (!number) {
    const std::string said = errorWords();
    return faultOf(fmt::format("{} was answered with {}{}", reading.query, number.error().message,
                               said.empty() ? "" : "; it says " + said));
  }
  InstrumentReading as = reading;
  if (number->unit) {
    const Quantity wanted = reading.unit.quantity;
    if (wanted != Quantity::Other && number->unit->quantity != wanted)
      return faultOf(
          fmt::format("{} was answered in {}, which is no unit of {}", reading.query, number->suffix, reading.title()));
    if (wanted != Quantity::Other) as.unit = *number->unit;
  }
  // A number that stands for "none" is an answer, and no value.
  return answerOf(as, number->value, arrivedS, roundTripS);
}

// The answer may still come: on this connection it must never meet the next query.
Answer ScpiTalk::afterSilence(std::string why, bool& isLost) {
  if (Status again = open(); !again) {
    isLost = true;
    return faultOf(fmt::format("{}, and {}", why, again.error().message));
  }
  if (const std::string said = errorWords(); !said.empty()) why += "; it says " + said;
  return faultOf(std::move(why));
}

// SCPI-1999, vol. 2, 21.8: the oldest entry of the error queue, "-113,\"Undefined header\"".
std::string ScpiTalk::errorWords() {
  m_socket.drop();
  std::string line;
  if (!m_socket.send("SYST:ERR?\n", m_instrument.timeoutS)) return {};
  const auto got = m_socket.readLine(line, m_instrument.timeoutS);
  // What is not answered now must not be answered into the next query.
  if (got == LineSocket::Got::Nothing && !open()) m_socket.close();
  if (got != LineSocket::Got::Line || isNoError(line)) return {};
  return printable(line, kLongestIdentity);
}

}  // namespace ash
