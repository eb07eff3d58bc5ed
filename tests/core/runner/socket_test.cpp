// SPDX-License-Identifier: GPL-3.0-or-later
// The run's socket under listeners of every kind.
#include "runner/run_socket.h"

#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/un.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <cerrno>
#include <cstring>
#include <thread>

#include "system/clock.h"
#include "tests/support/patience.h"
#include "tests/support/temp_folder.h"

using namespace ash;

namespace {

/// A listener without any manners: raw bytes over the socket.
class RawListener {
 public:
  explicit RawListener(const std::string& path) : m_descriptor(socket(AF_UNIX, SOCK_STREAM, 0)) {
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    std::strncpy(address.sun_path, path.c_str(), sizeof address.sun_path - 1);
    isConnected = connect(m_descriptor, reinterpret_cast<sockaddr*>(&address), sizeof address) == 0;
    const timeval patience{2, 0};
    setsockopt(m_descriptor, SOL_SOCKET, SO_RCVTIMEO, &patience, sizeof patience);
  }
  ~RawListener() { close(m_descriptor); }

  void send(const std::string& bytes) {
    isConnected = ::send(m_descriptor, bytes.data(), bytes.size(), MSG_NOSIGNAL) >= 0;
  }
  /// The next line; empty when none comes within two seconds or the other side has closed.
  std::string line() {
    while (m_buffer.find('\n') == std::string::npos) {
      char chunk[4096];
      const ssize_t length = recv(m_descriptor, chunk, sizeof chunk, 0);
      if (length <= 0) return {};
      m_buffer.append(chunk, static_cast<size_t>(length));
    }
    const size_t end = m_buffer.find('\n');
    std::string text = m_buffer.substr(0, end);
    m_buffer.erase(0, end + 1);
    return text;
  }
  std::string type() {
    const Json message = Json::parse(line(), nullptr, false);
    return message.is_object() ? message.value("type", "") : "";
  }

  bool isConnected = false;

