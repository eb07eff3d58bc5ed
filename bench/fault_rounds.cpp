// SPDX-License-Identifier: GPL-3.0-or-later
// Rounds of random kills, hangs and stops over recorder, load and window: fault_rounds ASHG WINDOW [ROUNDS] [SEED].
// WINDOW is ash-gauge, or "none". Every other round loads with a command whose descendants hide: in a session of their
// own, handed to another parent, deaf to SIGTERM. Prints one summary line; exit 1 when a goal is missed: no more than
// 1 s of samples lost, nothing of a load left running 1 s after it should be gone, no unsound book.
#include <fcntl.h>
#include <fmt/format.h>
#include <signal.h>
#include <sys/socket.h>
#include <sys/un.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <random>
#include <string>
#include <thread>
#include <vector>

#include "book/book.h"
#include "runner/interrupted.h"
#include "system/clock.h"
#include "system/process_identity.h"

namespace fs = std::filesystem;
using namespace ash;

namespace {

void pause(double seconds) { std::this_thread::sleep_for(std::chrono::duration<double>(seconds)); }

template <typename F>
bool waitUntil(F condition, double patienceS) {
  for (const double endS = monotonicS() + patienceS; monotonicS() < endS; pause(0.005)) {
    if (condition()) return true;
  }
  return condition();
}

pid_t start(const std::vector<std::string>& arguments) {
  const pid_t child = fork();
  if (child != 0) return child;
  const int nothing = open("/dev/null", O_RDWR);
  for (const int stream : {0, 1, 2}) dup2(nothing, stream);
  std::vector<char*> raw;
  for (const std::string& argument : arguments) raw.push_back(const_cast<char*>(argument.c_str()));
  raw.push_back(nullptr);
  execv(raw[0], raw.data());
  _exit(127);
}

/// Processes whose parent is `pid` ("load" of a recorder).
std::vector<pid_t> childrenOf(pid_t pid) {
  std::ifstream file(fmt::format("/proc/{0}/task/{0}/children", pid));
  std::vector<pid_t> children;
  for (pid_t child = 0; file >> child;) children.push_back(child);
  return children;
}

bool isGone(pid_t pid) {
  std::ifstream file(fmt::format("/proc/{}/stat", pid));
  std::string text;
  if (!std::getline(file, text)) return true;
  const size_t end = text.rfind(')');
  return end == std::string::npos || text.compare(end + 1, 2, " Z") == 0;
}

/// Listens to a run and remembers the last sample it was told.
class Listener {
 public:
  explicit Listener(const std::string& path) {
    m_socket = socket(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0);
    sockaddr_un address{};
    address.sun_family = AF_UNIX;
    path.copy(address.sun_path, sizeof address.sun_path - 1);
    m_isOpen = connect(m_socket, reinterpret_cast<sockaddr*>(&address), sizeof address) == 0;
    fcntl(m_socket, F_SETFL, O_NONBLOCK);
  }
  ~Listener() { close(m_socket); }
  Listener(const Listener&) = delete;
  Listener& operator=(const Listener&) = delete;
  bool isOpen() const { return m_isOpen; }

  /// Takes in what has come; the time of the last sample up to now.
  double lastSampleS() {
    char chunk[65536];
    for (ssize_t length = read(m_socket, chunk, sizeof chunk); length > 0; length = read(m_socket, chunk, sizeof chunk))
      m_buffer.append(chunk, static_cast<size_t>(length));
    for (size_t end = m_buffer.find('\n'); end != std::string::npos; end = m_buffer.find('\n')) {
      const Json message = parseQuietly(m_buffer.substr(0, end));
      if (valueIn(message, "type", "") == "samples") m_lastS = std::max(m_lastS, valueIn(message, "t", 0.0));
      m_buffer.erase(0, end + 1);
    }
    return m_lastS;
  }

 private:
  int m_socket;
  bool m_isOpen;
  std::string m_buffer;
  double m_lastS = 0;
};

struct Tally {
  int rounds = 0, unsound = 0, leftLoads = 0, leftHidden = 0, hidingRounds = 0, noStart = 0;
  double mostLostS = 0, slowestLoadS = 0, slowestHiddenS = 0;
  std::map<std::string, int> outcomes, deeds;
};

class Rounds {
 public:
  Rounds(std::string ashg, std::string window, unsigned seed)
      : m_ashg(std::move(ashg)), m_windowProgram(std::move(window)), m_random(seed) {
    std::string pattern = (fs::temp_directory_path() / "ash-faults-XXXXXX").string();
    m_folder = mkdtemp(pattern.data());
    for (const char* name : {"run", "root/sys/class/hwmon/hwmon0", "root/proc", "home"})
      fs::create_directories(m_folder + "/" + name);
    fs::permissions(m_folder + "/run", fs::perms::owner_all);
    std::ofstream(m_folder + "/root/sys/class/hwmon/hwmon0/name") << "k10temp\n";
    std::ofstream(m_folder + "/root/sys/class/hwmon/hwmon0/temp1_input") << "45000\n";
    std::ofstream(m_folder + "/root/proc/stat") << "cpu  100 0 100 800 0 0 0 0 0 0\n";
    setenv("XDG_RUNTIME_DIR", (m_folder + "/run").c_str(), 1);
    setenv("HOME", (m_folder + "/home").c_str(), 1);
    setenv("XDG_CONFIG_HOME", (m_folder + "/home/.config").c_str(), 1);
    setenv("QT_QPA_PLATFORM", "offscreen", 1);
  }
  ~Rounds() {
    endWindow();
    std::error_code error;
    fs::remove_all(m_folder, error);
  }
  Rounds(const Rounds&) = delete;
  Rounds& operator=(const Rounds&) = delete;

