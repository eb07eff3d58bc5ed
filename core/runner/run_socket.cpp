// SPDX-License-Identifier: GPL-3.0-or-later
#include "runner/run_socket.h"

#include <fmt/format.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <unistd.h>

#include <boost/asio/io_context.hpp>
#include <boost/asio/local/stream_protocol.hpp>
#include <boost/asio/post.hpp>
#include <boost/asio/read_until.hpp>
#include <boost/asio/steady_timer.hpp>
#include <boost/asio/streambuf.hpp>
#include <boost/asio/write.hpp>
#include <deque>
#include <istream>
#include <map>
#include <mutex>
#include <set>
#include <thread>

#include "model/text.h"
#include "runner/message_type.h"
#include "system/clock.h"
#include "system/runtime_folder.h"

namespace ash {

namespace asio = boost::asio;
using Protocol = asio::local::stream_protocol;

namespace {
constexpr size_t kLongestLine = 64 * 1024;              // a wish is short; more is no wish
constexpr size_t kMostUntakenBytes = 16 * 1024 * 1024;  // a listener that takes nothing is let go
constexpr double kKeepSamplesS = 3;
constexpr size_t kMostKeptSamples = 20'000;
constexpr size_t kMostWishes = 1000;  // not yet answered
constexpr auto kAcceptAgainAfter = std::chrono::milliseconds(200);

bool isOurUser(int descriptor) {
  ucred credentials{};
  socklen_t size = sizeof credentials;
  return getsockopt(descriptor, SOL_SOCKET, SO_PEERCRED, &credentials, &size) == 0 && credentials.uid == geteuid();
}
std::string refusal(const char* why) {
  return jsonText({{"type", MessageType(MessageType::Answer).text()}, {"ok", false}, {"why", why}}) + "\n";
}

}  // namespace

/// Everything but the wishes is touched on the server's thread only.
class RunSocket::Server {
 public:
  Server(const std::string& path, std::string hello)
      : m_path(path), m_hello(std::move(hello)), m_acceptor(m_io), m_pause(m_io) {}

  Status open() {
    boost::system::error_code error;
    if (m_path.size() >= sizeof(sockaddr_un::sun_path)) {
      return Error::environment(
          fmt::format("The path of the run's socket is too long: {}. Set XDG_RUNTIME_DIR.", m_path));
    }
    unlink(m_path.c_str());
    m_acceptor.open(Protocol(), error);
    const mode_t before = umask(0177);
    if (!error) m_acceptor.bind(Protocol::endpoint(m_path), error);
    umask(before);
    if (!error) m_acceptor.listen(8, error);
    if (error) return Error::environment(fmt::format("Cannot open the run's socket {}: {}.", m_path, error.message()));
    accept();
    m_thread = std::thread([this] { m_io.run(); });
    return {};
  }

  void tell(MessageType type, std::string line, bool sticky) {
    asio::post(m_io, [this, type = std::move(type), line = std::move(line), sticky] {
      if (sticky) m_sticky[type] = line;
      if (type == MessageType::Samples) keepSamples(line);
      for (auto& [number, client] : m_clients) send(*client, line);
    });
  }

  void answer(long long number, std::string line) {
    asio::post(m_io, [this, number, line = std::move(line)] {
      const auto client = m_clients.find(number);
      if (client != m_clients.end()) send(*client->second, line);
    });
  }

  std::vector<Json> takeWishes() {
    const std::lock_guard lock(m_mutex);
    return std::exchange(m_wishes, {});
  }

  void close() {
    if (!m_thread.joinable()) return;
    unlink(m_path.c_str());
    asio::post(m_io, [this] {
      boost::system::error_code error;
      m_acceptor.close(error);
      m_isClosing = true;
      m_pause.cancel();
      closeIdleClients();
    });
    const double startS = monotonicS();
    while (!m_io.stopped() && monotonicS() - startS < 0.3) std::this_thread::sleep_for(std::chrono::milliseconds(5));
    m_io.stop();
    m_thread.join();
  }

 private:
  struct Client {
    Client(long long n, Protocol::socket s) : number(n), socket(std::move(s)) {}
    long long number;
    Protocol::socket socket;
    asio::streambuf input{kLongestLine};
    std::deque<std::string> queue;
    size_t queuedBytes = 0;
    bool isGone = false;
  };

  void accept() {
    m_acceptor.async_accept([this](boost::system::error_code error, Protocol::socket socket) {
      if (error == asio::error::operation_aborted || m_isClosing) return;
      // Out of descriptors, say: others may follow this run later.
      if (error) return acceptLater();
      if (isOurUser(socket.native_handle())) welcome(std::make_shared<Client>(++m_lastNumber, std::move(socket)));
      accept();
    });
  }

