// SPDX-License-Identifier: GPL-3.0-or-later
#include "serve/reading_server.h"

#include <arpa/inet.h>
#include <fmt/format.h>
#include <httplib.h>
#include <openssl/crypto.h>
#include <openssl/sha.h>

#include <array>
#include <atomic>
#include <thread>

#include "serve/metrics_page.h"

namespace ash {
namespace {

constexpr int kMostRequests = 4, kMostClients = 48, kSilentS = 2;
constexpr size_t kLongestRequest = 8 * 1024;
constexpr char kWhatThisIs[] = "Ash Gauge readings of this machine; /metrics has them in OpenMetrics 1.0.\n";

using Digest = std::array<unsigned char, SHA256_DIGEST_LENGTH>;

Digest digestOf(const std::string& text) {
  Digest digest{};
  SHA256(reinterpret_cast<const unsigned char*>(text.data()), text.size(), digest.data());
  return digest;
}

std::string bearerOf(const httplib::Request& request) {
  constexpr std::string_view kScheme = "Bearer ";
  const std::string given = request.get_header_value("Authorization");
  return given.starts_with(kScheme) ? given.substr(kScheme.size()) : std::string();
}

}  // namespace

bool isLoopback(const std::string& host) {
  if (host == "localhost" || host == "::1") return true;
  in_addr address{};
  return inet_pton(AF_INET, host.c_str(), &address) == 1 && (ntohl(address.s_addr) >> 24) == 127;
}

bool isSameToken(const std::string& given, const std::string& wanted) {
  const Digest a = digestOf(given), b = digestOf(wanted);
  return CRYPTO_memcmp(a.data(), b.data(), a.size()) == 0;
}

struct ReadingServer::State {
  std::unique_ptr<httplib::Server> server;
  std::function<std::string()> page;
  std::string token;
  std::atomic<int> requests{0};
  std::atomic<bool> hasEnded{false};
  std::thread thread;
  int port = 0;

  bool isAllowed(const httplib::Request& request, httplib::Response& response) const {
    if (token.empty() || isSameToken(bearerOf(request), token)) return true;
    response.status = 401;
    response.set_header("WWW-Authenticate", "Bearer");
    response.set_content("A bearer token is asked for.\n", "text/plain");
    return false;
  }

  void answer(const httplib::Request& request, httplib::Response& response) {
    if (!isAllowed(request, response)) return;
    if (++requests > kMostRequests) {
      response.status = 503;
      response.set_header("Retry-After", "1");
      response.set_content("Busy with other requests.\n", "text/plain");
    } else {
      response.set_content(page(), kOpenMetricsType);
    }
    --requests;
  }
};

Result<std::unique_ptr<ReadingServer>> ReadingServer::start(const ServeOptions& options,
                                                            std::function<std::string()> page) {
  if (options.token.empty() && !isLoopback(options.host))
    return Error::badInput(
        fmt::format("{} can be reached from other machines: give a token with --token-file.", options.host));
  if (options.certFile.empty() != options.keyFile.empty())
    return Error::badInput("A certificate and its key come together: give --tls-cert and --tls-key.");
  auto state = std::make_unique<State>();
  if (options.certFile.empty())
    state->server = std::make_unique<httplib::Server>();
  else
    state->server = std::make_unique<httplib::SSLServer>(options.certFile.c_str(), options.keyFile.c_str());
  if (!state->server->is_valid())
    return Error::badInput(
        fmt::format("The certificate {} with the key {} cannot be used.", options.certFile, options.keyFile));
  state->page = std::move(page);
  state->token = options.token;
  httplib::Server& server = *state->server;
  server.new_task_queue = [] { return new httplib::ThreadPool(kMostClients); };  // NOLINT: the library owns it
  server.set_read_timeout(kSilentS, 0);
  server.set_write_timeout(kSilentS, 0);
  server.set_keep_alive_timeout(kSilentS);
  server.set_payload_max_length(kLongestRequest);
  server.Get("/metrics", [raw = state.get()](const auto& request, auto& response) { raw->answer(request, response); });
  server.Get("/", [raw = state.get()](const auto& request, auto& response) {
    if (raw->isAllowed(request, response)) response.set_content(kWhatThisIs, "text/plain");
  });
  const bool isBound = options.port == 0 ? (state->port = server.bind_to_any_port(options.host)) > 0
                                         : server.bind_to_port(options.host, options.port);
  if (!isBound)
    return Error::environment(
        fmt::format("Cannot listen at {}:{}: it is taken, or no address of this machine.", options.host, options.port));
  if (options.port != 0) state->port = options.port;
  state->thread = std::thread([raw = state.get()] {
    raw->server->listen_after_bind();
    raw->hasEnded = true;
  });
  return std::unique_ptr<ReadingServer>(new ReadingServer(std::move(state)));
}

ReadingServer::ReadingServer(std::unique_ptr<State> state) : m_state(std::move(state)) {}

ReadingServer::~ReadingServer() {
  // stop() before listening has begun would be lost.
  while (!m_state->server->is_running() && !m_state->hasEnded) std::this_thread::yield();
  m_state->server->stop();
  m_state->thread.join();
}

int ReadingServer::port() const { return m_state->port; }

}  // namespace ash
