// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/drives.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>

#include "model/text.h"
#include "readings/gauges/root_path.h"
#include "system/clock.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kSectorMb = 512e-6;
constexpr double kWrapSectors = 4294967296.0;  // the fields may wrap at 32 bits
constexpr double kMostMbPerS = 200000;

/// The counts of all drives, read once in a sweep.
class DriveTable {
 public:
  explicit DriveTable(const std::string& root) : m_file(root + "/proc/diskstats") {}
  void refresh(const Moment& moment) {
    if (m_sweep == moment.number) return;
    m_sweep = moment.number;
    const auto text = m_file.viewText(moment.nowS);
    m_rows = text ? parseDriveCounts(*text) : std::vector<DriveCounts>();
    m_atS = bootTimeS();
  }
  const DriveCounts* find(const std::string& name) const {
    for (const DriveCounts& row : m_rows) {
      if (row.name == name) return &row;
    }
    return nullptr;
  }
  double atS() const { return m_atS; }

 private:
  SysfsFile m_file;
  std::vector<DriveCounts> m_rows;  // names point into the file's text
  double m_atS = 0;
  long long m_sweep = 0;
};

class DriveGauge : public Gauge {
 public:
  DriveGauge(std::shared_ptr<DriveTable> table, std::string name, uint64_t DriveCounts::*field, double scale,
             double most)
      : m_table(std::move(table)),
        m_name(std::move(name)),
        m_field(field),
        m_scale(scale),
        m_counter(kWrapSectors * scale, most) {}
  double read(const Moment& moment) override {
    m_table->refresh(moment);
    const DriveCounts* row = m_table->find(m_name);
    m_isThere = row != nullptr;
    if (!m_isThere) return kMissing;
    m_counter.take(static_cast<double>(row->*m_field) * m_scale, m_table->atS(), m_table->atS() - monotonicS());
    return m_counter.rate();
  }
  bool isGone() const override { return !m_isThere; }

 private:
  std::shared_ptr<DriveTable> m_table;
  std::string m_name;
  uint64_t DriveCounts::*m_field;
  double m_scale;
  Counter m_counter;
  bool m_isThere = true;
};

// Memory, files and what is made of other drives would be counted twice.
bool isMadeOfOthers(const std::string& name) {
  constexpr std::array kNames = {"loop", "ram", "zram", "dm-", "md", "sr", "fd", "nbd", "drbd"};
  return std::any_of(kNames.begin(), kNames.end(), [&](const char* start) { return name.starts_with(start); });
}

bool isWholeDrive(const std::string& root, const std::string& name) {
  std::error_code error;
  if (isMadeOfOthers(name)) return false;
  if (fs::exists(root + "/sys/block/" + name, error)) return true;
  // A tree without a list of drives: a partition has its drive's name in front, which is listed too.
  return !fs::exists(root + "/sys/block", error);
}

void addDrive(const std::string& root, const std::string& name, const std::shared_ptr<DriveTable>& table,
              Found& found) {
  std::error_code error;
  const fs::path folder = fs::canonical(root + "/sys/block/" + name + "/device", error);
  const DriveIdentity identity = error ? DriveIdentity() : readDriveIdentity(folder);
  const std::string key = error ? "drive:" + name : deviceKeyOf(root, folder);
  auto source = std::make_unique<GaugeSource>("throughput:" + (identity.key().empty() ? key : identity.key()));
  struct Row {
    const char* words;
    uint64_t DriveCounts::*field;
    const char* role;
  };
  for (const Row& row : {Row{"read", &DriveCounts::sectorsRead, "storage.read"},
                         Row{"write", &DriveCounts::sectorsWritten, "storage.write"}}) {
    Reading reading = makeReading(Quantity::Throughput, "throughput", fmt::format("{} {}", name, row.words));
    setPath(root, root + "/proc/diskstats", fmt::format("#{}.{}", name, row.words), reading);
    if (!identity.key().empty()) reading.id = identity.key() + "/" + row.words;
    reading.device = identity.model.empty() ? name : identity.model;
    reading.deviceKey = key;
    reading.place = identity.tail();
    reading.driver = "block";
    reading.role = row.role;
    source->add(std::move(reading), std::make_unique<DriveGauge>(table, name, row.field, kSectorMb, kMostMbPerS));
  }
  Reading busy = makeReading(Quantity::Percent, "load", name + " busy");
  setPath(root, root + "/proc/diskstats", "#" + name + ".busy", busy);
  if (!identity.key().empty()) busy.id = identity.key() + "/busy";
  busy.device = source->readings().front().device;
  busy.deviceKey = key;
  busy.place = identity.tail();
  busy.driver = "block";
  busy.meaning = "share of the time in which it had something to do";
  source->add(std::move(busy), std::make_unique<DriveGauge>(table, name, &DriveCounts::busyMs, 0.1, 200));
  found.sources.push_back(std::move(source));
}

Found findDrives(const std::string& root) {
  Found found;
  SysfsFile file(root + "/proc/diskstats");
  const auto text = file.readText(0);
  if (!text) return found;
  for (const DriveCounts& row : parseDriveCounts(*text)) {
    const std::string name(row.name);
    // Each source may be swept by a thread of its own, so it has a table of its own.
    if (isWholeDrive(root, name)) addDrive(root, name, std::make_shared<DriveTable>(root), found);
  }
  return found;
}

// SCSI: the serial number stands in vital product data page 0x80, after a header of four bytes.
std::string serialOfScsi(const fs::path& folder) {
  SysfsFile file((folder / "vpd_pg80").string());
  const std::string page = file.readText(0).value_or("");
  return page.size() > 4 ? std::string(trimmed(withoutControls(asUtf8(page.substr(4))))) : std::string();
}

}  // namespace

std::vector<DriveCounts> parseDriveCounts(std::string_view text) {
  std::vector<DriveCounts> rows;
  for (std::string_view line : splitText(text, '\n')) {
    std::array<std::string_view, 13> words;
    size_t count = 0;
    while (count < words.size()) {
      const size_t first = line.find_first_not_of(' ');
      if (first == std::string_view::npos) break;
      line.remove_prefix(first);
      words[count++] = line.substr(0, line.find(' '));
      line.remove_prefix(words[count - 1].size());
    }
    if (count < words.size()) continue;
    const auto number = [&](size_t i) {
      uint64_t value = 0;
      const auto end = words[i].data() + words[i].size();
      return std::from_chars(words[i].data(), end, value).ptr == end ? std::optional<uint64_t>(value) : std::nullopt;
    };
    const auto sectorsRead = number(5), sectorsWritten = number(9), busyMs = number(12);
    if (sectorsRead && sectorsWritten && busyMs) rows.push_back({words[2], *sectorsRead, *sectorsWritten, *busyMs});
  }
  return rows;
}

std::string DriveIdentity::tail() const {
  if (serial.empty()) return {};
  return "serial …" + serial.substr(serial.size() > 4 ? serial.size() - 4 : 0);
}

DriveIdentity readDriveIdentity(const fs::path& folder) {
  DriveIdentity identity;
  for (const char* file : {"model", "name"}) {
    if (identity.model.empty()) identity.model = readWords(folder / file);
  }
  for (const char* file : {"serial", "wwid"}) {
    if (identity.serial.empty()) identity.serial = readWords(folder / file);
  }
  if (identity.serial.empty()) identity.serial = serialOfScsi(folder);
  return identity;
}

std::vector<Finder> driveFinders(const std::string& root) {
  return {{"proc/diskstats", [root] { return findDrives(root); }}};
}

}  // namespace ash
