// SPDX-License-Identifier: GPL-3.0-or-later
// What stands behind one reading: a number of the kernel, a rate made of a counter, a part of a text, or something
// computed from the others of its source.
#pragma once

#include <functional>
#include <memory>
#include <string>
#include <vector>

#include "model/reading.h"
#include "readings/gauges/sysfs_file.h"

namespace ash {

/// The moment of a sweep, the same for all gauges of a source.
struct Moment {
  double nowS = 0;                              ///< CLOCK_BOOTTIME when the sweep began
  long long number = 0;                         ///< of the sweep, counted from 1
  const std::vector<double>* values = nullptr;  ///< what the gauges before this one have read in this sweep
};

class Gauge {
 public:
  Gauge() = default;
  Gauge(const Gauge&) = delete;
  Gauge& operator=(const Gauge&) = delete;
  virtual ~Gauge() = default;

  /// The value now in the stored unit; NaN = missing.
  virtual double read(const Moment& moment) = 0;
  /// Why the last read() gave nothing, as words for a person; empty when nothing is to be said.
  virtual std::string whyMissing() const { return {}; }
  /// True when what it reads is no longer there (unplugged, module unloaded, CPU taken off line).
  virtual bool isGone() const { return false; }
  /// True when it reads a file of the device (so that it can tell whether the device is there).
  virtual bool readsAFile() const { return true; }
  /// The device has come back and its files stand in another folder now.
  virtual void moveTo(const std::string& before, const std::string& now) {
    static_cast<void>(before);
    static_cast<void>(now);
  }
};

/// Why a kernel file gave no number: errno of the attempt (0 = it was read, but holds none).
std::string whyUnreadable(int error);

/// A file with one integer. Values that its quantity cannot have are missing, and so is a temperature that jumps
/// further than heat can until a second one confirms it (plausible.h).
class FileGauge : public Gauge {
 public:
  /// Stored unit = kernel integer / `divisor` (a division keeps 87850 / 1000 at 87.85).
  FileGauge(std::string path, Quantity quantity, double divisor)
      : m_file(std::move(path)), m_quantity(quantity), m_divisor(divisor) {}
  double read(const Moment& moment) override;
  std::string whyMissing() const override;
  bool isGone() const override;
  void moveTo(const std::string& before, const std::string& now) override;

 private:
  SysfsFile m_file;
  Quantity m_quantity;
  double m_divisor;
  double m_before = kMissing;
  double m_withheld = kMissing;
  bool m_hadNumber = false;
  int64_t m_raw = 0;
};

/// A counter that only grows, in the stored unit. `range` is what it counts up to before it begins at zero again (the
/// last value it can hold, plus one step); 0 = it does not wrap, and a fall means that it was reset.
class Counter {
 public:
  Counter(double range, double mostPerS) : m_range(range), m_mostPerS(mostPerS) {}

  /// Takes the counter's value at a time (CLOCK_BOOTTIME). After a sleep of the machine, a reset, or when more than one
  /// wrap may have passed, the count begins anew and rate() is missing.
  void take(double value, double timeS, double sleptS);
  /// Growth per second between the last two values that lie at least `leastS` apart; missing where there is none yet.
  double rate() const { return m_rate; }
  /// The first value plus all growth since: it goes on over every wrap.
  double total() const { return m_total; }

 private:
  static constexpr double kLeastS = 0.05;  // a counter that the kernel renews every millisecond
  double m_range, m_mostPerS;
  double m_total = kMissing;
  double m_last = kMissing;
  double m_baseTotal = kMissing, m_baseS = 0;
  double m_sleptS = 0;
  double m_rate = kMissing;
};

/// The counter of a file, read once in a sweep; shared by the gauge that shows its count and the one of its rate.
class CounterFile {
 public:
  CounterFile(std::string path, double divisor, double range, double mostPerS)
      : m_file(std::move(path)), m_divisor(divisor), m_counter(range, mostPerS) {}
  void refresh(const Moment& moment);
  const Counter& counter() const { return m_counter; }
  bool isThere() const { return m_isThere; }
  SysfsFile& file() { return m_file; }

 private:
  SysfsFile m_file;
  double m_divisor;
  Counter m_counter;
  bool m_isThere = false;
  long long m_sweep = 0;
};

/// The count, or its growth per second.
class CounterGauge : public Gauge {
 public:
  enum class Shows { Total, Rate };
  CounterGauge(std::shared_ptr<CounterFile> counter, Shows shows, double factor = 1)
      : m_counter(std::move(counter)), m_shows(shows), m_factor(factor) {}
  double read(const Moment& moment) override;
  std::string whyMissing() const override;
  bool isGone() const override;
  void moveTo(const std::string& before, const std::string& now) override;

 private:
  std::shared_ptr<CounterFile> m_counter;
  Shows m_shows;
  double m_factor;
};

/// A number in a text of its own file, told by `parse` (NaN = none).
class TextGauge : public Gauge {
 public:
  using Parse = std::function<double(const std::string&)>;
  TextGauge(std::string path, Parse parse) : m_file(std::move(path)), m_parse(std::move(parse)) {}
  double read(const Moment& moment) override;
  std::string whyMissing() const override;
  bool isGone() const override;

 private:
  SysfsFile m_file;
  Parse m_parse;
};

/// Computed from what the gauges before it have read.
class ComputedGauge : public Gauge {
 public:
  using Compute = std::function<double(const Moment&)>;
  explicit ComputedGauge(Compute compute) : m_compute(std::move(compute)) {}
  double read(const Moment& moment) override { return m_compute(moment); }
  bool readsAFile() const override { return false; }

 private:
  Compute m_compute;
};

/// Highest and mean of some values of the sweep, missing ones left out; missing when all are.
double highestOf(const std::vector<double>& values, const std::vector<size_t>& which);
double meanOf(const std::vector<double>& values, const std::vector<size_t>& which);

}  // namespace ash
