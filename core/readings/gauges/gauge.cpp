// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/gauges/gauge.h"

#include <fmt/format.h>

#include <cerrno>
#include <cmath>
#include <cstring>

#include "readings/gauges/plausible.h"
#include "system/clock.h"

namespace ash {
namespace {

bool isGoneError(int error) { return error == ENOENT || error == ENODEV || error == ENXIO; }

std::string movedPath(const std::string& path, const std::string& before, const std::string& now) {
  return path.starts_with(before + "/") ? now + path.substr(before.size()) : path;
}

}  // namespace

// docs/linux-readings.md, "Errors seen on open/read and what they mean".
std::string whyUnreadable(int error) {
  switch (error) {
    case 0:
      return "holds no number";
    case EACCES:
    case EPERM:
      return "needs rights: only root may read it; `ashg readings --rights` tells how to let others";
    case ENODATA:
      return "the device gives nothing now (switched off or powered down)";
    case EAGAIN:
    case EBUSY:
    case ETIMEDOUT:
      return "the device is busy";
    case ENODEV:
    case ENOENT:
    case ENXIO:
      return "the device is gone";
    case EOPNOTSUPP:
    case EINVAL:
      return "the firmware does not tell it";
    default:
      return fmt::format("cannot be read: {}", std::strerror(error));
  }
}

double FileGauge::read(const Moment& moment) {
  const auto raw = m_file.readInteger(moment.nowS);
  m_hadNumber = raw.has_value();
  if (!raw) return kMissing;
  m_raw = *raw;
  const double value = static_cast<double>(m_raw) / m_divisor;
  if (isImpossible(m_quantity, m_raw, value)) return kMissing;
  if (m_quantity != Quantity::Temperature) return value;
  const bool jumps = std::isfinite(m_before) && std::abs(value - m_before) > kImpossibleJumpK;
  const bool isConfirmed = std::isfinite(m_withheld) && std::abs(value - m_withheld) <= kImpossibleJumpK;
  if (jumps && !isConfirmed) {
    m_withheld = value;
    return kMissing;
  }
  m_withheld = kMissing;
  m_before = value;
  return value;
}

std::string FileGauge::whyMissing() const {
  if (!m_hadNumber) return whyUnreadable(m_file.lastError());
  const double value = static_cast<double>(m_raw) / m_divisor;
  const std::string why = whyImpossible(m_quantity, m_raw, value);
  if (!why.empty() || !std::isfinite(m_withheld)) return why;
  return fmt::format("went from {:g} to {:g} at once, which no heat does", m_before, m_withheld);
}

bool FileGauge::isGone() const { return isGoneError(m_file.lastError()); }

void FileGauge::moveTo(const std::string& before, const std::string& now) {
  m_file = SysfsFile(movedPath(m_file.path(), before, now));
}

void Counter::take(double value, double timeS, double sleptS) {
  if (!std::isfinite(m_last)) {
    m_total = m_baseTotal = value;
    m_last = value;
    m_baseS = timeS;
    m_sleptS = sleptS;
    return;
  }
  const double passedS = timeS - m_baseS;
  double growth = value - m_last;
  if (growth < 0) growth += m_range;
  const bool mayHaveWrappedTwice = m_range > 0 && m_mostPerS > 0 && passedS * m_mostPerS > m_range;
  const bool isTooMuch = m_mostPerS > 0 && growth > m_mostPerS * std::max(passedS, kLeastS);
  m_last = value;
  if (growth < 0 || isTooMuch || mayHaveWrappedTwice || sleptS - m_sleptS > 1) {
    m_baseTotal = m_total;  // what was counted goes on; what happened in between is not known
    m_baseS = timeS;
    m_sleptS = sleptS;
    m_rate = kMissing;
    return;
  }
  m_total += growth;
  if (passedS < kLeastS) {
    m_rate = kMissing;  // too short for a rate: no value now, and not the one before again
    return;
  }
  m_rate = (m_total - m_baseTotal) / passedS;
  m_baseTotal = m_total;
  m_baseS = timeS;
}

void CounterFile::refresh(const Moment& moment) {
  if (m_sweep == moment.number) return;
  m_sweep = moment.number;
  const auto raw = m_file.readInteger(moment.nowS);
  m_isThere = raw.has_value();
  if (!raw) return;
  const double atS = bootTimeS();
  m_counter.take(static_cast<double>(*raw) / m_divisor, atS, atS - monotonicS());
}

double CounterGauge::read(const Moment& moment) {
  m_counter->refresh(moment);
  if (!m_counter->isThere()) return kMissing;
  return m_factor * (m_shows == Shows::Total ? m_counter->counter().total() : m_counter->counter().rate());
}

std::string CounterGauge::whyMissing() const {
  return m_counter->isThere() ? std::string() : whyUnreadable(m_counter->file().lastError());
}

bool CounterGauge::isGone() const { return isGoneError(m_counter->file().lastError()); }

void CounterGauge::moveTo(const std::string& before, const std::string& now) {
  SysfsFile& file = m_counter->file();
  if (const std::string moved = movedPath(file.path(), before, now); moved != file.path()) file = SysfsFile(moved);
}

double TextGauge::read(const Moment& moment) {
  const auto text = m_file.readText(moment.nowS);
  return text ? m_parse(*text) : kMissing;
}

std::string TextGauge::whyMissing() const { return whyUnreadable(m_file.lastError()); }

bool TextGauge::isGone() const { return isGoneError(m_file.lastError()); }

double highestOf(const std::vector<double>& values, const std::vector<size_t>& which) {
  double highest = kMissing;
  for (const size_t i : which) highest = std::fmax(highest, values[i]);
  return highest;
}

double meanOf(const std::vector<double>& values, const std::vector<size_t>& which) {
  double sum = 0;
  int count = 0;
  for (const size_t i : which) {
    if (!std::isfinite(values[i])) continue;
    sum += values[i];
    ++count;
  }
  return count > 0 ? sum / count : kMissing;
}

}  // namespace ash
