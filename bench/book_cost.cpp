// SPDX-License-Identifier: GPL-3.0-or-later
// What keeping a run costs on this drive: book_cost FOLDER [READINGS] [SECONDS]. Ten commits and one sync a second, as
// the recorder does it; prints milliseconds of a commit and of a sync, and bytes written for each reading and sample.
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>
#include <thread>
#include <vector>

#include "book/run_writer.h"
#include "system/clock.h"

using namespace ash;

namespace {

double writtenBytes() {
  std::ifstream file("/proc/self/io");
  std::string key;
  double value = 0;
  while (file >> key >> value) {
    if (key == "write_bytes:") return value;
  }
  return 0;
}

std::string spread(std::vector<double> seconds) {
  std::sort(seconds.begin(), seconds.end());
  const auto at = [&](double share) { return 1e3 * seconds[static_cast<size_t>(share * double(seconds.size() - 1))]; };
  return fmt::format("median {:.2f}, 95 % below {:.2f}, most {:.2f} ms", at(0.5), at(0.95), at(1));
}

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  const std::string path = std::string(argv[1]) + "/cost.ashbook";
  const int readings = argc > 2 ? std::atoi(argv[2]) : 200;
  const int seconds = argc > 3 ? std::atoi(argv[3]) : 30;
  SourceInfo source;
  source.id = "a";
  source.readings.resize(static_cast<size_t>(readings));
  RunInfo info;
  info.study = info.setup = info.load = "x";
  if (!Book::create(path)->ensurePlace("x", {"x"}, {"x"})) return 1;
  auto writer = RunWriter::begin(path, info, {source});
  if (!writer) return 1;
  const double before = writtenBytes();
  std::vector<double> commits, syncs;
  const std::vector<double> values(static_cast<size_t>(readings), 45.5);
  for (int tick = 0; tick < 10 * seconds; ++tick) {
    writer->addSweep(0, 0.1 * tick, values);
    double startS = monotonicS();
    if (!writer->commit()) return 1;
    commits.push_back(monotonicS() - startS);
    startS = monotonicS();
    if (tick % 10 == 9) {
      if (!writer->syncLog()) return 1;
      syncs.push_back(monotonicS() - startS);
    }
    std::this_thread::sleep_for(std::chrono::milliseconds(100));
  }
  const double perSample = (writtenBytes() - before) / (10.0 * seconds * readings);
  if (!writer->finish(Outcome::Completed, "")) return 1;
  std::printf("%s\n", fmt::format("{} readings at 10 Hz for {} s: commit {}; sync {}; {:.1f} bytes written for each "
                                  "reading and sample, {:.1f} in the finished book",
                                  readings, seconds, spread(commits), spread(syncs), perSample,
                                  double(std::filesystem::file_size(path)) / (10.0 * seconds * readings))
                          .c_str());
  for (const char* ending : {"", "-wal", "-shm"}) std::filesystem::remove(path + ending);
  return 0;
}
