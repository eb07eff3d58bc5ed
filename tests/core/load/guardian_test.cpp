// SPDX-License-Identifier: GPL-3.0-or-later
// The guardian's own program, spoken to as guardian.h says: an order in, words and the command's output out.
#include <fcntl.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <optional>
#include <thread>

#include "load/command_load.h"
#include "load/guardian/guardian.h"
#include "model/text.h"
#include "system/clock.h"
#include "system/process_identity.h"
#include "tests/support/temp_folder.h"

using namespace ash;
using namespace std::string_literals;

namespace {

/// A guardian as its load would have it: a socket to it and the output of its command.
class Guardian {
 public:
  Guardian() {
    REQUIRE(socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, m_words) == 0);
    REQUIRE(pipe2(m_output, O_CLOEXEC) == 0);
    // Away from the numbers that it gets them as.
    const int theirWords = fcntl(m_words[1], F_DUPFD_CLOEXEC, 20),
              theirOutput = fcntl(m_output[1], F_DUPFD_CLOEXEC, 20);
    close(m_words[1]);
    close(m_output[1]);
    posix_spawn_file_actions_t files;
    posix_spawn_file_actions_init(&files);
    posix_spawn_file_actions_adddup2(&files, theirOutput, 1);
    posix_spawn_file_actions_adddup2(&files, theirOutput, 2);
    posix_spawn_file_actions_adddup2(&files, theirWords, kGuardianSocket);
    char name[] = "load-guardian";
    char* arguments[] = {name, nullptr};
    REQUIRE(posix_spawn(&m_pid, guardianProgram().c_str(), &files, nullptr, arguments, environ) == 0);
    posix_spawn_file_actions_destroy(&files);
    close(theirWords);
    close(theirOutput);
  }
  ~Guardian() {
    hangUp();
    close(m_output[0]);
    if (m_pid > 0) kill(m_pid, SIGKILL);
    waitForEnd(2);
  }

  void order(const std::string& text) const {
    REQUIRE(send(m_words[0], text.data(), text.size(), MSG_NOSIGNAL) == static_cast<ssize_t>(text.size()));
  }
  /// All that comes until the other side closes, or `patienceS` is over.
  std::string words(double patienceS = 5) const { return readAll(m_words[0], patienceS); }
  std::string output(double patienceS = 5) const { return readAll(m_output[0], patienceS); }
  /// One chunk of output.
  std::string someOutput() const {
    char chunk[256];
    const ssize_t length = read(m_output[0], chunk, sizeof chunk);
    return std::string(chunk, length > 0 ? static_cast<size_t>(length) : 0);
  }
  void hangUp() {
    if (m_words[0] >= 0) close(std::exchange(m_words[0], -1));
  }
  /// Its exit status; nothing when it is still there.
  std::optional<int> waitForEnd(double patienceS) {
    for (const double endS = monotonicS() + patienceS; m_pid > 0 && monotonicS() < endS; usleep(5000)) {
      int status = 0;
      if (waitpid(m_pid, &status, WNOHANG) != m_pid) continue;
      m_pid = 0;
      return status;
    }
    return std::nullopt;
  }
  pid_t pid() const { return m_pid; }

 private:
  static std::string readAll(int file, double patienceS) {
    std::string text;
    const double endS = monotonicS() + patienceS;
    pollfd watched{file, POLLIN, 0};
    while (monotonicS() < endS) {
      if (poll(&watched, 1, 50) <= 0) continue;
      char chunk[4096];
      const ssize_t length = read(file, chunk, sizeof chunk);
      if (length <= 0) break;
      text.append(chunk, static_cast<size_t>(length));
    }
    return text;
  }

  int m_words[2] = {-1, -1}, m_output[2] = {-1, -1};
  pid_t m_pid = 0;
};

bool isGoneWithin(pid_t pid, double patienceS) {
  for (const double endS = monotonicS() + patienceS; monotonicS() < endS; usleep(5000)) {
    if (kill(pid, 0) != 0) return true;
  }
  return false;
}

}  // namespace

TEST_CASE("anOrderIsTextsEndedByNulAndAnEmptyOne") {
  const GuardianOrder order{"echo \"a;b\"\n", "/a folder", {"A=1", "B=x=y"}};
  const std::string text = "echo \"a;b\"\n\0/a folder\0A=1\0B=x=y\0\0"s;
  CHECK(orderText(order) == text);
  const auto back = orderFromText(text);
  REQUIRE(back);
  CHECK(back->command == order.command);
  CHECK(back->folder == order.folder);
  CHECK(back->environment == order.environment);
  for (size_t length = 0; length < text.size(); ++length) CHECK_FALSE(orderFromText(text.substr(0, length)));
}

