// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_client.h"

#include <fmt/format.h>

#include <boost/asio/io_context.hpp>
#include <boost/asio/local/stream_protocol.hpp>
#include <boost/asio/read_until.hpp>
#include <boost/asio/write.hpp>
#include <chrono>
#include <filesystem>

#include "model/text.h"
#include "runner/message_type.h"
#include "runner/run_socket.h"
#include "system/runtime_folder.h"

namespace ash {

namespace asio = boost::asio;
namespace fs = std::filesystem;
using Protocol = asio::local::stream_protocol;

namespace {

constexpr auto kPatience = std::chrono::seconds(3);

class Connection {
 public:
  Connection() : m_socket(m_io) {}

  bool open(const std::string& path) {
    boost::system::error_code error;
    m_socket.connect(Protocol::endpoint(path), error);
    return !error;
  }
  bool send(const Json& message) {
    boost::system::error_code error;
    asio::write(m_socket, asio::buffer(jsonText(message) + "\n"), error);
    return !error;
  }
  /// The next message of that type; null when none comes in time.
  Json waitFor(MessageType::Known type) {
    const auto deadline = std::chrono::steady_clock::now() + kPatience;
    while (std::chrono::steady_clock::now() < deadline) {
      const auto line = readLine(deadline);
      if (!line) return nullptr;
      const Json message = parseQuietly(*line);
      if (message.is_object() && typeOf(message) == type) return message;
    }
    return nullptr;
  }

 private:
  std::optional<std::string> readLine(std::chrono::steady_clock::time_point deadline) {
    bool isDone = false;
    boost::system::error_code result;
    asio::async_read_until(m_socket, asio::dynamic_buffer(m_buffer), '\n',
                           [&](boost::system::error_code error, size_t) {
                             result = error;
                             isDone = true;
                           });
    m_io.restart();
    m_io.run_until(deadline);
    if (!isDone) {
      boost::system::error_code ignored;
      m_socket.close(ignored);
      m_io.run();
      return std::nullopt;
    }
    if (result) return std::nullopt;
    const size_t end = m_buffer.find('\n');
    std::string line = m_buffer.substr(0, end);
    m_buffer.erase(0, end + 1);
    return line;
  }

  asio::io_context m_io;
  Protocol::socket m_socket;
  std::string m_buffer;
};

}  // namespace

Result<std::vector<Json>> listRuns() {
  auto folder = runtimeSubfolder("runs");
  if (!folder) return folder.error();
  std::vector<Json> runs;
  std::error_code error;
  for (const fs::directory_entry& entry : fs::directory_iterator(*folder, error)) {
    if (entry.path().extension() != ".sock") continue;
    Connection connection;
    if (!connection.open(entry.path().string())) {
      fs::remove(entry.path(), error);
      continue;
    }
    const Json hello = connection.waitFor(MessageType::Run);
    if (hello.is_object()) runs.push_back(hello);
  }
  return runs;
}

Result<Json> askRun(const std::string& runId, const Json& wish) {
  const auto path = runSocketPath(runId);
  if (!path && isPlainId(runId)) return path.error();
  Connection connection;
  if (!path || !connection.open(*path)) {
    return Error::badInput(fmt::format("No recording {} is going on; `ashg runs` lists them.", withoutControls(runId)));
  }
  if (!connection.send(wish)) return Error::environment(fmt::format("The recording {} does not listen.", runId));
  const Json answer = connection.waitFor(MessageType::Answer);
  if (!answer.is_object()) return Error::environment(fmt::format("The recording {} did not answer within 3 s.", runId));
  return answer;
}

}  // namespace ash