  void acceptLater() {
    m_pause.expires_after(kAcceptAgainAfter);
    m_pause.async_wait([this](boost::system::error_code error) {
      if (!error && !m_isClosing) accept();
    });
  }

  void welcome(const std::shared_ptr<Client>& client) {
    m_clients[client->number] = client;
    send(*client, m_hello);
    for (const auto& [type, line] : m_sticky) send(*client, line);
    for (const auto& [atS, line] : m_samples) send(*client, line);
    read(client);
  }

  void read(const std::shared_ptr<Client>& client) {
    asio::async_read_until(client->socket, client->input, '\n',
                           [this, client](boost::system::error_code error, size_t) {
                             if (error) return drop(*client);
                             std::istream stream(&client->input);
                             std::string line;
                             std::getline(stream, line);
                             Json wish = parseQuietly(line);
                             if (wish.is_object()) {
                               wish["client"] = client->number;
                               takeWish(*client, std::move(wish));
                             } else {
                               send(*client, refusal("This line is no JSON object."));
                             }
                             read(client);
                           });
  }

  void takeWish(Client& client, Json wish) {
    {
      const std::lock_guard lock(m_mutex);
      if (m_wishes.size() < kMostWishes) return m_wishes.push_back(std::move(wish));
    }
    send(client, refusal("Too much is asked for at once."));
  }

  void send(Client& client, const std::string& line) {
    if (client.isGone) return;
    client.queue.push_back(line);
    client.queuedBytes += line.size();
    if (client.queuedBytes > kMostUntakenBytes) return drop(client);
    if (client.queue.size() == 1) writeNext(m_clients[client.number]);
  }

  void writeNext(const std::shared_ptr<Client>& client) {
    asio::async_write(client->socket, asio::buffer(client->queue.front()),
                      [this, client](boost::system::error_code error, size_t) {
                        if (error || client->isGone) return drop(*client);
                        client->queuedBytes -= client->queue.front().size();
                        client->queue.pop_front();
                        if (!client->queue.empty())
                          writeNext(client);
                        else if (m_isClosing)
                          closeIdleClients();
                      });
  }

  void drop(Client& client) {
    client.isGone = true;
    boost::system::error_code error;
    client.socket.close(error);
    m_dropped.insert(client.number);
    // Not erased here: the caller may be walking over the clients.
    asio::post(m_io, [this] {
      for (const long long number : m_dropped) m_clients.erase(number);
      m_dropped.clear();
    });
  }

  void closeIdleClients() {
    for (auto& [number, client] : m_clients) {
      if (client->queue.empty() && !client->isGone) drop(*client);
    }
  }

  void keepSamples(const std::string& line) {
    const double nowS = monotonicS();
    m_samples.emplace_back(nowS, line);
    while (m_samples.size() > kMostKeptSamples || m_samples.front().first < nowS - kKeepSamplesS) m_samples.pop_front();
  }

  std::string m_path;
  std::string m_hello;
  asio::io_context m_io;
  Protocol::acceptor m_acceptor;
  asio::steady_timer m_pause;
  std::thread m_thread;
  std::map<long long, std::shared_ptr<Client>> m_clients;
  std::set<long long> m_dropped;
  long long m_lastNumber = 0;
  bool m_isClosing = false;
  std::map<MessageType::Known, std::string> m_sticky;
  std::deque<std::pair<double, std::string>> m_samples;
  std::mutex m_mutex;  // guards m_wishes
  std::vector<Json> m_wishes;
};

Result<std::string> runSocketPath(const std::string& runId) {
  if (!isPlainId(runId)) {
    return Error::badInput(fmt::format("\"{}\" is no id of a run; `ashg runs` lists them.", withoutControls(runId)));
  }
  auto folder = runtimeSubfolder("runs");
  if (!folder) return folder.error();
  return *folder + "/" + runId + ".sock";
}

RunSocket::RunSocket(std::unique_ptr<Server> server) : m_server(std::move(server)) {}
RunSocket::~RunSocket() { m_server->close(); }

Result<std::unique_ptr<RunSocket>> RunSocket::open(const std::string& path, const Json& hello) {
  auto server = std::make_unique<Server>(path, jsonText(hello) + "\n");
  if (Status opened = server->open(); !opened) return opened.error();
  return std::unique_ptr<RunSocket>(new RunSocket(std::move(server)));
}

void RunSocket::tell(const Json& message, bool sticky) {
  m_server->tell(typeOf(message), jsonText(message) + "\n", sticky);
}
void RunSocket::answer(long long client, const Json& message) { m_server->answer(client, jsonText(message) + "\n"); }
std::vector<Json> RunSocket::takeWishes() { return m_server->takeWishes(); }
void RunSocket::close() { m_server->close(); }

}  // namespace ash
