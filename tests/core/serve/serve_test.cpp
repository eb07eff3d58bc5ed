// SPDX-License-Identifier: GPL-3.0-or-later
// Readings offered to others: the page by the words of the standard, who gets it, and who holds nobody up.
#include <arpa/inet.h>
#include <httplib.h>
#include <sys/socket.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>

#include "serve/reading_board.h"
#include "serve/reading_server.h"
#include "system/secret_file.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace ash::tests;

namespace {

ServedReading served(const std::string& role, Quantity quantity, double value, double stampS = kMissing) {
  ServedReading one;
  one.reading.role = role;
  one.reading.quantity = quantity;
  one.reading.device = "board";
  one.reading.name = "label";
  one.reading.id = "id";
  one.reading.unit = unitOf(quantity);
  one.value = value;
  one.stampS = stampS;
  return one;
}

std::unique_ptr<ReadingServer> serverWith(const std::string& token) {
  ServeOptions options;
  options.port = 0;
  options.token = token;
  auto server =
      ReadingServer::start(options, [] { return metricsPage({served("cpu.temp", Quantity::Temperature, 51.5)}); });
  REQUIRE(server);
  return std::move(*server);
}

httplib::Result get(int port, const std::string& path, const std::string& authorization = "") {
  httplib::Client client("127.0.0.1", port);
  client.set_connection_timeout(5);
  httplib::Headers headers;
  if (!authorization.empty()) headers.emplace("Authorization", authorization);
  return client.Get(path.c_str(), headers);
}

int silentClient(int port) {
  const int socket = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0);
  sockaddr_in there{};
  there.sin_family = AF_INET;
  there.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  there.sin_port = htons(static_cast<uint16_t>(port));
  REQUIRE(connect(socket, reinterpret_cast<sockaddr*>(&there), sizeof there) == 0);
  return socket;
}

}  // namespace

TEST_CASE("aPageHasFamiliesWithTypeUnitAndLabels") {
  const std::string page =
      metricsPage({served("cpu.temp", Quantity::Temperature, 51.5, 1700000000.25),
                   served("cpu.clock", Quantity::Clock, 4200), served("cpu.load", Quantity::Percent, 50),
                   served("cpu.energy", Quantity::Energy, 12.5), served("room.temp", Quantity::Temperature, kMissing)});
  CHECK(page ==
        "# TYPE ash_temperature_celsius gauge\n# UNIT ash_temperature_celsius celsius\n"
        "# HELP ash_temperature_celsius Temperatures.\n"
        "ash_temperature_celsius{role=\"cpu.temp\",device=\"board\",name=\"label\",id=\"id\"} 51.5 1700000000.250\n"
        "# TYPE ash_frequency_hertz gauge\n# UNIT ash_frequency_hertz hertz\n# HELP ash_frequency_hertz Clocks.\n"
        "ash_frequency_hertz{role=\"cpu.clock\",device=\"board\",name=\"label\",id=\"id\"} 4200000000\n"
        "# TYPE ash_energy_joules counter\n# UNIT ash_energy_joules joules\n"
        "# HELP ash_energy_joules Energy drawn since some beginning.\n"
        "ash_energy_joules_total{role=\"cpu.energy\",device=\"board\",name=\"label\",id=\"id\"} 12.5\n"
        "# TYPE ash_ratio gauge\n# UNIT ash_ratio ratio\n# HELP ash_ratio Loads, duties, charges: parts of one.\n"
        "ash_ratio{role=\"cpu.load\",device=\"board\",name=\"label\",id=\"id\"} 0.5\n"
        "# EOF\n");
}

TEST_CASE("everyUnitIsTheEndOfItsFamilysName") {
  std::vector<ServedReading> all;
  for (int quantity = 0; quantity <= static_cast<int>(Quantity::Other); ++quantity)
    all.push_back(served("", static_cast<Quantity>(quantity), 1));
  std::istringstream lines(metricsPage(all));
  int families = 0;
  for (std::string line; std::getline(lines, line);) {
    if (!line.starts_with("# UNIT ")) continue;
    std::istringstream words(line.substr(7));
    std::string name, unit;
    words >> name >> unit;
    ++families;
    CHECK(name.ends_with("_" + unit));
  }
  CHECK(families == static_cast<int>(Quantity::Other) + 1);
}