  void round() {
    ++tally.rounds;
    const std::string book = fmt::format("{}/b{}.ashbook", m_folder, tally.rounds / 20);
    if (tally.rounds % 20 == 0) endWindow();
    const std::string id = fmt::format("round{}", tally.rounds);
    m_pids = tally.rounds % 2 == 0 ? m_folder + "/pids-" + id : std::string();
    std::vector<std::string> arguments = {m_ashg,       "run",
                                          "--book",     book,
                                          "--study",    "s",
                                          "--setup",    "x",
                                          "--root",     m_folder + "/root",
                                          "--run-id",   id,
                                          "--interval", "0.05",
                                          "--phases",   "idle 150ms, soak 60s, cool 200ms"};
    if (m_pids.empty())
      arguments.insert(arguments.end(), {"--threads", "1", "--duty", "20"});
    else
      arguments.insert(arguments.end(), {"--load", hidingLoad()});
    const pid_t recorder = start(arguments);
    const std::string socketPath = m_folder + "/run/ash-gauge/runs/" + id + ".sock";
    const bool isUp = waitUntil([&] { return fs::exists(socketPath); }, 10);
    pause(0.02);  // its name is there a moment before it listens
    Listener listener(socketPath);
    waitUntil([&] { return !childrenOf(recorder).empty(); }, 5);
    const auto loads = childrenOf(recorder);
    const bool hides = m_pids.empty() || waitUntil([&] { return hidden().size() == 3; }, 5);
    tally.hidingRounds += !m_pids.empty();
    if (!isUp || !listener.isOpen() || loads.empty() || !hides) {
      ++tally.noStart;
      kill(recorder, SIGKILL);
      waitpid(recorder, nullptr, 0);
      return;
    }
    keepWindow(book);
    pause(std::uniform_real_distribution<double>(0, 1.2)(m_random));
    doDeed(recorder, loads[0], listener);
    watchLoad(loads[0]);
    watchHidden();
    waitpid(recorder, nullptr, 0);
    judge(book, id);
  }

  Tally tally;

 private:
  // One of the three dies, hangs or is asked to stop; in the end the recorder is gone.
  void doDeed(pid_t recorder, pid_t load, Listener& listener) {
    const char* names[] = {"recorder killed",
                           "recorder hangs",
                           "recorder told to stop",
                           "load killed",
                           "load hangs",
                           "window killed",
                           "window hangs",
                           "window told to stop",
                           "recorder and load killed",
                           "all three killed",
                           "load and window killed"};
    const size_t deed = m_random() % std::size(names);
    ++tally.deeds[names[deed]];
    m_loadMustGoFromS = 0;
    const auto endRecorder = [&] {
      m_toldS = listener.lastSampleS();
      kill(recorder, SIGKILL);
      m_loadMustGoFromS = monotonicS();
    };
    switch (deed) {
      case 0:
        return endRecorder();
      case 1:
        m_toldS = listener.lastSampleS();
        kill(recorder, SIGSTOP);
        m_loadMustGoFromS = monotonicS();
        watchLoad(load);
        kill(recorder, m_random() % 2 == 0 ? SIGCONT : SIGKILL);
        return;
      case 2:
        m_toldS = listener.lastSampleS();
        kill(recorder, m_random() % 2 == 0 ? SIGTERM : SIGINT);
        m_loadMustGoFromS = monotonicS();
        return;
      case 3:
        m_toldS = listener.lastSampleS();
        kill(load, SIGKILL);
        return;
      case 4:
        kill(load, SIGSTOP);
        pause(0.3);
        return endRecorder();
      case 8:
        kill(load, SIGKILL);
        return endRecorder();
      case 9:
        if (m_window > 0) kill(m_window, SIGKILL);
        kill(load, SIGKILL);
        return endRecorder();
      case 10:
        m_toldS = listener.lastSampleS();
        if (m_window > 0) kill(m_window, SIGKILL);
        kill(load, SIGKILL);
        return;
      default:
        if (m_window > 0) kill(m_window, deed == 5 ? SIGKILL : deed == 6 ? SIGSTOP : SIGTERM);
        pause(0.4);
        if (deed == 6 && m_window > 0) kill(m_window, m_random() % 2 == 0 ? SIGCONT : SIGKILL);
        return endRecorder();
    }
  }

