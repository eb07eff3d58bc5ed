// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/watch/kernel_log.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <cstdint>

#include "readings/gauges/sysfs_file.h"

namespace ash {
namespace {

constexpr size_t kMostRecords = 5000;
constexpr size_t kLongestText = 400;

/// All of `words` (lower case, separated by '|') must stand in the text.
struct Sign {
  std::string_view words;
  std::string_view failure;
};
// In the kernel's own words; the first that fits counts.
constexpr Sign kSigns[] = {
    {"out of memory: killed process", "no memory"},
    {"[hardware error]", "machine check"},
    {"machine check", "machine check"},
    {"edac|error", "memory error"},
    {"pcie bus error", "bus error"},
    {"aer:|error", "bus error"},
    {"gpu hang", "graphics reset"},
    {"gpu reset", "graphics reset"},
    {"gpu recover", "graphics reset"},
    {"resetting chip", "graphics reset"},
    {" ring |timeout", "graphics reset"},
    {"i/o error|dev", "drive error"},
    {"medium error", "drive error"},
    {"ata|failed command", "drive error"},
    {"ata|exception emask", "drive error"},
    {"nvme|timeout", "drive error"},
    {"nvme|controller is down", "drive error"},
    {"nvme|resetting controller", "drive error"},
    {"temperature above threshold", "heat"},
    {"critical temperature reached", "heat"},
    {"soft lockup", "lockup"},
    {"hard lockup", "lockup"},
    {"self-detected stall", "lockup"},
    {"undervoltage detected", "supply voltage"},
    {"under-voltage detected", "supply voltage"},
};

bool hasAll(std::string_view text, std::string_view words) {
  while (!words.empty()) {
    const size_t end = words.find('|');
    if (text.find(words.substr(0, end)) == std::string_view::npos) return false;
    if (end == std::string_view::npos) break;
    words.remove_prefix(end + 1);
  }
  return true;
}

std::string printableText(std::string_view text) {
  std::string clean;
  for (const char c : text.substr(0, kLongestText)) clean += c >= 0x20 && c < 0x7F ? c : ' ';
  return clean;
}

}  // namespace

std::optional<KernelRecord> parseKernelRecord(std::string_view line) {
  const size_t semicolon = line.find(';');
  if (line.empty() || line[0] == ' ' || semicolon == std::string_view::npos) return std::nullopt;
  std::array<std::string_view, 3> fields;
  std::string_view head = line.substr(0, semicolon);
  for (std::string_view& field : fields) {
    const size_t comma = head.find(',');
    field = head.substr(0, comma);
    head = comma == std::string_view::npos ? std::string_view() : head.substr(comma + 1);
  }
  const auto priority = parseKernelInteger(fields[0]);
  const auto microseconds = parseKernelInteger(fields[2]);
  // The upper bits are the facility; 0 is the kernel itself, programs that write into the log have another one.
  if (!priority || *priority < 0 || (*priority >> 3) != 0 || !microseconds || *microseconds < 0) return std::nullopt;
  return KernelRecord{static_cast<double>(*microseconds) * 1e-6, printableText(line.substr(semicolon + 1))};
}

std::string_view failureIn(std::string_view text) {
  std::string lower(text);
  std::transform(lower.begin(), lower.end(), lower.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
  for (const Sign& sign : kSigns) {
    if (hasAll(lower, sign.words)) return sign.failure;
  }
  return {};
}

KernelLog::KernelLog(const std::string& root) {
  m_descriptor = open((root + "/dev/kmsg").c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC);
  const bool needsRights = m_descriptor < 0 && (errno == EACCES || errno == EPERM);
  m_state = m_descriptor >= 0 ? "read" : needsRights ? "needs rights" : "not there";
}

KernelLog::~KernelLog() {
  if (m_descriptor >= 0) close(m_descriptor);
}

void KernelLog::skipPast() {
  if (m_descriptor >= 0) lseek(m_descriptor, 0, SEEK_END);
  m_rest.clear();
}

std::vector<KernelRecord> KernelLog::take() {
  std::vector<KernelRecord> records;
  std::array<char, 8192> chunk;  // the device gives one whole record a read; a file gives what is there
  while (m_descriptor >= 0 && records.size() < kMostRecords) {
    const ssize_t length = read(m_descriptor, chunk.data(), chunk.size());
    if (length < 0 && (errno == EPIPE || errno == EINTR))
      continue;  // EPIPE: records were overwritten before they were read
    if (length <= 0) {
      if (length < 0 && errno == EPERM) m_state = "needs rights";
      break;
    }
    m_rest.append(chunk.data(), static_cast<size_t>(length));
    for (size_t end = m_rest.find('\n'); end != std::string::npos; end = m_rest.find('\n')) {
      if (auto record = parseKernelRecord(std::string_view(m_rest).substr(0, end)))
        records.push_back(std::move(*record));
      m_rest.erase(0, end + 1);
    }
    if (m_rest.size() > chunk.size()) m_rest.clear();
  }
  return records;
}

std::string killForMemory(const std::string& root, int pid) {
  KernelLog log(root);
  const std::string words = fmt::format("illed process {} ", pid);
  std::string found;
  for (auto records = log.take(); !records.empty(); records = log.take()) {
    for (const KernelRecord& record : records) {
      if (record.text.find(words) != std::string::npos) found = record.text;
    }
  }
  return found;
}

}  // namespace ash
