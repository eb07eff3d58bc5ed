// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/pci_links.h"

#include <algorithm>
#include <cmath>

#include "model/pattern.h"
#include "model/text.h"
#include "readings/gauges/root_path.h"
#include "readings/kernel/device_sleep.h"

namespace ash {
namespace fs = std::filesystem;
namespace {

constexpr double kPaceS = 5;  // a link changes rarely, and reading it asks the device's configuration space

// Base class of the PCI class code: what is worth a reading. Bridges are, where they belong to a card.
bool isWorthIt(const std::string& code) {
  for (const char* base : {"0x01", "0x02", "0x03", "0x12"}) {
    if (code.starts_with(base)) return true;
  }
  return false;
}

bool isGraphics(const fs::path& folder) { return readWords(folder / "class").starts_with("0x03"); }

// A card with a bridge of its own: the slot's link is the one of its outermost bridge that is not the machine's.
bool isBridgeOfACard(const fs::path& folder) {
  if (!readWords(folder / "class").starts_with("0x0604")) return false;
  const bool isRootPort = folder.parent_path().filename().string().starts_with("pci");
  if (isRootPort) return false;
  std::error_code error;
  for (fs::recursive_directory_iterator it(folder, fs::directory_options::skip_permission_denied, error), end;
       !error && it != end; it.increment(error)) {
    if (it.depth() > 2) it.disable_recursion_pending();
    std::error_code ignored;
    if (it->is_symlink(ignored)) continue;
    if (it->path().filename() == "class" && isGraphics(it->path().parent_path())) return true;
  }
  return false;
}

Reading describe(const std::string& root, const fs::path& folder, const char* file, const char* unit,
                 const char* name) {
  Reading reading = makeReading(unit, "link", name);
  setPath(root, folder / file, "", reading);
  const std::string product = readWords(folder / "product_name");
  reading.device = product.empty() ? "PCI " + folder.filename().string() : product;
  reading.deviceKey = deviceKeyOf(root, folder);
  reading.place = pciPlace(reading.path);
  reading.driver = "pci";
  return reading;
}

Found openLink(const std::string& root, const fs::path& folder) {
  Found found;
  const std::string speed = readSmallFile((folder / "current_link_speed").string()).value_or("");
  const auto width = readNumber(folder / "current_link_width");
  auto source = std::make_unique<GaugeSource>("link:" + deviceKeyOf(root, folder));
  const auto skip = [&](const char* file, const std::string& why) {
    found.skipped.push_back({pathBelowRoot(root, folder / file), why});
  };
  if (std::isfinite(parseLinkSpeed(speed))) {
    Reading reading = describe(root, folder, "current_link_speed", "GT/s", "PCIe link speed");
    const double most = parseLinkSpeed(readSmallFile((folder / "max_link_speed").string()).value_or(""));
    if (std::isfinite(most)) reading.limits["max"] = most;
    source->add(std::move(reading),
                std::make_unique<TextGauge>((folder / "current_link_speed").string(), parseLinkSpeed));
  } else {
    skip("current_link_speed", "\"" + std::string(trimmed(withoutControls(asUtf8(speed)))) + "\" is no speed");
  }
  if (width && *width > 0 && *width <= 32) {
    Reading reading = describe(root, folder, "current_link_width", "lanes", "PCIe link width");
    if (const auto most = readNumber(folder / "max_link_width"); most && *most > 0 && *most <= 32)
      reading.limits["max"] = static_cast<double>(*most);
    source->add(std::move(reading),
                std::make_unique<FileGauge>((folder / "current_link_width").string(), Quantity::Other, 1));
  } else if (fs::exists(folder / "current_link_width")) {
    skip("current_link_width", width ? "the link has no lanes" : "holds no number");
  }
  if (source->isEmpty()) return found;
  source->setPaceS(kPaceS);
  if (const auto file = sleepFileOf(folder)) source->setSleepFile(*file);
  found.sources.push_back(std::move(source));
  return found;
}

}  // namespace

double parseLinkSpeed(const std::string& text) {
  const std::string_view words = trimmed(text);
  const size_t blank = words.find(' ');
  if (blank == std::string_view::npos || !words.substr(blank + 1).starts_with("GT/s")) return kMissing;
  const auto speed = parseNumber(words.substr(0, blank));
  return speed && *speed > 0 ? *speed : kMissing;
}

std::string pciPlace(const std::string& path) {
  static const Pattern kAddress = Pattern::own("[0-9a-f]{4}:([0-9a-f]{2}:[0-9a-f]{2}\\.[0-7])");
  std::string last;
  for (const std::string_view part : splitText(path, '/')) {
    if (const auto match = kAddress.matchWhole(part)) last = (*match)[1];
  }
  return last.empty() ? last : "slot " + last;
}

std::vector<Finder> pciLinkFinders(const std::string& root) {
  std::vector<fs::path> folders;
  std::error_code error;
  for (fs::directory_iterator it(root + "/sys/bus/pci/devices", error), end; !error && it != end; it.increment(error)) {
    std::error_code broken;
    const fs::path folder = fs::canonical(it->path(), broken);
    if (broken || !fs::exists(folder / "current_link_width", broken)) continue;
    if (isWorthIt(readWords(folder / "class")) || isBridgeOfACard(folder)) folders.push_back(folder);
  }
  std::sort(folders.begin(), folders.end());
  std::vector<Finder> finders;
  for (const fs::path& folder : folders)
    finders.push_back({pathBelowRoot(root, folder), [root, folder] { return openLink(root, folder); }});
  return finders;
}

}  // namespace ash