  void watchLoad(pid_t load) {
    const bool went = waitUntil([&] { return isGone(load); }, 3);
    const double tookS = m_loadMustGoFromS > 0 ? monotonicS() - m_loadMustGoFromS : 0;
    tally.slowestLoadS = std::max(tally.slowestLoadS, tookS);
    if (!went) kill(load, SIGKILL);
    if (!went || tookS > 1) ++tally.leftLoads;
    m_loadMustGoFromS = 0;
  }

  // Three processes that write their numbers down: one in a session of its own and deaf, one handed to another parent,
  // and the command itself.
  std::string hidingLoad() const {
    const std::string script = m_folder + "/hide.sh";
    std::ofstream(script) << "(setsid sh -c 'trap \"\" TERM HUP INT; echo $$ >>" << m_pids
                          << "; while :; do sleep 0.05; done' &) &\n(sh -c '(sh -c \"echo \\$\\$ >>" << m_pids
                          << "; while :; do sleep 0.05; done\" &) &' &) &\necho $$ >>" << m_pids
                          << "; while :; do sleep 0.05; done\n";
    return "command command='sh " + script + "'";
  }
  std::vector<pid_t> hidden() const {
    std::ifstream file(m_pids);
    std::vector<pid_t> pids;
    for (pid_t pid = 0; file >> pid;) pids.push_back(pid);
    return pids;
  }
  // Counted from the end of the deed: whoever is left must end them.
  void watchHidden() {
    if (m_pids.empty()) return;
    const double startS = monotonicS();
    const auto areGone = [&] {
      const auto pids = hidden();
      return std::all_of(pids.begin(), pids.end(), [](pid_t pid) { return isGone(pid); });
    };
    const bool went = waitUntil(areGone, 3);
    const double tookS = monotonicS() - startS;
    tally.slowestHiddenS = std::max(tally.slowestHiddenS, tookS);
    if (!went || tookS > 1) ++tally.leftHidden;
    for (const pid_t pid : hidden()) kill(pid, SIGKILL);
    fs::remove(m_pids);
  }

  void judge(const std::string& path, const std::string& id) {
    auto book = Book::open(path, BookAccess::ReadWrite);
    const auto faults = book ? book->check() : Result<std::vector<std::string>>(book.error());
    if (!faults || !faults->empty()) ++tally.unsound;
    if (!book) return;
    static_cast<void>(closeInterrupted(*book));
    const auto run = book->run(id);
    const auto log = book->readRun(id);
    if (!run || !log || run->info.outcome == Outcome::Running) {
      ++tally.unsound;
      return;
    }
    ++tally.outcomes[std::string(outcomeText(run->info.outcome))];
    const double keptS = std::isfinite(run->lastSampleS) ? run->lastSampleS : 0;
    tally.mostLostS = std::max(tally.mostLostS, m_toldS - keptS);
  }

  void keepWindow(const std::string& book) {
    if (m_windowProgram == "none") return;
    if (m_window > 0 && waitpid(m_window, nullptr, WNOHANG) == m_window) m_window = 0;
    if (m_window == 0) m_window = start({m_windowProgram, book});
  }
  void endWindow() {
    if (m_window <= 0) return;
    kill(m_window, SIGKILL);
    waitpid(m_window, nullptr, 0);
    m_window = 0;
  }

  std::string m_ashg, m_windowProgram, m_folder;
  std::string m_pids;  // of a round whose command hides; empty in the others
  std::mt19937 m_random;
  pid_t m_window = 0;
  double m_toldS = 0, m_loadMustGoFromS = 0;
};

}  // namespace

int main(int argc, char** argv) {
  if (argc < 3) {
    std::fprintf(stderr, "fault_rounds ASHG WINDOW|none [ROUNDS] [SEED]\n");
    return 2;
  }
  const int count = argc > 3 ? std::atoi(argv[3]) : 100;
  Rounds rounds(fs::canonical(argv[1]).string(),
                std::string(argv[2]) == "none" ? "none" : fs::canonical(argv[2]).string(),
                argc > 4 ? static_cast<unsigned>(std::atoi(argv[4])) : 1);
  for (int i = 0; i < count; ++i) rounds.round();
  const Tally& tally = rounds.tally;
  std::string detail;
  for (const auto* counts : {&tally.deeds, &tally.outcomes}) {
    detail += "; ";
    for (const auto& [name, number] : *counts) detail += fmt::format("{} {}, ", number, name);
    detail.resize(detail.size() - 2);
  }
  std::printf(
      "%s\n",
      fmt::format(
          "{} rounds: at most {:.2f} s of samples lost, {} loads left running (slowest gone after {:.2f} s), {} "
          "of {} hiding commands left something running (slowest gone after {:.2f} s), {} unsound books, {} did "
          "not start{}",
          tally.rounds, tally.mostLostS, tally.leftLoads, tally.slowestLoadS, tally.leftHidden, tally.hidingRounds,
          tally.slowestHiddenS, tally.unsound, tally.noStart, detail)
          .c_str());
  return tally.mostLostS > 1 || tally.leftLoads > 0 || tally.leftHidden > 0 || tally.unsound > 0 ? 1 : 0;
}
