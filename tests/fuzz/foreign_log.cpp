// SPDX-License-Identifier: GPL-3.0-or-later
// A foreign log is refused with a sentence or read to its end: rows are as wide as was said, and time never goes back.
#include <sys/mman.h>
#include <unistd.h>

#include "intake/foreign_log.h"
#include "tests/fuzz/fuzz.h"

using namespace ash;

namespace {

class Checked : public LogSink {
 public:
  Status begin(const LogFacts&, const std::vector<PlannedColumn>& columns) override {
    m_width = columns.size();
    return {};
  }
  Status row(double timeS, const std::vector<double>& values) override {
    fuzz::mustHold(values.size() == m_width && timeS >= m_lastS);
    m_lastS = timeS;
    return {};
  }
  Status event(const Event& event) override {
    fuzz::mustHold(!event.text.empty());
    return {};
  }

 private:
  size_t m_width = 0;
  double m_lastS = -1e-6;
};

}  // namespace

int LLVMFuzzerTestOneInput(const uint8_t* data, size_t size) {
  const int file = memfd_create("log", MFD_CLOEXEC);
  if (write(file, data, size) != static_cast<ssize_t>(size)) return 0;
  Checked sink;
  const auto facts = readForeignLog("/proc/self/fd/" + std::to_string(file), {}, &sink);
  if (facts)
    fuzz::mustHold(facts->rows >= 2 && !factsToJson(*facts).dump().empty());
  else
    fuzz::mustHold(!facts.error().message.empty());
  close(file);
  return 0;
}
