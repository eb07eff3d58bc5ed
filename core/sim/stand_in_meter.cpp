// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/stand_in_meter.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <boost/asio/buffer.hpp>
#include <boost/asio/io_context.hpp>
#include <boost/asio/ip/tcp.hpp>
#include <boost/asio/read_until.hpp>
#include <boost/asio/write.hpp>
#include <cctype>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>
#include <vector>

#include "model/text.h"

namespace ash::sim {
namespace {

namespace asio = boost::asio;
using asio::ip::tcp;

constexpr size_t kMostClients = 8, kLongestLine = 4096, kMostErrors = 10;
constexpr auto kSlow = std::chrono::milliseconds(400), kLate = std::chrono::milliseconds(1800);

struct FaultRow {
  MeterFault fault;
  std::string_view text;
};
constexpr std::array kFaults = {FaultRow{MeterFault::Slow, "slow"},       FaultRow{MeterFault::Late, "late"},
                                FaultRow{MeterFault::Rubbish, "rubbish"}, FaultRow{MeterFault::Half, "half"},
                                FaultRow{MeterFault::HangUp, "hang-up"},  FaultRow{MeterFault::WrongUnit, "wrong-unit"},
                                FaultRow{MeterFault::Silent, "silent"}};

/// A header of the command tree, "MEASure:POWer?": upper case is its short form.
struct Header {
  std::string_view pattern;
  enum class Does { Identify, Reset, Complete, Error, Power, Volts, Amperes, Energy } does;
};
constexpr std::array kHeaders = {Header{"*IDN?", Header::Does::Identify},
                                 Header{"*RST", Header::Does::Reset},
                                 Header{"*CLS", Header::Does::Reset},
                                 Header{"*OPC?", Header::Does::Complete},
                                 Header{"SYSTem:ERRor?", Header::Does::Error},
                                 Header{"MEASure:POWer?", Header::Does::Power},
                                 Header{"MEASure:VOLTage?", Header::Does::Volts},
                                 Header{"MEASure:CURRent?", Header::Does::Amperes},
                                 Header{"MEASure:ENERgy?", Header::Does::Energy},
                                 Header{"FETCh?", Header::Does::Power}};

std::string upper(std::string_view text) {
  std::string big(text);
  std::transform(big.begin(), big.end(), big.begin(),
                 [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  return big;
}

std::string shortForm(std::string_view pattern) {
  std::string form;
  std::copy_if(pattern.begin(), pattern.end(), std::back_inserter(form),
               [](unsigned char c) { return !std::islower(c); });
  return form;
}

// Each part of a header may be short or long (SCPI-1999, vol. 1, 6.2.1).
bool matches(std::string_view header, std::string_view pattern) {
  const auto given = splitText(header, ':'), known = splitText(pattern, ':');
  if (given.size() != known.size()) return false;
  return std::equal(given.begin(), given.end(), known.begin(), [](std::string_view a, std::string_view b) {
    return upper(a) == upper(b) || upper(a) == shortForm(b);
  });
}

const Header* headerOf(std::string_view message) {
  if (message.starts_with(':')) message.remove_prefix(1);
  const auto found =
      std::find_if(kHeaders.begin(), kHeaders.end(), [&](const Header& one) { return matches(message, one.pattern); });
  return found == kHeaders.end() ? nullptr : &*found;
}

}  // namespace

std::optional<MeterFault> meterFaultFrom(std::string_view text) {
  const auto row = std::find_if(kFaults.begin(), kFaults.end(), [&](const FaultRow& one) { return one.text == text; });
  return row == kFaults.end() ? std::nullopt : std::optional(row->fault);
}

std::string meterFaultWords() {
  std::string words;
  for (const FaultRow& row : kFaults) words += (words.empty() ? "" : ", ") + std::string(row.text);
  return words;
}

/// Shared by all its threads.
struct StandInMeter::State {
  State(const MeterOptions& asked, std::function<MeterValues()> values)
      : options(asked), measure(std::move(values)), acceptor(context) {}
  const MeterOptions options;
  const std::function<MeterValues()> measure;
  asio::io_context context;
  tcp::acceptor acceptor;
  std::atomic<int> answers{0};
  std::mutex mutex;
  std::condition_variable changed;
  // Guarded by `mutex`.
  bool isOver = false;
  std::vector<std::shared_ptr<tcp::socket>> clients;
  int threads = 0;

  /// One client's talk.
  class Client {
   public:
    Client(State& state, tcp::socket& socket) : m_state(state), m_socket(socket) {}
    void serve();

   private:
    bool carryOut(std::string_view message);
    bool answer(const Header& header);
    bool measured(double value, std::string_view unit);
    bool say(const std::string& text);
    void pause(std::chrono::milliseconds length);

    State& m_state;
    tcp::socket& m_socket;
    std::deque<std::string> m_errors;
  };

  void accept();
  void serve(const std::shared_ptr<tcp::socket>& socket);
};

void StandInMeter::State::Client::serve() {
  std::string buffer;
  boost::system::error_code error;
  while (true) {
    const size_t length = asio::read_until(m_socket, asio::dynamic_buffer(buffer, kLongestLine), '\n', error);
    if (error || length == 0) return;
    const std::string line(trimmed(std::string_view(buffer).substr(0, length)));
    buffer.erase(0, length);
    for (const std::string_view message : splitText(line, ';')) {
      if (!carryOut(trimmed(message))) return;
    }
  }
}

bool StandInMeter::State::Client::carryOut(std::string_view message) {
  if (message.empty()) return true;
  if (const Header* header = headerOf(message)) return answer(*header);
  if (m_errors.size() < kMostErrors) m_errors.emplace_back("-113,\"Undefined header\"");
  return true;
}

bool StandInMeter::State::Client::answer(const Header& header) {
  const MeterValues now = m_state.measure();
  switch (header.does) {
    case Header::Does::Identify:
      return say("Ash Gauge,Stand-in meter,0,1.0\n");
    case Header::Does::Reset:
      m_errors.clear();
      return true;
    case Header::Does::Complete:
      return say("1\n");
    case Header::Does::Error: {
      const std::string oldest = m_errors.empty() ? "0,\"No error\"" : m_errors.front();
      if (!m_errors.empty()) m_errors.pop_front();
      return say(oldest + "\n");
    }
    case Header::Does::Power:
      return measured(now.powerW, "W");
    case Header::Does::Volts:
      return measured(now.volts, "V");
    case Header::Does::Amperes:
      return measured(now.volts > 0 ? now.powerW / now.volts : 0, "A");
    case Header::Does::Energy:
      return measured(now.energyWh, "WH");
  }
  return true;
}

bool StandInMeter::State::Client::measured(double value, std::string_view unit) {
  const std::string good = fmt::format("{:+.6E}", value);
  const bool isFaulty = m_state.options.fault != MeterFault::None && ++m_state.answers % m_state.options.everyNth == 0;
  switch (isFaulty ? m_state.options.fault : MeterFault::None) {
    case MeterFault::None:
      return say(good + "\n");
    case MeterFault::Slow:
      pause(kSlow);
      return say(good + "\n");
    case MeterFault::Late:
      pause(kLate);
      return say(good + "\n");
    case MeterFault::Rubbish:
      return say("\x1b[31m#@!\x07 4;2 ~~\n");
    case MeterFault::Half:
      return say(good.substr(0, good.size() / 2));
    case MeterFault::HangUp:
      return false;
    case MeterFault::WrongUnit:
      return say(fmt::format("{:+.6E} {}\n", value, unit == "V" ? "W" : "V"));
    case MeterFault::Silent:
      return true;
  }
  return true;
}

bool StandInMeter::State::Client::say(const std::string& text) {
  boost::system::error_code error;
  asio::write(m_socket, asio::buffer(text), error);
  return !error;
}

void StandInMeter::State::Client::pause(std::chrono::milliseconds length) {
  std::unique_lock lock(m_state.mutex);
  m_state.changed.wait_for(lock, length, [this] { return m_state.isOver; });
}

void StandInMeter::State::serve(const std::shared_ptr<tcp::socket>& socket) {
  Client(*this, *socket).serve();
  const std::lock_guard lock(mutex);
  boost::system::error_code ignored;
  socket->shutdown(tcp::socket::shutdown_both, ignored);
  socket->close(ignored);
  std::erase(clients, socket);
  --threads;
  changed.notify_all();
}

void StandInMeter::State::accept() {
  while (true) {
    auto socket = std::make_shared<tcp::socket>(context);
    boost::system::error_code error;
    acceptor.accept(*socket, error);
    const std::lock_guard lock(mutex);
    if (isOver) break;
    if (error || clients.size() >= kMostClients) continue;
    clients.push_back(socket);
    ++threads;
    std::thread([this, socket] { serve(socket); }).detach();
  }
  const std::lock_guard lock(mutex);
  --threads;
  changed.notify_all();
}

Result<std::unique_ptr<StandInMeter>> StandInMeter::start(const MeterOptions& options,
                                                          std::function<MeterValues()> values) {
  auto state = std::make_shared<State>(options, std::move(values));
  boost::system::error_code error;
  const tcp::endpoint here(asio::ip::address_v4::loopback(), static_cast<uint16_t>(options.port));
  state->acceptor.open(here.protocol(), error);
  if (!error) state->acceptor.set_option(tcp::acceptor::reuse_address(true), error);
  if (!error) state->acceptor.bind(here, error);
  if (!error) state->acceptor.listen(asio::socket_base::max_listen_connections, error);
  if (error)
    return Error::environment(
        fmt::format("The stand-in meter cannot listen on port {}: {}.", options.port, error.message()));
  state->threads = 1;
  std::thread([raw = state.get()] { raw->accept(); }).detach();
  return std::unique_ptr<StandInMeter>(new StandInMeter(std::move(state)));
}

StandInMeter::StandInMeter(std::shared_ptr<State> state) : m_state(std::move(state)) {}

StandInMeter::~StandInMeter() {
  const int port = this->port();
  std::unique_lock lock(m_state->mutex);
  m_state->isOver = true;
  boost::system::error_code ignored;
  for (const auto& client : m_state->clients) client->shutdown(tcp::socket::shutdown_both, ignored);
  m_state->changed.notify_all();
  lock.unlock();
  // A last caller wakes whoever waits for one.
  tcp::socket waker(m_state->context);
  waker.connect({asio::ip::address_v4::loopback(), static_cast<uint16_t>(port)}, ignored);
  lock.lock();
  m_state->changed.wait(lock, [this] { return m_state->threads == 0; });
}

int StandInMeter::port() const {
  boost::system::error_code error;
  const auto here = m_state->acceptor.local_endpoint(error);
  return error ? 0 : here.port();
}

}  // namespace ash::sim