TEST_CASE("wordsOfAGuardianAreReadAsTheyAreDocumented") {
  const auto began = wordFromText("began 12.5");
  REQUIRE(began);
  CHECK_FALSE(began->hasEnded);
  CHECK(began->atS == 12.5);
  const auto ended = wordFromText("ended 256 1000000.25");
  REQUIRE(ended);
  CHECK(ended->hasEnded);
  CHECK(WEXITSTATUS(ended->status) == 1);
  CHECK(ended->atS == 1000000.25);
  for (const char* none : {"", "begun 1", "ended", "ended x 1", "ended 0", "12.5"}) CHECK_FALSE(wordFromText(none));
}

TEST_CASE("aGuardianRunsItsOrderAndTellsWhenAndHowItEnded") {
  const tests::TempFolder folder;
  Guardian guardian;
  const double startS = monotonicS();
  // In two pieces, as a socket may hand it over.
  const std::string text = "pwd; echo \"$MOOD\"; echo no >&2; exit 3\0"s + folder.path() + "\0MOOD=a b\0\0"s;
  guardian.order(text.substr(0, 7));
  usleep(50000);
  guardian.order(text.substr(7));
  CHECK(guardian.output() == folder.path() + "\na b\nno\n");
  const std::string words = guardian.words();
  const auto lines = splitText(words, '\n');
  REQUIRE(lines.size() >= 2);
  const auto began = wordFromText(std::string(lines[0])), ended = wordFromText(std::string(lines[1]));
  REQUIRE(began);
  REQUIRE(ended);
  CHECK(ended->hasEnded);
  CHECK(WIFEXITED(ended->status));
  CHECK(WEXITSTATUS(ended->status) == 3);
  CHECK(began->atS >= startS);
  CHECK(ended->atS >= began->atS);
  CHECK(ended->atS <= monotonicS());
  CHECK(guardian.waitForEnd(2) == std::optional<int>(0));
}

TEST_CASE("aLoadThatHangsUpEndsTheCommandAndWhatItHides") {
  Guardian guardian;
  guardian.order("setsid sh -c 'trap \"\" TERM; echo $$; while :; do sleep 0.05; done' & wait\0\0\0"s);
  const std::string said = guardian.someOutput();
  const auto hidden = parseNumber(said.substr(0, said.find('\n')));
  REQUIRE(hidden);
  REQUIRE(kill(static_cast<pid_t>(*hidden), 0) == 0);
  guardian.hangUp();
  CHECK(isGoneWithin(static_cast<pid_t>(*hidden), 1.0));
  CHECK(guardian.waitForEnd(1).has_value());
}

TEST_CASE("aGuardianThatIsAskedToEndLeavesNothing") {
  Guardian guardian;
  guardian.order("echo $$; kill -STOP $$; sleep 60\0\0\0"s);  // a stopped command hears no SIGTERM before it goes on
  const std::string said = guardian.someOutput();
  const auto command = parseNumber(said.substr(0, said.find('\n')));
  REQUIRE(command);
  for (int i = 0; i < 500 && isRunning(static_cast<pid_t>(*command)); ++i)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  kill(guardian.pid(), SIGTERM);
  CHECK(guardian.waitForEnd(1.5).has_value());
  CHECK(isGoneWithin(static_cast<pid_t>(*command), 0.1));
}

TEST_CASE("aGuardianWithoutAWholeOrderRunsNothing") {
  const tests::TempFolder folder;
  SECTION("the load dies in the middle of it") {
    Guardian guardian;
    guardian.order("touch " + folder.path("made") + "\0"s);
    guardian.hangUp();
    const auto status = guardian.waitForEnd(2);
    REQUIRE(status);
    CHECK(WEXITSTATUS(*status) == 127);
  }
  SECTION("an order without end") {
    Guardian guardian;
    const std::string filler(32 * 1024, 'a');
    for (int i = 0; i < 4; ++i) guardian.order(filler);
    const auto status = guardian.waitForEnd(2);
    REQUIRE(status);
    CHECK(WEXITSTATUS(*status) == 127);
  }
  CHECK_FALSE(std::filesystem::exists(folder.path("made")));
}

TEST_CASE("aFolderThatIsNotThereEndsAnOrderWithAStatusOfItsOwn") {
  Guardian guardian;
  guardian.order("echo here\0/no/such/folder\0\0"s);
  CHECK(guardian.output().empty());
  const std::string said = guardian.words();
  const auto ended = wordFromText(said.substr(said.find('\n') + 1));
  REQUIRE(ended);
  CHECK(WEXITSTATUS(ended->status) == 126);
}
