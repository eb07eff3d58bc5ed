// SPDX-License-Identifier: GPL-3.0-or-later
// ash-gauge-turn: turns knobs of this machine for people who may, and puts them back when they go. Started by the
// system bus; docs/security.md says what it does and never does.
#include <fmt/format.h>
#include <getopt.h>
#include <sys/signalfd.h>
#include <unistd.h>

#include <cerrno>
#include <csignal>
#include <cstdio>
#include <optional>

#include "helper/drop_rights.h"
#include "helper/turn_bus.h"
#include "knobs/writable.h"
#include "model/text.h"

using namespace ash;

namespace {

constexpr int kDone = 0, kWrongUse = 2, kNotPossible = 3;
constexpr double kIdleS = 60;
constexpr char kUse[] =
    "ash-gauge-turn [--root DIR] [--idle SECONDS] [--put-back | --list | --version | --help]\n"
    "Turns knobs of this machine for who may; started by the system bus (docs/security.md).";

struct Options {
  std::string root;
  double idleS = kIdleS;
  const char* onlySays = nullptr;
  bool onlyPutsBack = false, onlyLists = false;
};

int complain(const std::string& sentence) {
  std::fputs(("ash-gauge-turn: " + sentence + "\n").c_str(), stderr);
  return kNotPossible;
}

std::optional<Options> parse(int argc, char** argv) {
  static const option kAll[] = {{"root", required_argument, nullptr, 'r'},
                                {"idle", required_argument, nullptr, 'i'},
                                {"put-back", no_argument, nullptr, 'p'},
                                {"list", no_argument, nullptr, 'l'},
                                {"version", no_argument, nullptr, 'v'},
                                {"help", no_argument, nullptr, 'h'},
                                {nullptr, 0, nullptr, 0}};
  Options options;
  for (int found = 0; (found = getopt_long(argc, argv, "", kAll, nullptr)) != -1;) {
    if (found == 'r') options.root = optarg;
    if (found == 'p') options.onlyPutsBack = true;
    if (found == 'l') options.onlyLists = true;
    if (found == 'i') {
      const auto seconds = parseNumber(optarg);
      if (!seconds || *seconds <= 0) return std::nullopt;
      options.idleS = *seconds;
    }
    if (found == 'v') options.onlySays = "ash-gauge-turn " ASH_VERSION;
    if (found == 'h') options.onlySays = kUse;
    if (found == '?') return std::nullopt;
  }
  return optind == argc ? std::optional(options) : std::nullopt;
}

int list() {
  for (const WritableFile& one : writableFiles())
    std::puts(fmt::format("/{}…/{}/{}: {}", one.below, one.folder, one.name, one.what).c_str());
  return kDone;
}

int putBack(const std::string& root) {
  const std::string sentence = putBackLeft(root);
  if (!sentence.empty()) std::puts(sentence.c_str());
  return kDone;
}

// SIGTERM and SIGINT are looked for between two looks at the bus.
int openSignals() {
  sigset_t signals;
  sigemptyset(&signals);
  sigaddset(&signals, SIGTERM);
  sigaddset(&signals, SIGINT);
  sigprocmask(SIG_BLOCK, &signals, nullptr);
  return signalfd(-1, &signals, SFD_NONBLOCK | SFD_CLOEXEC);
}

int serve(const Options& options) {
  const int signals = openSignals();
  if (signals < 0) return complain(Error::io("listen for", "signals", errno).message);
  // What an earlier one has left: it was killed, or the machine was.
  putBack(options.root);
  TurnService service(options.root);
  auto bus = TurnBus::open(service);
  if (!bus) return complain(bus.error().message);
  const auto isAsked = [signals] {
    signalfd_siginfo one;
    return read(signals, &one, sizeof one) == sizeof one;
  };
  Status served = (*bus)->serve(isAsked, options.idleS);
  return served ? kDone : complain(served.error().message);
}

}  // namespace

int main(int argc, char** argv) {
  const auto options = parse(argc, argv);
  if (!options) {
    std::fputs(kUse, stderr);
    std::fputs("\n", stderr);
    return kWrongUse;
  }
  if (options->onlySays != nullptr) return std::puts(options->onlySays) < 0 ? kNotPossible : kDone;
  if (options->onlyLists) return list();
  if (Status dropped = dropRights(); !dropped) return complain(dropped.error().message);
  if (options->onlyPutsBack) return putBack(options->root);
  return serve(*options);
}