TEST_CASE("labelsFromAnywhereAreEscaped") {
  ServedReading odd = served("cpu.temp", Quantity::Temperature, 1);
  odd.reading.name = "a\"b\\c\nd";
  CHECK(metricsPage({odd}).find("name=\"a\\\"b\\\\c\\nd\"") != std::string::npos);
}

TEST_CASE("whatWasNotSweptForThreeSecondsIsNotServed") {
  SourceInfo quick, paced;
  quick.readings = {served("cpu.temp", Quantity::Temperature, 0).reading};
  paced.readings = {served("storage.temp", Quantity::Temperature, 0).reading};
  paced.paceS = 10;
  ReadingBoard board({quick, paced});
  CHECK(board.now(100, 1000).empty());
  board.take({{{0, {100, {50}, false}}, {1, {100, {40}, false}}}});
  REQUIRE(board.now(102, 1002).size() == 2);
  CHECK(board.now(102, 1002)[0].stampS == 1000);
  REQUIRE(board.now(104, 1004).size() == 1);  // the slow one has twenty seconds
  CHECK(board.now(104, 1004)[0].value == 40);
}

TEST_CASE("onlyWhoKnowsTheTokenIsAnswered") {
  const auto server = serverWith("open sesame");
  for (const char* wrong : {"", "Bearer", "Bearer open", "Bearer open sesame!", "open sesame", "Basic open sesame"}) {
    const auto refused = get(server->port(), "/metrics", wrong);
    REQUIRE(refused);
    CHECK(refused->status == 401);
    CHECK(refused->get_header_value("WWW-Authenticate") == "Bearer");
    CHECK(refused->body.find("celsius") == std::string::npos);
  }
  CHECK(get(server->port(), "/")->status == 401);
  const auto told = get(server->port(), "/metrics", "Bearer open sesame");
  REQUIRE(told);
  CHECK(told->status == 200);
  CHECK(told->get_header_value("Content-Type") == "application/openmetrics-text; version=1.0.0; charset=utf-8");
  CHECK(told->body.find("} 51.5\n") != std::string::npos);
  CHECK(get(server->port(), "/other", "Bearer open sesame")->status == 404);
}

TEST_CASE("beyondThisMachineATokenIsNeeded") {
  ServeOptions options;
  options.port = 0;
  for (const char* host : {"0.0.0.0", "::", "192.0.2.1", "127.0.0.1.example"}) {
    options.host = host;
    const auto server = ReadingServer::start(options, [] { return std::string(); });
    REQUIRE_FALSE(server);
    CHECK(server.error().message ==
          std::string(host) + " can be reached from other machines: give a token with --token-file.");
  }
  for (const char* host : {"127.0.0.1", "127.9.9.9", "localhost", "::1"}) CHECK(isLoopback(host));
}

TEST_CASE("silentClientsHoldNobodyUp") {
  const auto server = serverWith("");
  std::vector<int> silent;
  for (int i = 0; i < 20; ++i) silent.push_back(silentClient(server->port()));
  const auto begin = std::chrono::steady_clock::now();
  const auto told = get(server->port(), "/metrics");
  REQUIRE(told);
  CHECK(told->status == 200);
  CHECK(std::chrono::steady_clock::now() - begin < std::chrono::duration<double>(1.5 * patience()));
  for (const int socket : silent) close(socket);
}

TEST_CASE("aSecretComesFromAFileOfItsUserAlone") {
  const TempFolder folder;
  const auto fileWith = [&](const std::string& text, std::filesystem::perms mode) {
    const std::string file = folder.path("secret");
    std::filesystem::remove(file);
    std::ofstream(file) << text;
    std::filesystem::permissions(file, mode);
    return file;
  };
  const auto own = std::filesystem::perms::owner_read | std::filesystem::perms::owner_write;
  CHECK(*readSecret(fileWith("  open sesame \nmore", own)) == "open sesame");
  CHECK(readSecret(fileWith("\n", own)).error().message.ends_with("is empty: its first line must be the secret."));
  CHECK(readSecret(fileWith("a\tb", own)).error().message.find("no control characters") != std::string::npos);
  const auto open = readSecret(fileWith("open sesame", own | std::filesystem::perms::others_read));
  CHECK(open.error().message.ends_with("may be read by others; `chmod 600` it."));
  CHECK(open.error().message.find("sesame") == std::string::npos);
  CHECK(readSecret(folder.path("none")).error().message.starts_with("Cannot read "));
}