 private:
  int m_descriptor;
  std::string m_buffer;
};

struct OpenSocket : tests::TempFolder {
  OpenSocket() {
    auto opened = RunSocket::open(path("r.sock"), {{"type", "run"}, {"run", "r1"}});
    if (!opened) FAIL(opened.error().message);
    socket = std::move(*opened);
  }
  std::vector<Json> wishes(size_t count) {
    std::vector<Json> all;
    const double startS = monotonicS();
    while (all.size() < count && monotonicS() - startS < 3) {
      for (Json& wish : socket->takeWishes()) all.push_back(std::move(wish));
      std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
    return all;
  }
  std::unique_ptr<RunSocket> socket;
};

}  // namespace

TEST_CASE("whoAttachesLateHearsWhereTheRunStands") {
  OpenSocket open;
  open.socket->tell({{"type", "phase"}, {"index", 0}}, true);
  open.socket->tell({{"type", "phase"}, {"index", 1}}, true);
  open.socket->tell({{"type", "samples"}, {"t", 1.5}});
  open.socket->tell({{"type", "event"}, {"text", "gone by"}});
  RawListener listener(open.path("r.sock"));
  CHECK(listener.type() == "run");
  CHECK(Json::parse(listener.line())["index"] == 1);  // one of each sticky type, the newest
  CHECK(Json::parse(listener.line())["t"] == 1.5);    // samples of the last seconds
  open.socket->tell({{"type", "event"}, {"text", "now"}});
  CHECK(Json::parse(listener.line())["text"] == "now");
}

TEST_CASE("theSocketIsItsUsersOwn") {
  const OpenSocket open;
  struct stat info {};
  REQUIRE(stat(open.path("r.sock").c_str(), &info) == 0);
  CHECK((info.st_mode & 0777) == 0600);
}

TEST_CASE("wishesComeInOrderAndAnswersGoToWhoAsked") {
  OpenSocket open;
  RawListener one(open.path("r.sock")), other(open.path("r.sock"));
  one.type();
  other.type();
  one.send("{\"do\":\"note\",\"text\":\"a\"}\n{\"do\":\"note\",\"text\":\"b\"}\n");
  const auto wishes = open.wishes(2);
  REQUIRE(wishes.size() == 2);
  CHECK(wishes[0]["text"] == "a");
  CHECK(wishes[1]["text"] == "b");
  open.socket->answer(wishes[0]["client"], {{"type", "answer"}, {"ok", true}});
  CHECK(one.type() == "answer");
  open.socket->tell({{"type", "event"}});
  CHECK(other.type() == "event");  // and not the answer
}

TEST_CASE("rubbishIsAnsweredAndNeverKeepsTheRunFromGoingOn") {
  OpenSocket open;
  RawListener listener(open.path("r.sock"));
  listener.type();
  for (const char* rubbish : {"hello\n", "[1,2]\n", "\"stop\"\n", "{\"do\":\n", "\xFF\xFE\n", "\n"})
    listener.send(rubbish);
  for (int i = 0; i < 6; ++i) CHECK(Json::parse(listener.line())["ok"] == false);
  CHECK(open.socket->takeWishes().empty());
  // A line without an end is cut off at 64 KiB.
  RawListener endless(open.path("r.sock"));
  endless.type();
  endless.send(std::string(100'000, 'x'));
  CHECK(endless.line().empty());
  listener.send("{\"do\":\"stop\"}\n");
  CHECK(open.wishes(1).size() == 1);
}

TEST_CASE("aListenerThatTakesNothingDelaysNobody") {
  OpenSocket open;
  RawListener awake(open.path("r.sock"));
  awake.type();
  const Json large = {{"type", "event"}, {"text", std::string(1'000'000, 'x')}};
  const auto tellS = [&] {
    const double startS = monotonicS();
    for (int i = 0; i < 8; ++i) {
      open.socket->tell(large);
      CHECK(awake.type() == "event");
    }
    return monotonicS() - startS;
  };
  const double aloneS = tellS();
  RawListener asleep(open.path("r.sock"));
  // As quick as without it, but for what a busy machine may add.
  CHECK(tellS() < 4 * aloneS + 2);
}

TEST_CASE("theOutcomeStillArrivesWhenTheSocketCloses") {
  OpenSocket open;
  RawListener listener(open.path("r.sock"));
  listener.type();
  open.socket->tell({{"type", "outcome"}, {"outcome", "completed"}}, true);
  open.socket->close();
  CHECK(listener.type() == "outcome");
  CHECK(listener.line().empty());
  CHECK_FALSE(std::filesystem::exists(open.path("r.sock")));
}

TEST_CASE("anImpossiblePathIsToldOf") {
  const auto tooLong = RunSocket::open("/tmp/" + std::string(200, 'x') + ".sock", Json::object());
  REQUIRE_FALSE(tooLong);
  CHECK(tooLong.error().message.find("too long") != std::string::npos);
  CHECK_FALSE(RunSocket::open("/no/such/folder/r.sock", Json::object()));
}

TEST_CASE("aSocketThatCouldNotTakeAListenerTakesTheNext") {
  OpenSocket open;
  // No descriptor is left for whoever attaches now.
  std::vector<int> all;
  RawListener early(open.path("r.sock"));
  CHECK(early.type() == "run");
  int waiting = socket(AF_UNIX, SOCK_STREAM, 0);
  rlimit before{};
  REQUIRE(getrlimit(RLIMIT_NOFILE, &before) == 0);
  const rlimit few{128, before.rlim_max};
  REQUIRE(setrlimit(RLIMIT_NOFILE, &few) == 0);
  for (int one = dup(0); one >= 0; one = dup(0)) all.push_back(one);
  REQUIRE(errno == EMFILE);
  sockaddr_un address{};
  address.sun_family = AF_UNIX;
  std::strncpy(address.sun_path, open.path("r.sock").c_str(), sizeof address.sun_path - 1);
  CHECK(connect(waiting, reinterpret_cast<sockaddr*>(&address), sizeof address) == 0);
  std::this_thread::sleep_for(std::chrono::milliseconds(300));
  for (const int one : all) close(one);
  setrlimit(RLIMIT_NOFILE, &before);
  char first = 0;
  const timeval patience{3, 0};
  setsockopt(waiting, SOL_SOCKET, SO_RCVTIMEO, &patience, sizeof patience);
  CHECK(recv(waiting, &first, 1, 0) == 1);  // it is welcomed once there is room again
  close(waiting);
  RawListener late(open.path("r.sock"));
  CHECK(late.type() == "run");
}

TEST_CASE("whoAsksWithoutEndIsAnsweredAndFillsNoMemory") {
  OpenSocket open;
  RawListener listener(open.path("r.sock"));
  listener.type();
  for (int i = 0; i < 1500; ++i) listener.send("{\"do\":\"note\",\"text\":\"x\"}\n");
  // The first that is refused.
  CHECK(Json::parse(listener.line())["why"] == "Too much is asked for at once.");
  CHECK(open.socket->takeWishes().size() == 1000);
  listener.send("{\"do\":\"stop\"}\n");
  bool isHeard = false;
  for (const Json& wish : open.wishes(1)) isHeard |= wish["do"] == "stop" || wish["do"] == "note";
  CHECK(isHeard);
}
